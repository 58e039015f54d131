#include "app/editors/levels_plot.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/editors/spread_plot.h"
#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr double kSide = 8, kSpreadHeight = 70;
constexpr std::array kHandles{LevelsPlot::Handle::InBlack, LevelsPlot::Handle::Middle,
                              LevelsPlot::Handle::InWhite, LevelsPlot::Handle::OutBlack,
                              LevelsPlot::Handle::OutWhite};

}  // namespace

LevelsPlot::LevelsPlot(QWidget* parent) : QWidget(parent) {
    setFixedHeight(128);
    setAccessibleName(tr("Levels"));
    setObjectName(QStringLiteral("levels-plot"));
    setToolTip(tr(
        "Drag black, middle and white under the spread of what comes in; below, the range that goes out."));
}

void LevelsPlot::setLevels(const Levels& levels) {
    if (levels == m_levels) return;
    m_levels = levels;
    update();
}

void LevelsPlot::setSpread(std::optional<Spread> in) {
    m_spread = std::move(in);
    update();
}

QRectF LevelsPlot::field() const {
    return {kSide, 2, width() - 2 * kSide, kSpreadHeight};
}

double LevelsPlot::valueAt(double x) const {
    return std::clamp((x - field().left()) / field().width(), 0.0, 1.0);
}

QPointF LevelsPlot::handleAt(Handle handle) const {
    const auto x = [&](double v) { return field().left() + std::clamp(v, 0.0, 1.0) * field().width(); };
    const double low = field().bottom() + 9, out = field().bottom() + 42;
    switch (handle) {
        case Handle::InBlack:
            return {x(m_levels.inBlack), low};
        case Handle::InWhite:
            return {x(m_levels.inWhite), low};
        case Handle::Middle:
            // What comes out half way: 0.5 = t^(1/gamma), so t = 0.5^gamma.
            return {
                x(m_levels.inBlack + std::pow(0.5, m_levels.gamma) * (m_levels.inWhite - m_levels.inBlack)),
                low};
        case Handle::OutBlack:
            return {x(m_levels.outBlack), out};
        case Handle::OutWhite:
            return {x(m_levels.outWhite), out};
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
        p.setBrush(theme::kHairline);
        p.drawPolygon(shape);
    }
    // What becomes black or white is greyed.
    const double black = handleAt(Handle::InBlack).x(), white = handleAt(Handle::InWhite).x();
    p.fillRect(QRectF(f.left(), f.top(), black - f.left(), f.height()), QColor(34, 34, 34, 40));
    p.fillRect(QRectF(white, f.top(), f.right() - white, f.height()), QColor(34, 34, 34, 16));
    p.setPen(QPen(theme::kHairline, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(f);
    const QRectF bar(f.left(), f.bottom() + 24, f.width(), 10);
    QLinearGradient tones(bar.topLeft(), bar.topRight());
    tones.setColorAt(0, Qt::black);
    tones.setColorAt(1, Qt::white);
    p.fillRect(bar, tones);
    p.drawRect(bar);
    for (const Handle h : kHandles) {
        const QPointF at = handleAt(h);
        QPainterPath drop;
        drop.moveTo(at - QPointF(0, 8));
        drop.lineTo(at + QPointF(6, 0));
        drop.lineTo(at + QPointF(6, 6));
        drop.lineTo(at + QPointF(-6, 6));
        drop.lineTo(at + QPointF(-6, 0));
        drop.closeSubpath();
        const bool dark = h == Handle::InBlack || h == Handle::OutBlack;
        p.setBrush(h == Handle::Middle ? theme::kEdge : dark ? theme::kInk : theme::kCard);
        p.setPen(QPen(m_held == h ? theme::kAccent : theme::kEdge, m_held == h ? 2 : 1));
        p.drawPath(drop);
    }
}

void LevelsPlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    double nearest = 16;
    for (const Handle h : kHandles) {
        const QPointF d = event->position() - handleAt(h);
        const double away = std::fabs(d.x()) + std::fabs(d.y()) / 2;
        if (away < nearest) nearest = away, m_held = h;
    }
    if (m_held) Q_EMIT gestureStarted();
    update();
}

void LevelsPlot::mouseMoveEvent(QMouseEvent* event) {
    if (!m_held) return;
    const double v = std::round(valueAt(event->position().x()) * 1000) / 1000;
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
            m_levels.outBlack = v;
            report("out-black", v);
            break;
        case Handle::OutWhite:
            m_levels.outWhite = v;
            report("out-white", v);
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
