#include "app/window/board_keys.h"

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QMenuBar>

#include "app/board/board_view.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"

namespace kettle {
namespace {

bool isTyping(const QWidget& widget) {
    return widget.testAttribute(Qt::WA_InputMethodEnabled);
}

/// Sheets and drawers have their keys for themselves.
bool isInSheet(const QWidget& widget) {
    for (const QWidget* w = &widget; w != nullptr && !w->isWindow(); w = w->parentWidget())
        if (w->objectName() == theme::kSheet || w->objectName() == theme::kDrawer) return true;
    return false;
}

bool isPicture(const QWidget& widget) {
    return qobject_cast<const ModelView*>(&widget) != nullptr ||
           qobject_cast<const FlatView*>(&widget) != nullptr;
}

}  // namespace

BoardKeys::BoardKeys(QWidget& window, BoardView& board, std::function<bool()> leave)
    : QObject(&window), m_window(window), m_board(board), m_leave(std::move(leave)) {
    QApplication::instance()->installEventFilter(this);
}

bool BoardKeys::reachesBoard(const QWidget& from, const QKeyEvent& key) const {
    // What the board leaves alone climbs to those around it, and must not come back.
    if (&from == &m_board || m_board.isAncestorOf(&from) || from.isAncestorOf(&m_board)) return false;
    const bool isPlain = (key.modifiers() & ~Qt::KeypadModifier) == Qt::NoModifier;
    switch (key.key()) {
        case Qt::Key_Slash:
            return (key.modifiers() & (Qt::ControlModifier | Qt::AltModifier)) == 0;
        case Qt::Key_X:
        case Qt::Key_Escape:
        case Qt::Key_Comma:
        case Qt::Key_Period:
        case Qt::Key_O:
        case Qt::Key_R:
        case Qt::Key_M:
            return isPlain;
        case Qt::Key_F2:
            return isPlain && qobject_cast<const LookButton*>(&from) == nullptr;  // that names its own look
        case Qt::Key_Space:
            // What was reached by Tab is pressed by it.
            return isPlain && qobject_cast<const QAbstractButton*>(&from) == nullptr &&
                   qobject_cast<const QComboBox*>(&from) == nullptr &&
                   (qobject_cast<const LookButton*>(&from) == nullptr || !from.hasFocus());
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            // A control that was reached by Tab is moved by them; a click does not give it the keys.
            return isPlain && (isPicture(from) || qobject_cast<const LookButton*>(&from) != nullptr ||
                               from.focusPolicy() == Qt::NoFocus);
        default:
            return false;
    }
}

bool BoardKeys::eventFilter(QObject* watched, QEvent* event) {
    auto* widget = qobject_cast<QWidget*>(watched);
    if (widget == nullptr || widget->window() != &m_window || QApplication::activePopupWidget() != nullptr ||
        qobject_cast<QMenuBar*>(widget) != nullptr)
        return false;
    if (event->type() == QEvent::MouseButtonPress) {
        // Who typed and goes on elsewhere has done typing.
        QWidget* typing = QApplication::focusWidget();
        if (typing != nullptr && isTyping(*typing) && !isInSheet(*typing) && !isTyping(*widget) &&
            !isInSheet(*widget) && !typing->isAncestorOf(widget))
            m_board.setFocus();
        return false;
    }
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::KeyRelease) return false;
    auto* key = static_cast<QKeyEvent*>(event);
    if (isTyping(*widget) || isInSheet(*widget)) return false;
    if (event->type() == QEvent::KeyPress && key->key() == Qt::Key_Escape && m_leave && m_leave())
        return true;
    if (!reachesBoard(*widget, *key)) return false;
    QKeyEvent passed(key->type(), key->key(), key->modifiers(), key->text(), key->isAutoRepeat());
    QApplication::sendEvent(&m_board, &passed);
    return true;
}

}  // namespace kettle
