#include "app/editors/hue_dial.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <numbers>

#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr double kInner = 42, kInnerReach = 26, kOuter = 74, kOuterReach = 18;
constexpr double kGrip = 35;  ///< where the band's grips stand, inside the inner ring

QPointF onCircle(QPointF centre, double radius, double hue) {
    const double a = (hue - 90) * std::numbers::pi / 180;
    return centre + QPointF(std::cos(a), std::sin(a)) * radius;
}

double shortest(double degrees) {
    const double d = std::fmod(degrees, 360.0);
    return d > 180 ? d - 360 : d < -180 ? d + 360 : d;
}

}  // namespace

HueDial::HueDial(QWidget* parent) : QWidget(parent) {
    setFixedHeight(196);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::OpenHandCursor);
    setAccessibleName(tr("Hue dial"));
    setToolTip(tr(
        "Inside: the hues that come in. Outside: where they go. Drag to turn; Shift turns finely. The grips "
        "inside move and widen the band."));
}

void HueDial::setAngle(double degrees) {
    if (degrees == m_angle) return;
    m_angle = degrees;
    update();
}

void HueDial::setSpread(std::optional<Spread> in) {
    if (in == m_spread) return;
    m_spread = std::move(in);
    update();
}

void HueDial::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QPointF c = QRectF(rect()).center();
    float top = 1e-6f;
    if (m_spread)
        for (const float h : m_spread->hues) top = std::max(top, h);
    const double width = 360.0 / Spread::kHues;
    for (std::size_t i = 0; i < Spread::kHues; ++i) {
        const double share = m_spread ? std::sqrt(static_cast<double>(m_spread->hues[i] / top)) : 0;
        const double hue = static_cast<double>(i) * width;
        const auto wedge = [&](double at, double radius, double reach, int saturation, int value) {
            QPainterPath path;
            path.moveTo(onCircle(c, radius, at));
            path.lineTo(onCircle(c, radius + reach, at));
            path.lineTo(onCircle(c, radius + reach, at + width + 0.6));
            path.lineTo(onCircle(c, radius, at + width + 0.6));
            path.closeSubpath();
            const int shown = (static_cast<int>(std::lround(at + width / 2)) % 360 + 360) % 360;
            p.fillPath(path, QColor::fromHsv(shown, saturation, value));
        };
        wedge(hue, kInner, 3 + share * kInnerReach, 165, 205);
        wedge(hue + m_angle, kOuter, 3 + share * kOuterReach, 165, 205);
    }
    if (m_band) paintBand(p, c);
    if (m_mark) {
        p.setPen(QPen(theme::kInk, 1.5));
        p.drawLine(onCircle(c, kInner, *m_mark), onCircle(c, kInner + kInnerReach + 4, *m_mark));
        p.drawLine(onCircle(c, kOuter, *m_mark + m_angle),
                   onCircle(c, kOuter + kOuterReach, *m_mark + m_angle));
    }
    // The hand: where red lands.
    p.setPen(QPen(hasFocus() ? theme::kAccent : theme::kInk, 2, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(onCircle(c, kOuter - 5, m_angle), onCircle(c, kOuter + 5, m_angle));
    p.setPen(QPen(theme::kEdge, 1));
    p.drawLine(onCircle(c, kInner - 4, 0), onCircle(c, kInner + 2, 0));
    p.setFont(theme::font(15, true));
    p.setPen(theme::kInk);
    const QString text =
        QStringLiteral("%1%2°").arg(m_angle > 0 ? QStringLiteral("+") : QString()).arg(m_angle, 0, 'f', 0);
    p.drawText(QRectF(c.x() - 40, c.y() - 20, 80, 22), Qt::AlignCenter, text);
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(c.x() - 40, c.y() + 1, 80, 16), Qt::AlignCenter, tr("turn"));
}

