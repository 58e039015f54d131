// The frame around one repeat of what lies in the texture: its lower right corner sizes it, its knob
// turns it, its lower left corner moves it. All else of the picture stays what it is to the hand.
#pragma once

#include <QPointF>
#include <QPolygonF>
#include <functional>
#include <optional>

#include "core/steps/step.h"

class QPainter;

namespace kettle {

/// How something lies: q = R(-turn) (p - 0.5) repeats + repeats / 2 - offset, p in texture space and q in
/// repeats, as the Map step and the patterns have it.
struct PlacementNumbers {
    double repeats = 1, rotation = 0;  ///< degrees
    QPointF offset;
    bool isOnce = false;  ///< lies there once, and not beside itself: a stamp
    /// The step's, if it lies in the texture by the controls "repeats", "rotation", "offset-u" and
    /// "offset-v".
    static std::optional<PlacementNumbers> of(const StepSpec& spec, const StepView& view);
    QPointF toPlace(QPointF repeat) const;
    QPointF toRepeat(QPointF place) const;
    bool operator==(const PlacementNumbers&) const = default;
};

/// What is dragged, in texture space; painting gets the way to pixels.
class PlacementFrame {
public:
    enum class Grip { None, Origin, Corner, Knob };
    explicit PlacementFrame(const PlacementNumbers& numbers) : m_numbers(numbers) {
        const QPointF q = numbers.toRepeat({0.5, 0.5});
        if (!numbers.isOnce) m_cell = {std::floor(q.x()), std::floor(q.y())};
    }
    using ToPixel = std::function<QPointF(QPointF)>;
    /// The grip under a pixel.
    Grip gripAt(QPointF pixel, const ToPixel& toPixel) const;
    /// The corners from the lower left on, anticlockwise, then the knob.
    QPolygonF corners(const ToPixel& toPixel) const;
    QPointF knob(const ToPixel& toPixel) const;
    QPointF middle(const ToPixel& toPixel) const;
    /// The grip of corner 0 (it moves) or 1 (it sizes).
    QPointF grip(int corner, const ToPixel& toPixel) const;
    /// The numbers after a drag from one place of texture space to another. `whole`: whole repeats, turns by
    /// 15 degrees.
    PlacementNumbers dragged(Grip grip, QPointF from, QPointF to, bool whole) const;
    /// `words`: what it tells beside its corner. `pieces`: each edge is drawn in so many, since it may bend.
    /// Where toPixel gives no numbers nothing is seen.
    void paint(QPainter& p, const ToPixel& toPixel, Grip active, const QString& words, int pieces = 1) const;
    const PlacementNumbers& numbers() const { return m_numbers; }

private:
    PlacementNumbers m_numbers;
    QPointF m_cell;  ///< the repeat that is framed
};

}  // namespace kettle
