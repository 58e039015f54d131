// The frame by which what lies in the texture is moved, turned and sized in the flat map.
#include <QMouseEvent>

#include "app/preview/flat_view.h"

namespace kettle {

std::optional<PlacementFrame> FlatView::frame() const {
    if (m_overlay.isOn() || m_isPicking) return std::nullopt;
    const auto step = m_session.shownStep(m_session.selectedStep());
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = step && line != nullptr ? m_session.steps().find(step->type) : nullptr;
    if (spec == nullptr) return std::nullopt;
    const auto numbers = PlacementNumbers::of(*spec, StepView(*spec, *step, line->kind));
    return numbers ? std::optional(PlacementFrame(*numbers)) : std::nullopt;
}

bool FlatView::pressFrame(QPointF pixel) {
    m_framed = frame();
    if (!m_framed) return false;
    m_grip = m_framed->gripAt(pixel, [this](QPointF uv) { return pixelOf(uv); });
    if (m_grip == PlacementFrame::Grip::None) return false;
    m_gripFrom = placeAt(pixel);
    m_gripGesture = m_session.newGesture();
    return true;
}

bool FlatView::dragFrame(QPointF pixel, bool whole) {
    if (m_grip == PlacementFrame::Grip::None || !m_framed) return false;
    const PlacementNumbers n = m_framed->dragged(m_grip, m_gripFrom, placeAt(pixel), whole);
    const std::string step = m_session.selectedStep();
    const auto set = [&](const char* control, double value, double before) {
        if (value != before) m_session.setControl(step, control, value, m_gripGesture);
    };
    const auto now = frame();
    if (!now) return true;
    set("repeats", n.repeats, now->numbers().repeats);
    set("rotation", n.rotation, now->numbers().rotation);
    set("offset-u", n.offset.x(), now->numbers().offset.x());
    set("offset-v", n.offset.y(), now->numbers().offset.y());
    update();
    return true;
}

void FlatView::hoverFrame(QPointF pixel) {
    const auto shown = frame();
    const auto grip =
        shown ? shown->gripAt(pixel, [this](QPointF uv) { return pixelOf(uv); }) : PlacementFrame::Grip::None;
    if (grip == PlacementFrame::Grip::None)
        unsetCursor();
    else
        setCursor(grip == PlacementFrame::Grip::Corner ? Qt::SizeBDiagCursor
                  : grip == PlacementFrame::Grip::Knob ? Qt::PointingHandCursor
                                                       : Qt::SizeAllCursor);
    m_hovered = grip;
    if (shown) update();
}

QString FlatView::frameWords(const PlacementNumbers& n) const {
    const auto active = m_grip != PlacementFrame::Grip::None ? m_grip : m_hovered;
    switch (active) {
        case PlacementFrame::Grip::Corner:
            return m_squareSize > 0
                       ? tr("%1× · %2 cm").arg(n.repeats, 0, 'f', 2).arg(m_squareSize / n.repeats, 0, 'f', 1)
                       : tr("%1×").arg(n.repeats, 0, 'f', 2);
        case PlacementFrame::Grip::Knob:
            return tr("%1°").arg(n.rotation, 0, 'f', 1);
        case PlacementFrame::Grip::Origin:
            return tr("%1 across, %2 up").arg(n.offset.x(), 0, 'f', 3).arg(n.offset.y(), 0, 'f', 3);
        case PlacementFrame::Grip::None:
            return {};
    }
    return {};
}

void FlatView::paintFrame(QPainter& p) const {
    if (!underMouse() && m_grip == PlacementFrame::Grip::None) return;
    if (const auto shown = frame())
        shown->paint(
            p, [this](QPointF uv) { return pixelOf(uv); },
            m_grip != PlacementFrame::Grip::None ? m_grip : m_hovered, frameWords(shown->numbers()));
}

}  // namespace kettle
