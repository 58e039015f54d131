// Lookups of maps that do not lie as their texture coordinates say.
#pragma once

#include <cstdint>
#include <vector>

#include "core/image/map_image.h"
#include "core/program/placed.h"

namespace kettle {

class StampsWhere;

/// Where points lie before they are placed; `x` and `y` in the plane of the placement, `footprint` in its
/// units.
struct PlacedPoints {
    const float *x, *y, *footprint;
    std::size_t count;
};

/// Looks a map up through a placement: component i to out[i] where bit i of `mask` is set. Beyond the edges
/// of a map that lies once, `outside`, and alpha 0.
class PlacedLookup {
public:
    /// `where`: which stamps lie; null: all. Borrows everything.
    PlacedLookup(const MapImage& map, const Placed& placed, const std::array<float, 4>& outside,
                 const StampsWhere* where = nullptr)
        : m_map(map), m_placed(placed), m_outside(outside), m_where(where) {}
    void sample(const PlacedPoints& points, unsigned mask, float* const out[4]);

private:
    void sampleOnce(std::size_t count, unsigned mask, float* const out[4]);
    void sampleBroken(std::size_t count, unsigned mask, float* const out[4]);
    void sampleBrokenPiece(std::size_t first, std::size_t count, unsigned mask, float* const out[4]);
    void readHexagons(std::size_t first, std::size_t count, std::size_t k, unsigned mask, float* read);
    bool isTabled(std::size_t component) const;
    void sampleScattered(const PlacedPoints& points, unsigned mask, float* const out[4]);

    const MapImage& m_map;
    const Placed& m_placed;
    std::array<float, 4> m_outside;
    const StampsWhere* m_where;
    std::vector<float> m_u, m_v, m_footprint, m_memory;
    std::vector<std::int32_t> m_cells;
    std::vector<std::uint8_t> m_state;  ///< 1: outside, 2: mirrored across, 4: mirrored up
};

}  // namespace kettle
