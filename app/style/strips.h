// Painting in strips of a few rows, for pictures and veils: what is tall and drawn often.
#pragma once

#include <QPainter>
#include <QRectF>
#include <QTransform>
#include <cmath>

namespace kettle::theme {

/// Calls `paint()` once for each strip of the area, clipped to it; the pixels are those of a single call.
/// It may paint a little beyond the area, as soft edges do, but nothing far from it.
///
/// Why: Qt 6 gives what covers more than 95 spans (a scaled picture, a colour that lets through) to the
/// threads of its pool, 500 rows at a time, and waits for them. While pictures are computed on all cores that
/// wait is longer than the painting: of a picture drawn four times at twice its size 5 % took over 28 ms, in
/// strips 10 to 18. So the window paints by itself. Round shapes are better left whole: an outline costs as
/// much in every strip, and soft edges are many spans.
template <class Paint>
void inStrips(QPainter& p, const QRectF& area, Paint&& paint) {
    constexpr int kRows = 24;  // up to four spans a row
    constexpr double kBeyond = 4;
    const QTransform toDevice = p.deviceTransform();
    const double scale = toDevice.m22();
    const int first = static_cast<int>(std::floor(toDevice.map(area.topLeft()).y())),
              end = static_cast<int>(std::ceil(toDevice.map(area.bottomLeft()).y()));
    if (end - first <= kRows || scale <= 0) return paint();
    // Cut at whole pixels of the device only, and not at the area's own edges, which may lie between them.
    for (int row = first; row < end; row += kRows) {
        const double top = row == first ? area.top() - kBeyond : (row - toDevice.dy()) / scale;
        const double bottom =
            row + kRows >= end ? area.bottom() + kBeyond : (row + kRows - toDevice.dy()) / scale;
        p.save();
        p.setClipRect(QRectF(area.left() - kBeyond, top, area.width() + 2 * kBeyond, bottom - top),
                      Qt::IntersectClip);
        paint();
        p.restore();
    }
}

/// As QPainter::drawImage, in strips.
inline void drawImage(QPainter& p, const QRectF& target, const QImage& image) {
    inStrips(p, target, [&] { p.drawImage(target, image); });
}
inline void drawImage(QPainter& p, const QRectF& target, const QImage& image, const QRectF& source) {
    inStrips(p, target, [&] { p.drawImage(target, image, source); });
}

}  // namespace kettle::theme
