// The ramp's strip: painted, clicked and dragged. The fields and buttons around it are in ramp_editor.cpp.
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/editors/ramp_editor.h"
#include "app/editors/spread_plot.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"

namespace kettle {
namespace {

constexpr int kSpreadHeight = 34, kRampHeight = 22, kStopsHeight = 18, kCurveHeight = 132;
constexpr double kDragOff = 36;  // pixels outside the strip that take a stop away

void sortStops(Ramp& ramp, int& chosen) {
    const RampStop kept = ramp.stops[static_cast<std::size_t>(chosen)];
    std::stable_sort(ramp.stops.begin(), ramp.stops.end(),
                     [](const RampStop& a, const RampStop& b) { return a.position < b.position; });
    for (std::size_t i = 0; i < ramp.stops.size(); ++i)
        if (ramp.stops[i] == kept) chosen = static_cast<int>(i);
}

}  // namespace

QColor shownColour(Vec3 linear, bool isGrey) {
    // A grey ramp's numbers are raw and are shown as they stand.
    if (isGrey) return QColor(toByte(linear.x), toByte(linear.x), toByte(linear.x));
    return QColor(toByte(linearToSrgb(linear.x)), toByte(linearToSrgb(linear.y)),
                  toByte(linearToSrgb(linear.z)));
}

RampStrip::RampStrip(bool isGrey, QWidget* parent) : QWidget(parent), m_isGrey(isGrey) {
    setFixedHeight(isGrey ? kCurveHeight + kRampHeight + 6 : kSpreadHeight + kRampHeight + kStopsHeight);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(isGrey ? tr("Ramp curve") : tr("Ramp stops"));
    setToolTip(tr("Click to add a stop, drag to move it, drag it off or press Delete to remove it."));
}

QRectF RampStrip::field() const {
    const QRectF r = QRectF(rect()).adjusted(8, 0, -8, 0);
    return m_isGrey ? QRectF(r.left(), 7, r.width(), kCurveHeight - 14)
                    : QRectF(r.left(), kSpreadHeight, r.width(), kRampHeight);
}

float RampStrip::positionAt(double x) const {
    return static_cast<float>(std::clamp((x - field().left()) / field().width(), 0.0, 1.0));
}
float RampStrip::valueAt(double y) const {
    return static_cast<float>(std::clamp(1 - (y - field().top()) / field().height(), 0.0, 1.0));
}

QPointF RampStrip::handleAt(int stop) const {
    const RampStop& s = m_ramp.stops[static_cast<std::size_t>(stop)];
    const QRectF f = field();
    const double x = f.left() + f.width() * static_cast<double>(s.position);
    if (!m_isGrey) return {x, f.bottom() + kStopsHeight / 2.0};
    return {x, f.bottom() - f.height() * std::clamp(static_cast<double>(s.colour.x), 0.0, 1.0)};
}

int RampStrip::stopAt(QPointF at) const {
    int best = -1;
    double nearest = 9;
    for (int i = 0; i < static_cast<int>(m_ramp.stops.size()); ++i) {
        const QPointF d = handleAt(i) - at;
        const double distance = std::hypot(d.x(), d.y());
        if (distance < nearest) nearest = distance, best = i;
    }
    return best;
}

void RampStrip::setRamp(const Ramp& ramp) {
    m_ramp = ramp;
    m_chosen = std::clamp(m_chosen, 0, std::max(0, static_cast<int>(ramp.stops.size()) - 1));
    update();
}

void RampStrip::setSpread(std::optional<Spread> in) {
    if (in == m_spread) return;
    m_spread = std::move(in);
    update();
}

void RampStrip::setMark(std::optional<double> position) {
    if (position == m_mark) return;
    m_mark = position;
    update();
}

void RampStrip::choose(int stop) {
    m_chosen = stop;
    update();
    Q_EMIT chosenChanged();
}

void RampStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF f = field();
    const RampCurve curve = compileRamp(m_ramp);
    const QRectF plot = m_isGrey ? f : QRectF(f.left(), 2, f.width(), kSpreadHeight - 4);
    p.setPen(theme::kHairline);
    p.setBrush(theme::kCard);
    p.drawRect(m_isGrey ? QRectF(f.adjusted(-0.5, -0.5, 0.5, 0.5)) : plot.adjusted(-0.5, 0, 0.5, 2));
    if (m_spread) {
        QPolygonF spread = spreadCurve(*m_spread, plot);
        spread << plot.bottomRight() << plot.bottomLeft();
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kShade);
        p.drawPolygon(spread);
    }
    const QRectF strip = m_isGrey ? QRectF(f.left(), kCurveHeight + 2, f.width(), kRampHeight) : f;
    for (int x = 0; x < static_cast<int>(strip.width()); ++x)
        p.fillRect(QRectF(strip.left() + x, strip.top(), 1.5, strip.height()),
                   shownColour(rampAt(curve, static_cast<float>((x + 0.5) / strip.width())), m_isGrey));
    p.setPen(theme::kEdge);
    p.setBrush(Qt::NoBrush);
    p.drawRect(strip);
    if (m_isGrey) {
        QPolygonF line;
        for (int x = 0; x <= static_cast<int>(f.width()); ++x) {
            const double v = static_cast<double>(rampAt(curve, static_cast<float>(x / f.width())).x);
            line << QPointF(f.left() + x, f.bottom() - f.height() * std::clamp(v, 0.0, 1.0));
        }
        p.setPen(QPen(theme::kInk, 1.5));
        p.drawPolyline(line);
    }
    for (int i = 0; i < static_cast<int>(m_ramp.stops.size()); ++i) {
        const QPointF h = handleAt(i);
        const bool chosen = i == m_chosen;
        p.setPen(QPen(chosen ? theme::kAccent : theme::kEdge, chosen ? 2 : 1));
        p.setBrush(shownColour(m_ramp.stops[static_cast<std::size_t>(i)].colour, m_isGrey));
        if (m_isGrey) {
            p.drawEllipse(h, 5, 5);
        } else {
            // A drop that hangs from the ramp at its place.
            QPainterPath drop;
            drop.moveTo(h.x(), f.bottom() + 1);
            drop.lineTo(h.x() + 6, f.bottom() + 8);
            drop.lineTo(h.x() + 6, f.bottom() + 16);
            drop.lineTo(h.x() - 6, f.bottom() + 16);
            drop.lineTo(h.x() - 6, f.bottom() + 8);
            drop.closeSubpath();
            p.drawPath(drop);
        }
    }
    if (m_mark) {
        const double x = f.left() + std::clamp(*m_mark, 0.0, 1.0) * f.width();
        p.setPen(QPen(theme::kCard, 3));
        p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
        p.setPen(QPen(theme::kInk, 1));
        p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
    }
}

void RampStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    Q_EMIT gestureStarted();
    m_dragging = true;
    int stop = stopAt(event->position());
    if (stop < 0) {
        const float x = positionAt(event->position().x());
        const RampCurve curve = compileRamp(m_ramp);
        Vec3 colour = rampAt(curve, x);
        if (m_isGrey) {
            const float v = valueAt(event->position().y());
            colour = event->position().y() <= kCurveHeight ? Vec3{v, v, v} : colour;
        }
        m_ramp.stops.push_back({x, colour});
        stop = static_cast<int>(m_ramp.stops.size()) - 1;
        m_chosen = stop;
        sortStops(m_ramp, m_chosen);
        Q_EMIT edited(true);
    } else {
        m_chosen = stop;
    }
    update();
    Q_EMIT chosenChanged();
}

void RampStrip::mouseMoveEvent(QMouseEvent* event) {
    if (!m_dragging) {
        setCursor(stopAt(event->position()) >= 0 ? Qt::PointingHandCursor : Qt::CrossCursor);
        return;
    }
    const double outside = std::max({-event->position().y(), event->position().y() - height(), 0.0});
    if (outside > kDragOff && !m_draggedOff && m_ramp.stops.size() > 1) {
        m_draggedOff = m_ramp.stops[static_cast<std::size_t>(m_chosen)];
        m_ramp.stops.erase(m_ramp.stops.begin() + m_chosen);
        m_chosen = std::min(m_chosen, static_cast<int>(m_ramp.stops.size()) - 1);
    } else if (outside <= kDragOff && m_draggedOff) {
        m_ramp.stops.push_back(*m_draggedOff);
        m_chosen = static_cast<int>(m_ramp.stops.size()) - 1;
        m_draggedOff.reset();
        sortStops(m_ramp, m_chosen);
    } else if (!m_draggedOff) {
        RampStop& stop = m_ramp.stops[static_cast<std::size_t>(m_chosen)];
        stop.position = positionAt(event->position().x());
        if (m_isGrey) {
            const float v = valueAt(event->position().y());
            stop.colour = {v, v, v};
        }
        sortStops(m_ramp, m_chosen);
    }
    update();
    Q_EMIT edited(true);
    Q_EMIT chosenChanged();
}

void RampStrip::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !m_dragging) return;
    m_dragging = false;
    m_draggedOff.reset();
    Q_EMIT gestureEnded();
}

void RampStrip::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(m_ramp.stops.size());
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
        choose(std::clamp(m_chosen + (event->key() == Qt::Key_Right ? 1 : -1), 0, count - 1));
    } else if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && count > 1) {
        m_ramp.stops.erase(m_ramp.stops.begin() + m_chosen);
        m_chosen = std::min(m_chosen, count - 2);
        update();
        Q_EMIT edited(false);
        Q_EMIT chosenChanged();
    } else {
        QWidget::keyPressEvent(event);
    }
}

}  // namespace kettle
