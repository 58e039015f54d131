#include "app/preview/frame_hand.h"

#include <QCoreApplication>

namespace kettle {
namespace {

QString tr(const char* words) {
    return QCoreApplication::translate("FrameHand", words);
}

}  // namespace

std::optional<PlacementFrame> FrameHand::frame() const {
    const auto step = m_session.shownStep(m_session.selectedStep());
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = step && line != nullptr ? m_session.steps().find(step->type) : nullptr;
    if (spec == nullptr) return std::nullopt;
    const auto numbers = PlacementNumbers::of(*spec, StepView(*spec, *step, line->kind));
    return numbers ? std::optional(PlacementFrame(*numbers)) : std::nullopt;
}

bool FrameHand::press(QPointF pixel) {
    m_framed = frame();
    const auto place = m_framed ? m_ways.toPlace(pixel) : std::nullopt;
    if (!place) return false;
    m_grip = m_framed->gripAt(pixel, m_ways.toPixel);
    if (!isDragging()) return false;
    m_from = *place;
    m_gesture = m_session.newGesture();
    return true;
}

bool FrameHand::drag(QPointF pixel, bool whole) {
    if (!isDragging() || !m_framed) return false;
    const auto now = frame();
    const auto place = m_ways.toPlace(pixel);
    if (!now || !place) return true;
    const PlacementNumbers n = m_framed->dragged(m_grip, m_from, *place, whole);
    const std::string step = m_session.selectedStep();
    const auto set = [&](const char* control, double value, double before) {
        if (value != before) m_session.setControl(step, control, value, m_gesture);
    };
    set("repeats", n.repeats, now->numbers().repeats);
    set("rotation", n.rotation, now->numbers().rotation);
    set("offset-u", n.offset.x(), now->numbers().offset.x());
    set("offset-v", n.offset.y(), now->numbers().offset.y());
    return true;
}

std::optional<Qt::CursorShape> FrameHand::hover(QPointF pixel) {
    const auto shown = frame();
    m_hovered = shown ? shown->gripAt(pixel, m_ways.toPixel) : PlacementFrame::Grip::None;
    switch (m_hovered) {
        case PlacementFrame::Grip::None:
            return std::nullopt;
        case PlacementFrame::Grip::Corner:
            return Qt::SizeBDiagCursor;
        case PlacementFrame::Grip::Knob:
            return Qt::PointingHandCursor;
        case PlacementFrame::Grip::Origin:
            return Qt::SizeAllCursor;
    }
    return std::nullopt;
}

QString FrameHand::words(const PlacementNumbers& n, double squareSize) const {
    switch (isDragging() ? m_grip : m_hovered) {
        case PlacementFrame::Grip::Corner:
            return squareSize > 0
                       ? tr("%1× · %2 cm").arg(n.repeats, 0, 'f', 2).arg(squareSize / n.repeats, 0, 'f', 1)
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

void FrameHand::paint(QPainter& p, double squareSize, int pieces) const {
    if (const auto shown = frame())
        shown->paint(p, m_ways.toPixel, isDragging() ? m_grip : m_hovered,
                     words(shown->numbers(), squareSize), pieces);
}

}  // namespace kettle
