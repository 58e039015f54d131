// The numbers behind a map whose repetition is broken up, many points at a time. Within the folder.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kettle {

/// The three hexagons that each place lies in: their columns, rows and weights, in three runs of `count` one
/// after the other. A hexagon is about a third of the map wide. Places beyond a million are as at a million.
/// Source: Heitz and Neyret 2018, section 4. Threads: safe.
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

/// The weighted mean of three runs of numbers around 0.5. With a footprint their deviation from it is kept,
/// except of points that cover so much of the map that no spread is left. Threads: safe.
void mixHexagons(const float* weight, const float* number, const float* footprint, std::size_t count,
                 float* out);

}  // namespace kettle
