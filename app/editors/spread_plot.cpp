#include "app/editors/spread_plot.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"

namespace kettle {

QPolygonF spreadCurve(const Spread& spread, const QRectF& rect) {
    std::array<float, Spread::kBins> bins{};
    // Normals have no brightness of their own: their lean is in red and green.
    const bool hasBrightness =
        std::any_of(spread.brightness.begin(), spread.brightness.end(), [](float b) { return b > 0; });
    for (std::size_t i = 0; i < bins.size(); ++i) {
        if (hasBrightness || spread.components.empty())
            bins[i] = spread.brightness[i];
        else
            for (std::size_t c = 0; c < std::min<std::size_t>(2, spread.components.size()); ++c)
                bins[i] += spread.components[c][i] / 2;
    }
    const float top = std::max(*std::max_element(bins.begin(), bins.end()), 1e-6f);
    QPolygonF curve;
    for (std::size_t i = 0; i < bins.size(); ++i) {
        const double x = rect.left() + rect.width() * static_cast<double>(i) / (Spread::kBins - 1);
        // A cube root lets a share of a thousandth still be seen.
        curve << QPointF(x, rect.bottom() - rect.height() * std::cbrt(static_cast<double>(bins[i] / top)));
    }
    return curve;
}

SpreadPlot::SpreadPlot(QWidget* parent) : QWidget(parent) {
    setFixedHeight(64);
    setAccessibleName(tr("Spread of values"));
    setToolTip(
        tr("How many values lie where, from dark (left) to light: what comes in as a line, what goes out "
           "filled."));
}

void SpreadPlot::setSpreads(std::optional<Spread> in, std::optional<Spread> out) {
    m_in = std::move(in);
    m_out = std::move(out);
    update();
}

void SpreadPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF r = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    p.setPen(theme::kHairline);
    p.setBrush(theme::kCard);
    p.drawRoundedRect(r, 4, 4);
    const QRectF inside = r.adjusted(4, 6, -4, -2);
    if (m_out) {
        QPolygonF curve = spreadCurve(*m_out, inside);
        curve << inside.bottomRight() << inside.bottomLeft();
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(0xC4, 0xC4, 0xC4));
        p.drawPolygon(curve);
    }
    if (m_in) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kQuiet, 1.2));
        p.drawPolyline(spreadCurve(*m_in, inside));
    }
}

}  // namespace kettle
