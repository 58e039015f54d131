#include "app/preview/placement_frame.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/style/theme.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

constexpr double kGripSize = 10, kKnobAway = 24;
/// Grips stand inside the frame, so that they are seen also where it is as large as the picture.
constexpr double kInset = 14;

QPointF turned(QPointF p, double degrees) {
    const double a = degrees * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    return {p.x() * c - p.y() * s, p.x() * s + p.y() * c};
}
double lengthOf(QPointF p) {
    return std::hypot(p.x(), p.y());
}
bool isSeen(QPointF p) {
    return std::isfinite(p.x()) && std::isfinite(p.y());
}
double rounded(double v, double step) {
    return std::round(v / step) * step;
}
/// The offset at which `repeat` lies at `place`.
QPointF offsetFor(const PlacementNumbers& n, QPointF repeat, QPointF place) {
    PlacementNumbers plain = n;
    plain.offset = {};
    const QPointF offset = plain.toRepeat(place) - repeat;
    return {rounded(offset.x(), 0.001), rounded(offset.y(), 0.001)};
}

}  // namespace

std::optional<PlacementNumbers> PlacementNumbers::of(const StepSpec& spec, const StepView& view) {
    for (const NumberHandle handle : {kRepeats, kRotation, kOffsetU, kOffsetV}) {
        const ControlSpec* control = spec.findControl(handle.id);
        if (control == nullptr || !view.isShown(*control)) return std::nullopt;
    }
    const double repeats = std::clamp(std::fabs(view[kRepeats]), 1e-4, 1e5);
    const bool isOnce = spec.findControl(kWrapU.id) != nullptr && view[kWrapU] == Placed::Beyond::Once &&
                        view[kWrapV] == Placed::Beyond::Once;
    return PlacementNumbers{repeats, view[kRotation], {view[kOffsetU], view[kOffsetV]}, isOnce};
}

QPointF PlacementNumbers::toPlace(QPointF repeat) const {
    const QPointF half(repeats / 2, repeats / 2);
    return turned(repeat - half + offset, rotation) / repeats + QPointF(0.5, 0.5);
}
QPointF PlacementNumbers::toRepeat(QPointF place) const {
    const QPointF half(repeats / 2, repeats / 2);
    return turned(place - QPointF(0.5, 0.5), -rotation) * repeats + half - offset;
}

QPolygonF PlacementFrame::corners(const ToPixel& toPixel) const {
    QPolygonF all;
    for (const QPointF& c : {QPointF(0, 0), QPointF(1, 0), QPointF(1, 1), QPointF(0, 1)})
        all << toPixel(m_numbers.toPlace(m_cell + c));
    return all;
}

QPointF PlacementFrame::knob(const ToPixel& toPixel) const {
    const QPointF top = toPixel(m_numbers.toPlace(m_cell + QPointF(0.5, 1)));
    const QPointF away = top - middle(toPixel);
    if (!isSeen(away)) return top;
    const double length = std::max(1.0, lengthOf(away));
    return top - away * (std::min(kKnobAway, length * 0.5) / length);
}

QPointF PlacementFrame::middle(const ToPixel& toPixel) const {
    return toPixel(m_numbers.toPlace(m_cell + QPointF(0.5, 0.5)));
}

QPointF PlacementFrame::grip(int corner, const ToPixel& toPixel) const {
    const QPointF at = corners(toPixel)[corner], inward = middle(toPixel) - at;
    if (!isSeen(inward)) return at;
    const double length = std::max(1.0, lengthOf(inward));
    return at + inward * (std::min(kInset, length * 0.4) / length);
}

PlacementFrame::Grip PlacementFrame::gripAt(QPointF pixel, const ToPixel& toPixel) const {
    if (lengthOf(pixel - knob(toPixel)) < kGripSize) return Grip::Knob;
    if (lengthOf(pixel - grip(1, toPixel)) < kGripSize) return Grip::Corner;
    return lengthOf(pixel - grip(0, toPixel)) < kGripSize ? Grip::Origin : Grip::None;
}

