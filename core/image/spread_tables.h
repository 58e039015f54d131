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
    /// Between even steps, straight; numbers beyond the map's range as its ends. component: 0 to 3.
    float toNormal(std::size_t component, float x) const {
        const Component& c = m_components[component];
        return between(c.there, (x - c.low) * c.scale);
    }
    float fromNormal(std::size_t component, float g) const {
        return between(m_components[component].back, g * static_cast<float>(kSteps));
    }

private:
    static constexpr std::size_t kSteps = 4096;
    using Table = std::array<float, kSteps + 2>;
    struct Component {
        Table there{}, back{};  ///< by the map's range, and by 0..1 of the normal spread
        float low = 0, scale = 0;
    };
    static float between(const Table& table, float at) {
        // Not a number: as the lowest.
        const float t = at > 0 ? (at < static_cast<float>(kSteps) ? at : static_cast<float>(kSteps)) : 0.0f;
        const auto i = static_cast<std::size_t>(t);
        const float f = t - static_cast<float>(i);
        return table[i] + (table[i + 1] - table[i]) * f;
    }
    static void fill(Component& component, const std::vector<float>& sorted);
    std::array<Component, 4> m_components;
};

}  // namespace kettle
