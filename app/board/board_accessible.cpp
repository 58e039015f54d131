#include "app/board/board_accessible.h"

#include <QWindow>
#include <algorithm>

#include "app/board/board_view.h"

namespace kettle {
namespace {

class CardAccessible final : public QAccessibleInterface, public QAccessibleActionInterface {
public:
    CardAccessible(BoardView* board, std::string step) : m_board(board), m_step(std::move(step)) {}
    const std::string& step() const { return m_step; }

    bool isValid() const override { return m_board != nullptr && !m_board->cardRect(m_step).isNull(); }
    QObject* object() const override { return nullptr; }
    QWindow* window() const override { return m_board->window()->windowHandle(); }
    QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(m_board); }
    QAccessibleInterface* child(int) const override { return nullptr; }
    QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    QAccessible::Role role() const override { return QAccessible::ListItem; }
    void setText(QAccessible::Text, const QString&) override {}

    QString text(QAccessible::Text kind) const override {
        if (kind == QAccessible::Name) return m_board->spokenName(m_step);
        return kind == QAccessible::Description ? m_board->tipOf(m_step) : QString();
    }
    QRect rect() const override {
        const QRect r = m_board->cardRect(m_step);
        return {m_board->mapToGlobal(r.topLeft()), r.size()};
    }
    QAccessible::State state() const override {
        QAccessible::State s;
        const bool isChosen = m_board->isChosen(m_step);
        s.selectable = s.focusable = true;
        s.selected = isChosen;
        s.focused = isChosen && m_board->hasFocus();
        s.invisible = !m_board->isVisible();
        s.offscreen = m_board->visibleRegion().intersected(m_board->cardRect(m_step)).isEmpty();
        return s;
    }

    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::ActionInterface ? static_cast<QAccessibleActionInterface*>(this)
                                                    : nullptr;
    }
    QStringList actionNames() const override { return {pressAction()}; }
    void doAction(const QString& name) override {
        if (name == pressAction()) m_board->choose(m_step);
    }
    QStringList keyBindingsForAction(const QString&) const override { return {}; }

private:
    QPointer<BoardView> m_board;
    std::string m_step;
};

QAccessibleInterface* make(const QString&, QObject* object) {
    auto* board = qobject_cast<BoardView*>(object);
    return board != nullptr ? new BoardAccessible(board) : nullptr;
}

}  // namespace

BoardAccessible::BoardAccessible(BoardView* board)
    : QAccessibleWidget(board, QAccessible::List), m_board(board) {}

BoardAccessible::~BoardAccessible() {
    for (const auto& [step, id] : m_cards) QAccessible::deleteAccessibleInterface(id);
}

void BoardAccessible::install() {
    static const bool once = [] {
        QAccessible::installFactory(make);
        return true;
    }();
    Q_UNUSED(once);
}

QAccessibleInterface* BoardAccessible::cardOf(const std::string& step) const {
    auto at = m_cards.find(step);
    if (at == m_cards.end())
        at =
            m_cards.emplace(step, QAccessible::registerAccessibleInterface(new CardAccessible(m_board, step)))
                .first;
    return QAccessible::accessibleInterface(at->second);
}

int BoardAccessible::childCount() const {
    return static_cast<int>(m_board->steps().size());
}

QAccessibleInterface* BoardAccessible::child(int index) const {
    const std::vector<std::string> steps = m_board->steps();
    return index < 0 || index >= static_cast<int>(steps.size())
               ? nullptr
               : cardOf(steps[static_cast<std::size_t>(index)]);
}

int BoardAccessible::indexOfChild(const QAccessibleInterface* child) const {
    const std::vector<std::string> steps = m_board->steps();
    for (std::size_t i = 0; i < steps.size(); ++i)
        if (const auto known = m_cards.find(steps[i]);
            known != m_cards.end() && QAccessible::accessibleInterface(known->second) == child)
            return static_cast<int>(i);
    return -1;
}

QAccessibleInterface* BoardAccessible::childAt(int x, int y) const {
    const QPoint at = m_board->mapFromGlobal(QPoint(x, y));
    for (const std::string& step : m_board->steps())
        if (m_board->cardRect(step).contains(at)) return cardOf(step);
    return nullptr;
}

QAccessibleInterface* BoardAccessible::focusChild() const {
    for (const std::string& step : m_board->steps())
        if (m_board->isChosen(step)) return m_board->hasFocus() ? cardOf(step) : nullptr;
    return nullptr;
}

}  // namespace kettle
