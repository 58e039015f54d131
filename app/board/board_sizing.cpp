// How large the board is, and when it is laid out anew.
#include <QEvent>
#include <algorithm>
#include <utility>

#include "app/board/board_view.h"
#include "app/board/changed_steps.h"
#include "app/board/layout_alike.h"

namespace kettle {

using namespace board;

int BoardView::widthToFill() const {
    return static_cast<int>(m_area.viewport()->width() / m_zoom);
}

bool BoardView::isLaidOut() const {
    const auto fills = [this](int width) { return std::max(width, m_layout.narrowest); };
    return m_laidOut && fills(m_laidOut->width) == fills(widthToFill()) &&
           board::laysOutAlike(m_laidOut->options, m_options) &&
           board::laysOutAlike(m_laidOut->project, m_session.boardProject());
}

void BoardView::refresh() {
    m_options.openRecipes = m_session.openRecipes();
    const std::optional<Project> told = std::exchange(m_told, m_session.boardProject());
    if (isLaidOut()) {
        m_foot->refresh();
        const auto changed = told ? changedSteps(*told, *m_told) : std::nullopt;
        return changed ? updateSteps(*changed) : update();
    }
    Layout before = shownLayout();
    const std::size_t cards = m_layout.cards.size();
    updateSize();
    // Only a change of the network slides; a control's change leaves everything where it is.
    if (cards > 0 && isVisible() && (cards != m_layout.cards.size() || before.size != m_layout.size)) {
        m_before = std::move(before);
        m_slide->start();
    }
    update();
}

Layout BoardView::shownLayout() const {
    if (m_slide->state() != QAbstractAnimation::Running) return m_layout;
    return between(m_before, m_layout, m_slide->currentValue().toDouble());
}

void BoardView::updateSize() {
    m_options.openRecipes = m_session.openRecipes();
    m_options.steps = m_session.steps();  // the project's recipes are among them
    if (!isLaidOut()) {
        m_laidOut = LaidOut{m_session.boardProject(), widthToFill(), m_options};
        m_layout = layOut(m_laidOut->project, m_laidOut->width, m_options);
    }
    m_foot->refresh();
    const int footHeight = m_foot->isHidden() ? 0 : BoardFoot::kHeight;
    const QSize wanted(static_cast<int>(m_layout.size.width() * m_zoom),
                       static_cast<int>(m_layout.size.height() * m_zoom) + footHeight);
    resize(wanted.expandedTo(m_area.viewport()->size()));
    m_foot->setGeometry(0, wanted.height() - footHeight, m_area.viewport()->width(), footHeight);
}

bool BoardView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_area.viewport() && event->type() == QEvent::Resize) {
        // The area lays its viewport out in the same event; measure it afterwards.
        QMetaObject::invokeMethod(
            this, [this] { updateSize(); }, Qt::QueuedConnection);
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace kettle
