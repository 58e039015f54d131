// The numbers behind a map whose repetition is broken up, many points at a time. Within the folder.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kettle {

/// The three hexagons that each place lies in: their columns, rows and weights, in three runs of `count` one
/// after the other. A hexagon is about a third of the map wide. Each has kLeastHexagon less than its share,
/// at least 0, and all are made 1 in sum: less of a picture is two or three laid into each other, and what
/// has no weight need not be read. Places beyond a million are as at a million. Sources: Heitz and Neyret
/// 2018, section 4; sharper weights: B. Burley 2019, On Histogram-Preserving Blending for Randomized Texture
/// Tiling. Threads: safe.
inline constexpr float kLeastHexagon = 1.0f / 6;
void findHexagons(const float* u, const float* v, std::size_t count, std::int32_t* column, std::int32_t* row,
                  float* weight);

/// Of runs of kRun points those in which a side has a share (kLeastShare), by where they begin; returns how
/// many. `normal`: of unit length, its components; `side`: 0..2; `sharpness` from 1 on; `runs` has room for
/// all. Threads: safe.
inline constexpr std::size_t kRun = 16;
std::size_t findSeen(const float* const normal[3], std::size_t side, int sharpness, std::size_t count,
                     std::uint32_t* runs);

/// From `first` on, the end of the points that lie in the same hexagon as that one: in vectors, since
/// neighbours mostly do. Threads: safe.
std::size_t endOfHexagon(const std::int32_t* column, const std::int32_t* row, std::size_t first,
                         std::size_t count);

/// From `first` on, the end of the points that all have a weight, or all have none, as that one. Threads:
/// safe.
std::size_t endOfShare(const float* weight, std::size_t first, std::size_t count);

/// One stamp: its middle and size in cells, the turn's cosine and sine, how much of its border fades, and the
/// picture of the map that it is: which of how many, across and up, and half a texel of the map.
struct StampFrame {
    float x, y, size, c, s, soft;
    struct Picture {
        float which, count, halfTexel;
    } across, up;
};
/// The points of a run that a stamp covers: their numbers, how much of it there is so near its edge (0..1),
/// where the map is read and how much of it a point covers. All lists have room for `count` and 16 more;
/// returns how many there are. Threads: safe.
struct StampHits {
    std::uint32_t* points;
    float *edge, *u, *v, *footprint;
};
std::size_t findInStamp(const StampFrame& stamp, const float* x, const float* y, const float* footprint,
                        std::size_t count, std::uint32_t firstPoint, const StampHits& hits);

/// The weighted mean of three runs of numbers around 0.5. With a footprint their deviation from it is kept,
/// except of points that cover so much of the map that no spread is left. Threads: safe.
void mixHexagons(const float* weight, const float* number, const float* footprint, std::size_t count,
                 float* out);

}  // namespace kettle