void HueDial::paintBand(QPainter& p, QPointF c) const {
    // A wedge over both rings: full within the width, paler over the softness; its three grips stand inside.
    const auto wedge = [&](double from, double to, int alpha) {
        QPainterPath path;
        const QRectF outer(c.x() - kOuter + 5, c.y() - kOuter + 5, 2 * kOuter - 10, 2 * kOuter - 10);
        const QRectF inner(c.x() - kGrip, c.y() - kGrip, 2 * kGrip, 2 * kGrip);
        path.arcMoveTo(outer, 90 - from);
        path.arcTo(outer, 90 - from, from - to);
        path.arcTo(inner, 90 - to, to - from);
        path.closeSubpath();
        QColor ink = theme::kInk;
        ink.setAlpha(alpha);
        p.fillPath(path, ink);
    };
    const double half = std::min(m_band->width / 2, 180.0), soft = std::min(m_band->softness, 180 - half);
    const double low = m_band->centre - half, high = m_band->centre + half;
    if (m_band->inverted) {
        wedge(high + soft, low - soft + 360, 46);
    } else {
        wedge(low, high, 46);
    }
    wedge(low - soft, low, 20);
    wedge(high, high + soft, 20);
    p.setPen(QPen(theme::kQuiet, 1));
    for (const double edge : {low, high}) p.drawLine(onCircle(c, kGrip, edge), onCircle(c, kOuter - 5, edge));
    p.setBrush(theme::kCard);
    p.setPen(QPen(hasFocus() ? theme::kAccent : theme::kInk, 1.5));
    for (const double grip : {low, m_band->centre, high}) p.drawEllipse(onCircle(c, kGrip, grip), 4, 4);
    p.setBrush(Qt::NoBrush);
}

void HueDial::setBand(std::optional<Band> band) {
    if (band == m_band) return;
    m_band = band;
    update();
}

void HueDial::setMark(std::optional<double> hue) {
    if (hue == m_mark) return;
    m_mark = hue;
    update();
}

QPointF HueDial::pointOf(double hue, double outward) const {
    return onCircle(QRectF(rect()).center(), kGrip + outward * (kOuter - kGrip), hue);
}

double HueDial::angleOf(QPointF at) const {
    const QPointF d = at - QRectF(rect()).center();
    return std::atan2(d.y(), d.x()) * 180 / std::numbers::pi + 90;
}

void HueDial::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const QPointF d = event->position() - QRectF(rect()).center();
    m_grip = Grip::Turn;
    m_grab = angleOf(event->position());
    m_start = m_angle;
    if (m_band && std::hypot(d.x(), d.y()) < kGrip + 8) {
        // The nearest of the three grips; the middle one where they lie together.
        const double half = m_band->width / 2;
        const auto away = [&](double hue) { return std::fabs(shortest(m_grab - hue)); };
        m_grip = Grip::Centre;
        double nearest = away(m_band->centre);
        if (away(m_band->centre - half) < nearest) nearest = away(m_band->centre - half), m_grip = Grip::Low;
        if (away(m_band->centre + half) < nearest) m_grip = Grip::High;
    }
    setCursor(Qt::ClosedHandCursor);
    Q_EMIT gestureStarted();
}

void HueDial::dragBand(double angle) {
    const double moved = shortest(angle - m_grab);
    m_grab = angle;
    Band b = *m_band;
    if (m_grip == Grip::Centre) b.centre = std::fmod(b.centre + moved + 360, 360.0);
    if (m_grip == Grip::Low) b.width -= 2 * moved;
    if (m_grip == Grip::High) b.width += 2 * moved;
    b.width = std::clamp(b.width, 0.0, 360.0);
    setBand(b);
    Q_EMIT bandEdited(b.centre, b.width, true);
}

void HueDial::mouseMoveEvent(QMouseEvent* event) {
    if (m_grip == Grip::None) return;
    const double now = angleOf(event->position());
    if (m_grip != Grip::Turn) return dragBand(now);
    const double fine = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    // Turned piece by piece, so that the dial goes round past half a turn without jumping.
    const double moved = shortest(now - m_grab) * fine;
    m_grab = now;
    m_start += moved;
    const double value = shortest(std::round(m_start * (fine < 1 ? 10 : 1)) / (fine < 1 ? 10 : 1));
    if (value == m_angle) return;
    setAngle(value);
    Q_EMIT edited(m_angle, true);
}

void HueDial::mouseReleaseEvent(QMouseEvent*) {
    if (m_grip == Grip::None) return;
    m_grip = Grip::None;
    setCursor(Qt::OpenHandCursor);
    Q_EMIT gestureEnded();
}

void HueDial::keyPressEvent(QKeyEvent* event) {
    const int direction = event->key() == Qt::Key_Right || event->key() == Qt::Key_Up    ? 1
                          : event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1
                                                                                         : 0;
    if (direction == 0) return QWidget::keyPressEvent(event);
    setAngle(shortest(m_angle + direction * ((event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0)));
    Q_EMIT edited(m_angle, false);
}

}  // namespace kettle
