// How often each number stands in a map: what breaking up its repetition keeps.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

namespace kettle {

class MapImage;

/// For each component the way from a number to the normal spread around 0.5 with a deviation of 1/6, and
/// back. Source: E. Heitz and F. Neyret 2018, High-Performance By-Example Noise using a Histogram-Preserving
/// Blending Operator; a table for each component, as T. Deliot and E. Heitz 2019.
class SpreadTables {
public:
    /// From 512 x 512 places of the map.
    explicit SpreadTables(const MapImage& map);
    /// `count` numbers in place, between even steps straight; numbers beyond the map's range as its ends.
    /// component: 0 to 3. Threads: safe.
    void toNormal(std::size_t component, float* numbers, std::size_t count) const;
    void fromNormal(std::size_t component, float* numbers, std::size_t count) const;

private:
    static constexpr std::size_t kSteps = 4096;
    using Table = std::array<float, kSteps + 2>;
    struct Component {
        Table there{}, back{};  ///< by the map's range, and by 0..1 of the normal spread
        float low = 0, scale = 0;
    };
    static void fill(Component& component, const std::vector<float>& sorted);
    std::array<Component, 4> m_components;
};

}  // namespace kettle
