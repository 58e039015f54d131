// How much of the light each part of a model lets by: pictures of its opacity over texture space. What rays
// ask on their way to the light.
#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <vector>

namespace kettle {

/// One surface's opacity, as it stands in each of its tiles. A single tile repeats, as maps do.
class OpacityPictures {
public:
    /// Rows from the top; `size` x `size` numbers from 0 (lets everything by) to 1.
    void set(int tile, int size, std::vector<float> opacity);
    /// At a place in texture space: of the texel that it lies in. A tile that has no picture is opaque.
    float at(float u, float v) const;
    /// True if nothing is seen through it.
    bool isOpaque() const;
    /// Changes with what it holds.
    std::uint64_t id() const { return m_id; }

private:
    struct Picture {
        int size = 0;
        std::vector<float> opacity;
    };
    std::map<int, Picture> m_tiles;
    std::uint64_t m_id = 0;
    float m_least = 1;
};

/// A model's parts with what covers them. Immutable once it is made; any number of threads may ask.
struct SeeThrough {
    std::vector<OpacityPictures> pictures;  ///< of surfaces
    std::vector<int> ofPart;                ///< an index into them; -1, and parts beyond: opaque

    /// Null for a part that nothing is seen through.
    const OpacityPictures* of(std::size_t part) const {
        if (part >= ofPart.size() || ofPart[part] < 0) return nullptr;
        const OpacityPictures& own = pictures[static_cast<std::size_t>(ofPart[part])];
        return own.isOpaque() ? nullptr : &own;
    }
    bool isOpaque() const;
    std::uint64_t id() const;
};

}  // namespace kettle
