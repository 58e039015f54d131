#include "app/editors/levels_plot.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/editors/spread_plot.h"
#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr double kSide = 8, kBracket = 26, kFieldHeight = 112;
constexpr std::array kHandles{LevelsPlot::Handle::InBlack, LevelsPlot::Handle::Middle,
                              LevelsPlot::Handle::InWhite, LevelsPlot::Handle::OutBlack,
                              LevelsPlot::Handle::OutWhite};

}  // namespace

LevelsPlot::LevelsPlot(QWidget* parent) : QWidget(parent) {
    setFixedHeight(static_cast<int>(kFieldHeight) + 10);
    setAccessibleName(tr("Levels"));
    setObjectName(QStringLiteral("levels-plot"));
    setToolTip(
        tr("Drag the posts of black, middle and white through the spread of what comes in. The line is what "
           "becomes of it; the bracket at its side is the range that goes out."));
}

void LevelsPlot::setLevels(const Levels& levels) {
    if (levels == m_levels) return;
    m_levels = levels;
    update();
}

void LevelsPlot::setSpread(std::optional<Spread> in) {
    if (in == m_spread) return;
    m_spread = std::move(in);
    update();
}

QRectF LevelsPlot::field() const {
    return {kSide, 5, width() - kSide - kBracket, kFieldHeight};
}

double LevelsPlot::valueAt(double x) const {
    return std::clamp((x - field().left()) / field().width(), 0.0, 1.0);
}

double LevelsPlot::outAt(double y) const {
    return std::clamp((field().bottom() - y) / field().height(), 0.0, 1.0);
}

double LevelsPlot::resultOf(double in) const {
    const double width = std::max(m_levels.inWhite - m_levels.inBlack, 1e-6);
    const double t = std::clamp((in - m_levels.inBlack) / width, 0.0, 1.0);
    return m_levels.outBlack +
           (m_levels.outWhite - m_levels.outBlack) * std::pow(t, 1 / std::max(m_levels.gamma, 0.01));
}

QPointF LevelsPlot::handleAt(Handle handle) const {
    const QRectF f = field();
    const auto x = [&](double v) { return f.left() + std::clamp(v, 0.0, 1.0) * f.width(); };
    const auto y = [&](double v) { return f.bottom() - std::clamp(v, 0.0, 1.0) * f.height(); };
    // What comes out half way: 0.5 = t^(1/gamma), so t = 0.5^gamma.
    const double middle =
        m_levels.inBlack + std::pow(0.5, m_levels.gamma) * (m_levels.inWhite - m_levels.inBlack);
    switch (handle) {
        case Handle::InBlack:
            return {x(m_levels.inBlack), f.bottom() - 12};
        case Handle::InWhite:
            return {x(m_levels.inWhite), f.top() + 12};
        case Handle::Middle:
            return {x(middle), f.center().y()};
        case Handle::OutBlack:
            return {f.right() + 14, y(m_levels.outBlack)};
        case Handle::OutWhite:
            return {f.right() + 14, y(m_levels.outWhite)};
    }
    return {};
}

void LevelsPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF f = field();
    p.fillRect(f, theme::kCard);
    if (m_spread) {
        QPolygonF shape = spreadCurve(*m_spread, f);
        shape << f.bottomRight() << f.bottomLeft();
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kShade);
        p.drawPolygon(shape);
    }
    p.setPen(QPen(theme::kHairline, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(f);
    QPolygonF curve;
    for (int i = 0; i <= 96; ++i) {
        const double in = i / 96.0;
        curve << QPointF(f.left() + in * f.width(),
                         f.bottom() - std::clamp(resultOf(in), 0.0, 1.0) * f.height());
    }
    p.setPen(QPen(theme::kInk, 1.4));
    p.drawPolyline(curve);
    paintPosts(p);
    paintBracket(p);
}

/// Three posts through the spread, each with a grip in the tone that it stands for.
void LevelsPlot::paintPosts(QPainter& p) const {
    const QRectF f = field();
    for (const Handle h : {Handle::InBlack, Handle::Middle, Handle::InWhite}) {
        const QPointF at = handleAt(h);
        const bool held = m_held == h;
        p.setPen(QPen(held ? theme::kAccent : theme::kEdge, held ? 1.6 : 1,
                      h == Handle::Middle ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(at.x(), f.top()), QPointF(at.x(), f.bottom()));
        p.setPen(QPen(held ? theme::kAccent : theme::kEdge, held ? 2 : 1));
        p.setBrush(h == Handle::InBlack   ? QColor(0x22, 0x22, 0x22)
                   : h == Handle::InWhite ? QColor(0xFA, 0xFA, 0xFA)
                                          : QColor(0x8C, 0x8C, 0x8C));
        p.drawRoundedRect(QRectF(at.x() - 4.5, at.y() - 8, 9, 16), 3, 3);
    }
}

/// The way out: a bracket at the side, from the darkest to the lightest that goes out.
void LevelsPlot::paintBracket(QPainter& p) const {
    const QPointF low = handleAt(Handle::OutBlack), high = handleAt(Handle::OutWhite);
    p.setPen(QPen(theme::kEdge, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{{low.x() - 8, low.y()}, low, high, {high.x() - 8, high.y()}});
    for (const Handle h : {Handle::OutBlack, Handle::OutWhite}) {
        const bool held = m_held == h;
        p.setPen(QPen(held ? theme::kAccent : theme::kEdge, held ? 2 : 1));
        p.setBrush(h == Handle::OutBlack ? theme::kInk : theme::kCard);
        p.drawRoundedRect(QRectF(handleAt(h).x() - 5, handleAt(h).y() - 4.5, 10, 9), 3, 3);
    }
}

void LevelsPlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const bool isBeside = event->position().x() > field().right() + 2;
    double nearest = 16;
    for (const Handle h : kHandles) {
        const bool isOut = h == Handle::OutBlack || h == Handle::OutWhite;
        if (isOut != isBeside) continue;
        // A post is held anywhere along it, best at its grip.
        const QPointF d = event->position() - handleAt(h);
        const double away =
            isOut ? std::fabs(d.y()) : std::fabs(d.x()) + std::min(3.0, std::fabs(d.y()) / 16);
        if (away < nearest) nearest = away, m_held = h;
    }
    if (m_held) Q_EMIT gestureStarted();
    update();
}

void LevelsPlot::mouseMoveEvent(QMouseEvent* event) {
    if (!m_held) return;
    const double v = std::round(valueAt(event->position().x()) * 1000) / 1000;
    const double out = std::round(outAt(event->position().y()) * 1000) / 1000;
    const auto report = [&](const char* control, double value) {
        Q_EMIT edited(QString::fromLatin1(control), value, true);
    };
    constexpr double kApart = 0.005;  // black and white never meet by dragging
    switch (*m_held) {
        case Handle::InBlack:
            m_levels.inBlack = std::min(v, m_levels.inWhite - kApart);
            report("in-black", m_levels.inBlack);
            break;
        case Handle::InWhite:
            m_levels.inWhite = std::max(v, m_levels.inBlack + kApart);
            report("in-white", m_levels.inWhite);
            break;
        case Handle::Middle: {
            const double t =
                std::clamp((v - m_levels.inBlack) / (m_levels.inWhite - m_levels.inBlack), 0.02, 0.98);
            m_levels.gamma = std::round(std::log(t) / std::log(0.5) * 100) / 100;
            report("gamma", m_levels.gamma);
            break;
        }
        case Handle::OutBlack:
            m_levels.outBlack = out;
            report("out-black", out);
            break;
        case Handle::OutWhite:
            m_levels.outWhite = out;
            report("out-white", out);
            break;
    }
    update();
}

void LevelsPlot::mouseReleaseEvent(QMouseEvent*) {
    if (!m_held) return;
    m_held.reset();
    update();
    Q_EMIT gestureEnded();
}

}  // namespace kettle
