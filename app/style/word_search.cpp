#include "app/style/word_search.h"

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QListView>

namespace kettle {
namespace {

class WordSearchList final : public QListView {
public:
    using QListView::QListView;

    /// What is typed without a pause is one text; the same letter again goes on to the next choice.
    void keyboardSearch(const QString& typed) override {
        const bool goesOn = m_since.isValid() && m_since.elapsed() < QApplication::keyboardInputInterval();
        const bool isAgain = goesOn && m_text == typed;
        m_text = goesOn && !isAgain ? m_text + typed : typed;
        m_since.start();
        const int count = model()->rowCount(), from = std::max(0, currentIndex().row());
        // A longer text may still mean the choice at hand.
        for (int i = isAgain || !goesOn ? 1 : 0; i <= count; ++i) {
            const QModelIndex index = model()->index((from + i) % count, 0);
            if (!hasWord(index.data().toString()) || (index.flags() & Qt::ItemIsEnabled) == 0) continue;
            setCurrentIndex(index);
            return;
        }
    }

private:
    bool hasWord(const QString& choice) const {
        for (qsizetype at = choice.indexOf(m_text, 0, Qt::CaseInsensitive); at >= 0;
             at = choice.indexOf(m_text, at + 1, Qt::CaseInsensitive))
            if (at == 0 || !choice[at - 1].isLetterOrNumber()) return true;
        return false;
    }
    QString m_text;
    QElapsedTimer m_since;
};

}  // namespace

void searchByWords(QComboBox& box) {
    box.setView(new WordSearchList(&box));
}

}  // namespace kettle
