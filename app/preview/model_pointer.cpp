// The hand on the lit model: turning, panning, choosing places and parts, the wipe's grip.
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/preview/model_view.h"

namespace kettle {

SurfacePoint ModelView::pointAt(QPointF pixel) const {
    if (!m_scene) return {};
    const QSize one = m_overlay.pictureSize(size());
    const QPointF at = m_overlay.pictureAt(pixel, size());
    return surfaceAt(*m_scene, m_camera, static_cast<float>(one.width()) / static_cast<float>(one.height()),
                     static_cast<float>(at.x()), static_cast<float>(at.y()));
}

std::optional<QPointF> ModelView::placeAt(QPointF pixel) const {
    const SurfacePoint s = pointAt(pixel);
    if (!s.found) return std::nullopt;
    return QPointF(static_cast<double>(s.u), static_cast<double>(s.v));
}

void ModelView::startPicking() {
    m_isPicking = true;
    setCursor(Qt::CrossCursor);
}

void ModelView::stopPicking() {
    if (!m_isPicking) return;
    m_isPicking = false;
    unsetCursor();
    Q_EMIT pickingStopped();
}

void ModelView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (m_isPicking && event->button() == Qt::LeftButton) {
        // Beside the model there is nothing to pick; the choice stays open.
        const auto place = placeAt(event->position());
        if (!place) return;
        stopPicking();
        constexpr double kReach = 0.003;  // a few texels, so that one odd one does not decide
        Q_EMIT picked(QRectF(place->x() - kReach, place->y() - kReach, 2 * kReach, 2 * kReach));
        return;
    }
    if (event->button() == Qt::RightButton && m_scene) {
        const SurfacePoint at = pointAt(event->position());
        if (at.found)
            Q_EMIT actionsWanted({static_cast<double>(at.u), static_cast<double>(at.v)},
                                 QString::fromStdString(m_scene->mesh().parts[at.part]),
                                 event->globalPosition().toPoint());
        return;
    }
    if (event->button() == Qt::LeftButton && m_overlay.press(event->position(), size())) return;
    if (event->button() == Qt::LeftButton && m_overlay.isOn() && m_overlay.isOverLargest(event->position()))
        return goToLargest();
    if (event->button() == Qt::LeftButton && (event->modifiers() & Qt::ControlModifier) != 0 && m_scene) {
        const SurfacePoint at = pointAt(event->position());
        if (at.found) Q_EMIT partChosen(QString::fromStdString(m_scene->mesh().parts[at.part]));
        return;
    }
    if (event->button() == Qt::LeftButton && event->modifiers() == Qt::NoModifier && showsFrame() &&
        m_frameHand.press(event->position()))
        return;
    m_last = event->pos();
    m_turning = event->button() == Qt::LeftButton && (event->modifiers() & Qt::ShiftModifier) == 0;
    m_panning = event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && !m_turning);
}

void ModelView::mouseMoveEvent(QMouseEvent* event) {
    if (m_overlay.move(event->position(), size())) return update();
    if (m_frameHand.drag(event->position(), (event->modifiers() & Qt::ControlModifier) != 0)) return update();
    if (!m_turning && !m_panning) {
        const auto shape = showsFrame() ? m_frameHand.hover(event->position()) : std::nullopt;
        if (showsFrame()) update();
        if (!m_isPicking)
            setCursor(shape                                             ? *shape
                      : m_overlay.isOverGrip(event->position(), size()) ? Qt::SizeHorCursor
                      : m_overlay.isOn() && m_overlay.isOverLargest(event->position())
                          ? Qt::PointingHandCursor
                          : Qt::ArrowCursor);
        if (const auto place = placeAt(event->position()))
            Q_EMIT pointed(place->x(), place->y());
        else
            Q_EMIT pointerLeft();
        return;
    }
    const QPoint d = event->pos() - m_last;
    m_last = event->pos();
    dragCamera(d);
}

void ModelView::mouseReleaseEvent(QMouseEvent*) {
    m_overlay.release();
    m_frameHand.release();
    m_turning = m_panning = false;
}

void ModelView::leaveEvent(QEvent*) {
    m_frameHand.leave();
    update();
    Q_EMIT pointerLeft();
}

void ModelView::wheelEvent(QWheelEvent* event) {
    m_camera.distance =
        std::clamp(m_camera.distance * static_cast<float>(std::pow(0.88, event->angleDelta().y() / 120.0)),
                   1.0f, 20000.0f);
    ask();
}

void ModelView::keyPressEvent(QKeyEvent* event) {
    // Arrows alone walk the board; with Shift they turn the model.
    const bool turns = (event->modifiers() & Qt::ShiftModifier) != 0;
    if (const QString text = event->text();
        !m_session.chosenObjects().empty() && text.size() == 1 && text[0].isDigit())
        return Q_EMIT numberStarted(text);
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            if (!turns) return QWidget::keyPressEvent(event);
            if (event->key() == Qt::Key_Left) m_camera.turn -= 8;
            if (event->key() == Qt::Key_Right) m_camera.turn += 8;
            if (event->key() == Qt::Key_Up) m_camera.tilt = std::min(85.0f, m_camera.tilt + 6);
            if (event->key() == Qt::Key_Down) m_camera.tilt = std::max(-85.0f, m_camera.tilt - 6);
            break;
        case Qt::Key_Plus:
            m_camera.distance *= 0.9f;
            break;
        case Qt::Key_Minus:
            m_camera.distance *= 1.1f;
            break;
        case Qt::Key_Home:
            return frameModel();
        default:
            return QWidget::keyPressEvent(event);
    }
    ask();
}

}  // namespace kettle
