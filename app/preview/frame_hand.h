// The hand on a placement's frame, in Flat and on the model: which grip is under it, and what a drag makes of
// the chosen step.
#pragma once

#include <QCursor>
#include <functional>
#include <optional>

#include "app/preview/placement_frame.h"
#include "app/session/session.h"

namespace kettle {

class FrameHand {
public:
    /// Ways between texture space and a view's pixels; from a pixel there may be none.
    struct Ways {
        PlacementFrame::ToPixel toPixel;
        std::function<std::optional<QPointF>(QPointF)> toPlace;
    };
    FrameHand(Session& session, Ways ways) : m_session(session), m_ways(std::move(ways)) {}

    /// The frame of the chosen step, if it lies in the texture.
    std::optional<PlacementFrame> frame() const;
    /// True if a grip is taken; then drags go on until release().
    bool press(QPointF pixel);
    bool drag(QPointF pixel, bool whole);
    void release() { m_grip = PlacementFrame::Grip::None; }
    bool isDragging() const { return m_grip != PlacementFrame::Grip::None; }
    /// What the pointer rests on; the shape that it takes there, or nothing away from all grips.
    std::optional<Qt::CursorShape> hover(QPointF pixel);
    void leave() { m_hovered = PlacementFrame::Grip::None; }
    /// `squareSize`: centimetres of the model that the texture's square covers; 0: unknown. `pieces`: an edge
    /// is drawn in so many.
    void paint(QPainter& p, double squareSize, int pieces) const;

private:
    QString words(const PlacementNumbers& numbers, double squareSize) const;
    Session& m_session;
    Ways m_ways;
    std::optional<PlacementFrame> m_framed;  ///< as it was when the drag began
    PlacementFrame::Grip m_grip = PlacementFrame::Grip::None, m_hovered = PlacementFrame::Grip::None;
    QPointF m_from;
    std::uint64_t m_gesture = 0;
};

}  // namespace kettle
