// How the flat map is painted: its picture or two that are compared, what repeats, values of single pixels,
// marks and pins.
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/preview/flat_view.h"
#include "app/style/strips.h"
#include "app/style/theme.h"

namespace kettle {

void FlatView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const bool isCompared = !m_picture.isNull() && m_overlay.paint(p, rect(), m_picture);
    if (m_picture.isNull())
        p.fillRect(rect(), theme::kHairline);
    else if (!isCompared)
        theme::drawImage(p, rect(), m_picture);
    // What repeats around the one tile is paled, so that its edges are seen without a line over the picture.
    if (!m_picture.isNull() && !isCompared && !m_repeats && !m_isAll) {
        QPainterPath outside, inside;
        outside.addRect(rect());
        inside.addRect(
            QRectF(pixelOf(QPointF(m_tile) + QPointF(0, 1)), pixelOf(QPointF(m_tile) + QPointF(1, 0))));
        theme::inStrips(p, rect(),
                        [&, path = outside.subtracted(inside)] { p.fillPath(path, theme::veil(190)); });
    }
    if (!isCompared) paintValues(p);
    if (!m_overlay.isBeside()) paintMarks(p);
    if (!isCompared && hasFrame() && (underMouse() || m_frameHand.isDragging()))
        m_frameHand.paint(p, m_squareSize, 1);
    if (!isCompared && hasFrame() && underMouse()) paintStamps(p);
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kAccent, 2));
        p.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void FlatView::paintMarks(QPainter& p) const {
    const auto inTile = [](QPointF uv) {
        return QPointF(uv.x() - std::floor(uv.x()), uv.y() - std::floor(uv.y()));
    };
    p.setRenderHint(QPainter::Antialiasing);
    if (m_mark) {
        const QPointF at = pixelOf(inTile(*m_mark));
        p.setPen(QPen(theme::kCard, 3));
        p.drawEllipse(at, 6, 6);
        p.setPen(QPen(theme::kInk, 1.2));
        p.drawEllipse(at, 6, 6);
    }
    p.setFont(theme::font(10, true));
    for (std::size_t i = 0; i < m_pins.size(); ++i) {
        const QPointF at = pixelOf(inTile(m_pins[i]));
        p.setPen(QPen(theme::kCard, 1));
        p.setBrush(theme::kInk);
        p.drawEllipse(at, 8, 8);
        p.drawText(QRectF(at.x() - 8, at.y() - 8, 16, 16), Qt::AlignCenter, QString::number(i + 1));
    }
    p.setBrush(Qt::NoBrush);
    if (!m_band) return;
    p.setPen(QPen(theme::kCard, 3));
    p.drawRect(m_band->normalized());
    p.setPen(QPen(theme::kInk, 1));
    p.drawRect(m_band->normalized());
}

void FlatView::paintStamps(QPainter& p) const {
    if (m_stamps == nullptr || m_stamps->empty()) return;
    QPainterPath outlines;
    for (const StampCorners& corners : *m_stamps) {
        QPolygonF square;
        for (const Vec2 corner : corners) square << pixelOf(QPointF(corner.x, corner.y));
        outlines.addPolygon(square);
        outlines.closeSubpath();
    }
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(theme::kCard, 2.5), QPen(theme::kInk, 1)}) p.strokePath(outlines, pen);
    p.restore();
}

/// The numbers that a display gets, in each pixel of the map that is large enough for them.
void FlatView::paintValues(QPainter& p) const {
    const QSize map = texels();
    if (map.isEmpty() || m_picture.isNull()) return;
    const double across = scale() / map.width(), up = scale() / map.height();
    if (across < 44 || up < 44) return;
    const QPointF low = placeAt({0, static_cast<double>(height())}),
                  high = placeAt({static_cast<double>(width()), 0});
    const double ratio = m_picture.width() / static_cast<double>(width());
    p.setFont(theme::font(11));
    for (int y = static_cast<int>(std::floor(low.y() * map.height()));
         y <= std::floor(high.y() * map.height()); ++y)
        for (int x = static_cast<int>(std::floor(low.x() * map.width()));
             x <= std::floor(high.x() * map.width()); ++x) {
            const QPointF centre = pixelOf({(x + 0.5) / map.width(), (y + 0.5) / map.height()});
            const QPoint at = (centre * ratio).toPoint();
            if (!m_picture.rect().contains(at)) continue;
            const QColor c = m_picture.pixelColor(at);
            const bool isGrey = c.red() == c.green() && c.green() == c.blue();
            const QString words =
                isGrey ? QString::number(c.red())
                       : QStringLiteral("%1\n%2\n%3").arg(c.red()).arg(c.green()).arg(c.blue());
            p.setPen(qGray(c.rgb()) > 120 ? theme::kInk : theme::kCard);
            p.drawText(QRectF(centre.x() - across / 2, centre.y() - up / 2, across, up), Qt::AlignCenter,
                       words);
        }
}

}  // namespace kettle
