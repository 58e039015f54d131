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

/// The weighted mean of three runs of numbers around 0.5. With a footprint their deviation from it is kept,
/// except of points that cover so much of the map that no spread is left. Threads: safe.
void mixHexagons(const float* weight, const float* number, const float* footprint, std::size_t count,
                 float* out);

}  // namespace kettle
