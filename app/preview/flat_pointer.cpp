// The hand on the flat map: panning, zooming, picking a place or an area, the wipe's grip.
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/preview/flat_view.h"

namespace kettle {

void FlatView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    m_last = event->pos();
    if (event->button() == Qt::RightButton) {
        const QPointF uv = placeAt(event->position());
        Q_EMIT actionsWanted(uv, event->globalPosition().toPoint());
        return;
    }
    if (!m_isPicking && m_overlay.press(event->position(), size())) return;
    if (!m_isPicking && m_overlay.isOn() && m_overlay.isOverLargest(event->position()) &&
        m_overlay.compared()) {
        // To where the two differ most, four times as near.
        const QSize one = m_overlay.pictureSize(size());
        const QPointF at = m_overlay.compared()->largestAt - QPointF(0.5, 0.5);
        m_centre += QPointF(at.x() * one.width(), -at.y() * one.height()) / scale();
        m_pixelsPerTile = std::min(scale() * 4, 1000000.0);
        return ask();
    }
    if (hasFrame() && event->button() == Qt::LeftButton && m_frameHand.press(event->position())) return;
    if (m_isPicking) m_band = QRect(event->pos(), QSize(1, 1));
}

void FlatView::mouseReleaseEvent(QMouseEvent*) {
    m_overlay.release();
    m_frameHand.release();
    update();
    if (!m_band) return;
    QRect drawn = std::exchange(m_band, std::nullopt)->normalized();
    // A click means the few pixels around it, so that one odd texel does not decide.
    if (drawn.width() < 4 || drawn.height() < 4) drawn = QRect(drawn.center() - QPoint(3, 3), QSize(7, 7));
    const QPointF low = placeAt(QPointF(drawn.left(), drawn.bottom() + 1)),
                  high = placeAt(QPointF(drawn.right() + 1, drawn.top()));
    stopPicking();
    Q_EMIT picked(QRectF(low, high));
}

void FlatView::mouseMoveEvent(QMouseEvent* event) {
    if (m_band) {
        m_band->setBottomRight(event->pos());
        return update();
    }
    if (m_overlay.move(event->position(), size())) return update();
    if (m_frameHand.drag(event->position(), (event->modifiers() & Qt::ControlModifier) != 0)) return update();
    if ((event->buttons() & (Qt::LeftButton | Qt::MiddleButton)) != 0) {
        const QPointF before = placeAt(m_last), now = placeAt(event->position());
        m_centre -= now - before;
        m_last = event->pos();
        if (m_pixelsPerTile <= 0) m_pixelsPerTile = scale();
        ask();
        return;
    }
    const auto shape = hasFrame() ? m_frameHand.hover(event->position()) : std::nullopt;
    if (!m_isPicking) shape ? setCursor(*shape) : unsetCursor();
    if (m_frameHand.frame()) update();
    const QPointF uv = placeAt(event->position());
    Q_EMIT pointed(uv.x(), uv.y());
}

void FlatView::enterEvent(QEnterEvent*) {
    update();
}

void FlatView::leaveEvent(QEvent*) {
    m_frameHand.leave();
    update();
    Q_EMIT pointerLeft();
}

void FlatView::zoomAt(QPointF pixel, double factor) {
    const QPointF kept = placeAt(pixel);
    m_pixelsPerTile = std::clamp(scale() * factor, 40.0, 1000000.0);
    m_centre += kept - placeAt(pixel);
    ask();
}

void FlatView::wheelEvent(QWheelEvent* event) {
    zoomAt(event->position(), std::pow(1.2, event->angleDelta().y() / 120.0));
}

void FlatView::keyPressEvent(QKeyEvent* event) {
    const double step = 0.1 * std::min(width(), height()) / scale();
    // Arrows alone walk the board; with Shift they move the map.
    const bool moves = (event->modifiers() & Qt::ShiftModifier) != 0;
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            if (!moves) return QWidget::keyPressEvent(event);
            if (event->key() == Qt::Key_Left) m_centre.rx() -= step;
            if (event->key() == Qt::Key_Right) m_centre.rx() += step;
            if (event->key() == Qt::Key_Up) m_centre.ry() += step;
            if (event->key() == Qt::Key_Down) m_centre.ry() -= step;
            break;
        case Qt::Key_Plus:
            return zoomAt(QRectF(rect()).center(), 1.2);
        case Qt::Key_Minus:
            return zoomAt(QRectF(rect()).center(), 1 / 1.2);
        case Qt::Key_Home:
            return fit();
        default:
            return QWidget::keyPressEvent(event);
    }
    ask();
}

}  // namespace kettle