PlacementNumbers PlacementFrame::dragged(Grip grip, QPointF from, QPointF to, bool whole) const {
    PlacementNumbers n = m_numbers;
    if (grip == Grip::Origin) {
        n.offset = offsetFor(n, n.toRepeat(from), to);
    } else if (grip == Grip::Corner) {
        // About the lower left corner, which stays.
        const QPointF origin = n.toPlace(m_cell);
        const double before = std::max(1e-6, lengthOf(from - origin)),
                     now = std::max(1e-3, lengthOf(to - origin));
        n.repeats = std::clamp(n.repeats * before / now, 0.05, 1000.0);
        n.repeats = whole ? std::max(1.0, std::round(n.repeats)) : rounded(n.repeats, 0.01);
        n.offset = offsetFor(n, m_cell, origin);
    } else if (grip == Grip::Knob) {
        const QPointF centre = n.toPlace(m_cell + QPointF(0.5, 0.5)), a = from - centre, b = to - centre;
        const double by = (std::atan2(b.y(), b.x()) - std::atan2(a.y(), a.x())) * 180 / std::numbers::pi;
        n.rotation = std::remainder(rounded(n.rotation + by, whole ? 15 : 0.5), 360.0);
        n.offset = offsetFor(n, m_cell + QPointF(0.5, 0.5), centre);
    }
    return n;
}

void PlacementFrame::paint(QPainter& p, const ToPixel& toPixel, Grip active, const QString& words,
                           int pieces) const {
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    QPainterPath frame;
    bool isDown = false;
    const QPointF edge[] = {{0, 0}, {1, 0}, {1, 1}, {0, 1}, {0, 0}};
    for (int i = 0; i <= 4 * pieces; ++i) {
        const int side = std::min(i / pieces, 3);
        const double along = static_cast<double>(i - side * pieces) / pieces;
        const QPointF at =
            toPixel(m_numbers.toPlace(m_cell + edge[side] * (1 - along) + edge[side + 1] * along));
        if (isSeen(at)) isDown ? frame.lineTo(at) : frame.moveTo(at);
        isDown = isSeen(at);
    }
    const QPointF knobAt = knob(toPixel);
    p.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(theme::kCard, 3), QPen(theme::kInk, 1.2)}) p.strokePath(frame, pen);
    const auto drawGrip = [&](const QRectF& at, bool isRound, bool isActive) {
        if (!isSeen(at.topLeft())) return;
        p.setPen(QPen(theme::kInk, 1.2));
        p.setBrush(isActive ? theme::kAccent : theme::kCard);
        isRound ? p.drawEllipse(at) : p.drawRect(at);
    };
    drawGrip(QRectF(grip(1, toPixel) - QPointF(5, 5), QSizeF(10, 10)), false, active == Grip::Corner);
    drawGrip(QRectF(knobAt - QPointF(5.5, 5.5), QSizeF(11, 11)), true, active == Grip::Knob);
    const QPointF origin = grip(0, toPixel);
    drawGrip(QRectF(origin - QPointF(6.5, 6.5), QSizeF(13, 13)), true, active == Grip::Origin);
    if (isSeen(origin)) {
        p.setPen(QPen(active == Grip::Origin ? theme::kCard : theme::kInk, 1.2));
        p.drawLine(origin - QPointF(3.5, 0), origin + QPointF(3.5, 0));
        p.drawLine(origin - QPointF(0, 3.5), origin + QPointF(0, 3.5));
    }
    if (!words.isEmpty() && isSeen(knobAt)) {
        p.setFont(theme::font(11));
        const QRectF box = QRectF(p.fontMetrics().boundingRect(words)).adjusted(-6, -3, 6, 3);
        QRectF at(knobAt + QPointF(14, -box.height() / 2), box.size());
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kCard);
        p.drawRoundedRect(at, 4, 4);
        p.setPen(theme::kInk);
        p.drawText(at, Qt::AlignCenter, words);
    }
    p.restore();
}

}  // namespace kettle
