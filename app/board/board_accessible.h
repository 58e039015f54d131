// The board for screen readers: every card is a child of its own, with its name, what it does, its place and
// its state; pressing one chooses it.
#pragma once

#include <QAccessibleWidget>
#include <QPointer>
#include <map>
#include <string>

namespace kettle {

class BoardView;

class BoardAccessible final : public QAccessibleWidget {
public:
    explicit BoardAccessible(BoardView* board);
    ~BoardAccessible() override;
    /// Makes every BoardView known this way; once is enough.
    static void install();

    int childCount() const override;
    QAccessibleInterface* child(int index) const override;
    int indexOfChild(const QAccessibleInterface* child) const override;
    QAccessibleInterface* childAt(int x, int y) const override;
    QAccessibleInterface* focusChild() const override;

private:
    QAccessibleInterface* cardOf(const std::string& step) const;
    QPointer<BoardView> m_board;
    mutable std::map<std::string, QAccessible::Id> m_cards;  ///< made when asked for
};

}  // namespace kettle
