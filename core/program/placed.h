// How a map lies: what its sources are read with.
#pragma once

#include <compare>
#include <cstdint>

namespace kettle {

/// The three sides from which a map is seen share a point by the powers of its normal's components. What a
/// side has less than this of it is nothing, and all have so much less before the shares are made 1 in sum:
/// that cannot be seen, and a map need only be read where it is.
inline constexpr float kLeastShare = 1.0f / 1024;

/// A place in texture space, or of the model seen along one of its axes, is turned and moved by a matrix and
/// then looked up. A plain value.
struct Placed {
    /// What is looked up by: texture coordinates, or two of the three coordinates on the model (cm), seen
    /// from the side that the surface turns to that axis: upright, and not mirrored.
    enum class Plane : std::uint8_t { Texture, X, Y, Z };
    enum class Beyond : std::uint8_t { Repeat, Mirror, Once };
    Plane plane = Plane::Texture;
    Beyond across = Beyond::Repeat, up = Beyond::Repeat;
    bool breaksUp = false;  ///< hexagonal tiles of it at random places
    /// Of a map from three sides: 2^sharpness is the power of |n| by which they part (kLeastShare). 0: it is
    /// read everywhere.
    std::uint8_t sharpness = 0;
    bool isNormals = false;  ///< its first two components turn over where it is mirrored
    std::uint32_t seed = 0;
    /// Stamps of the map, one to a cell of the placed plane, at random spots, instead of the map itself.
    bool scatters = false;
    float stamp = 1,
          sizeVary = 0;  ///< how large a stamp is in cells, up to 1.4, and by what share that varies
    float turnVary = 0;  ///< degrees to both sides
    float apart = 0;     ///< how near their middles may lie, in cells: of nearer ones one falls out
    float soft = 0;      ///< how much of a stamp's border fades, 0..1
    float period = 0;    ///< the same stamps again after so many cells; 0: never
    /// How many pictures the map holds side by side and one above the other; a stamp has one of them.
    std::uint8_t picturesAcross = 1, picturesUp = 1;
    /// across' = xx x + xy y + x0, up' = yx x + yy y + y0, in units of the map.
    float xx = 1, xy = 0, x0 = 0, yx = 0, yy = 1, y0 = 0;
    auto operator<=>(const Placed&) const = default;
    /// True if it is read as it lies.
    bool isPlain() const { return *this == Placed{} || (isNormals && *this == plainNormals()); }

private:
    static Placed plainNormals() {
        Placed p;
        p.isNormals = true;
        return p;
    }
};

}  // namespace kettle
