// Trilinear lookups in one picture's levels, many points at a time. Private to core/image.
#pragma once

#include "core/image/map_image.h"
#include "core/image/prepared_maps.h"

namespace kettle {

/// What is looked up in.
struct LookedUp {
    const PixelView* levels;  ///< finest first
    int levelCount;           ///< those that may be asked for; the finest is level 0
    bool isSrgb = false;      ///< integers are decoded from sRGB, but for an alpha
    bool repeats = true;      ///< else it ends at its edges
};

/// Points to floats as MapImage::sample: out[i] gets component i if bit i of `mask` is set. Of a point's
/// place the fraction counts. A point gives the same bits whatever other ones are looked up with it. Threads:
/// safe.
void lookUp(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]);

/// The same one point after the other, for levels of more than kMostGathered bytes.
void lookUpOneByOne(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]);
inline constexpr std::size_t kMostGathered = (std::size_t{1} << 31) - 64;

}  // namespace kettle
