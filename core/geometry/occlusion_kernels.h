// The place beside another one, of many at a time. Within the folder.
#pragma once

#include <cstddef>

#include "core/base/vec.h"

namespace kettle {

/// Places component by component; `count` a multiple of 16. Where none is, x is kNoPlace.
struct PlacesBeside {
    const float *x, *y, *z, *normalX, *normalY, *normalZ;
    std::size_t count;
    static constexpr float kNoPlace = 1e18f;
};

/// The nearest of some places to one that lies no farther away (squared), faces alike (the cosine between the
/// normals) and off its plane by no more than a share of the way; of equally near ones the first, `count` if
/// there is none. Threads: safe.
std::size_t nearestBeside(const PlacesBeside& places, Vec3 at, Vec3 normal, float farthestSquared,
                          float alike, float step);

}  // namespace kettle
