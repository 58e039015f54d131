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
    setFixedHeight(sizeHint().height());
    setAccessibleName(tr("Spread of values"));
    setToolTip(
        tr("How many values lie where, from dark (left) to light: what comes in as a line, what goes out "
           "filled. A twentieth lies left of the first dotted line, half left of the second, all but a "
           "twentieth "
           "left of the third."));
}

void SpreadPlot::setSpreads(std::optional<Spread> in, std::optional<Spread> out) {
    if (in == m_in && out == m_out) return;
    m_in = std::move(in);
    m_out = std::move(out);
    update();
}

namespace {
/// Normals have no brightness of their own.
bool hasBrightness(const Spread& spread) {
    return std::any_of(spread.brightness.begin(), spread.brightness.end(), [](float b) { return b > 0; });
}
constexpr int kWords = 16;
}  // namespace

QString SpreadPlot::words() const {
    if (!m_out || !hasBrightness(*m_out)) return {};
    const auto at = [&](float share) {
        return QString::number(static_cast<double>(percentileOf(m_out->brightness, share)), 'f', 2);
    };
    return tr("5 %: %1    half: %2    95 %: %3").arg(at(0.05f), at(0.5f), at(0.95f));
}

void SpreadPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF r = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5 - kWords);
    p.setPen(theme::kHairline);
    p.setBrush(theme::kCard);
    p.drawRoundedRect(r, 4, 4);
    const QRectF inside = r.adjusted(4, 6, -4, -2);
    if (m_out) {
        QPolygonF curve = spreadCurve(*m_out, inside);
        curve << inside.bottomRight() << inside.bottomLeft();
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kHairline);
        p.drawPolygon(curve);
    }
    if (m_out && hasBrightness(*m_out)) {
        p.setPen(QPen(theme::kInk, 1, Qt::DotLine));
        for (const float share : {0.05f, 0.5f, 0.95f}) {
            const double x =
                inside.left() + inside.width() * static_cast<double>(percentileOf(m_out->brightness, share));
            p.drawLine(QPointF(x, inside.top()), QPointF(x, inside.bottom()));
        }
        p.setPen(theme::kQuiet);
        p.setFont(theme::font(11));
        p.drawText(QRectF(0, height() - kWords, width(), kWords), Qt::AlignLeft | Qt::AlignVCenter, words());
    }
    if (m_in) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kQuiet, 1.2));
        p.drawPolyline(spreadCurve(*m_in, inside));
    }
}

}  // namespace kettle
