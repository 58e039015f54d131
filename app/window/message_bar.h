// A message over the window that goes by itself: what was done, or what went wrong and what to do. Errors
// stay until closed.
#pragma once

#include <QFrame>

class QLabel;
class QTimer;
class QToolButton;

namespace kettle {

class MessageBar final : public QFrame {
    Q_OBJECT

public:
    explicit MessageBar(QWidget* parent);
    /// Goes by itself after some seconds, unless it is an error or has several lines.
    void tell(const QString& sentence, bool isError);
    /// How far something is; stays until the next message.
    void tellProgress(const QString& sentence);
    QString text() const;
    void place();

private:
    void showWords(const QString& mark, bool isError, const QString& sentence);
    QLabel *m_mark, *m_text;
    QToolButton* m_close;
    QTimer* m_timer;
};

}  // namespace kettle
