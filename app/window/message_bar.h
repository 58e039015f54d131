// A message over the window that goes by itself: what was done, or what went wrong and what to do. Errors
// stay until closed.
#pragma once

#include <QFrame>

class QLabel;
class QTimer;

namespace kettle {

class MessageBar final : public QFrame {
    Q_OBJECT

public:
    explicit MessageBar(QWidget* parent);
    void tell(const QString& sentence, bool isError);
    QString text() const;
    void place();

private:
    QLabel *m_mark, *m_text;
    QTimer* m_timer;
};

}  // namespace kettle
