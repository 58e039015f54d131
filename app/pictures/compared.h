// Two pictures of one place, and how far they lie apart.
#pragma once

#include <QImage>
#include <QPointF>
#include <cstdint>
#include <memory>
#include <vector>

namespace kettle {

/// The other side of a comparison, and how far it lies from the first.
struct Compared {
    QImage other, heat;
    double mean = 0, percentile95 = 0,
           largest = 0;  ///< CIEDE2000 over what is covered by the model, or over all
    QPointF largestAt;   ///< 0..1 from the top left
};
using ComparedPtr = std::shared_ptr<const Compared>;

/// Pixels 0xAARRGGBB, rows from the top, as a picture of its own; null without pixels.
QImage toImage(const std::vector<std::uint32_t>& pixels, int width, int height);

/// Null unless both pictures are of one size. `covered`: 1 for each pixel that counts for the figures; null:
/// all do.
ComparedPtr compared(const QImage& picture, QImage other, const std::uint8_t* covered);

/// A picture of any size fitted into another's, on a middle grey.
QImage fittedInto(const QImage& still, QSize size);

}  // namespace kettle
