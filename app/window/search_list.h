// Find in the project: type a word, and every step, line, layer and look whose name, value or note has it is
// listed.
#pragma once

#include <QFrame>

#include "app/session/session.h"

class QLineEdit;
class QListWidget;

namespace kettle {

class SearchList final : public QFrame {
    Q_OBJECT

public:
    SearchList(Session& session, QWidget* parent);
    void open();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void accept();

    Session& m_session;
    QLineEdit* m_word;
    QListWidget* m_list;
};

/// A place that was found: a step to choose, or a look to show, and the words for it.
struct FoundPlace {
    std::string step, look;
    QString words;
};
/// In the order of the project: its lines with their steps, then its looks. Nothing for an empty word.
std::vector<FoundPlace> findInProject(const Session& session, const QString& word);

}  // namespace kettle
