// How often each number stands in a map: what breaking up its repetition keeps.
#pragma once

#include <array>
#include <cstddef>

namespace kettle {

class MapImage;

/// For each component the way from a number to the normal spread around 0.5 with a deviation of 1/6, and
/// back. Source: E. Heitz and F. Neyret 2018, High-Performance By-Example Noise using a Histogram-Preserving
/// Blending Operator; a table for each component, as T. Deliot and E. Heitz 2019.
class SpreadTables {
public:
    static constexpr std::size_t kSize = 1024;
    /// From 512 x 512 places of the map.
    explicit SpreadTables(const MapImage& map);
    /// Piecewise straight; numbers beyond the map's range as its ends.
    float toNormal(std::size_t component, float x) const;
    float fromNormal(std::size_t component, float g) const;
    /// The number that stands for the middle of the spread.
    float mean(std::size_t component) const { return m_mean[component]; }

private:
    std::array<std::array<float, kSize>, 4> m_quantiles{};  ///< at (i + 0.5) / kSize of the places
    std::array<float, 4> m_mean{};
};

}  // namespace kettle
