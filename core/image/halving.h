// From one level of a map's pyramid to the next coarser one.
#pragma once

#include "core/image/image.h"

namespace kettle {

/// The mean of each four texels, half as wide and half as high (rounded down, at least 1), stored as before.
/// `isSrgb`: the codes of its colours, not of its transparency, are in sRGB; their mean is taken in light, so
/// that a distant red and green mix as light does. Codes are rounded to the nearest, those in sRGB of 16
/// bits to 0.05 of a code. Threads: uses all.
PixelBuffer halved(const PixelBuffer& from, bool isSrgb);

}  // namespace kettle
