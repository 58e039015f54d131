// The surface's channels: one row says all that the program knows of each.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle {

/// The numbers that a point of the surface is shaded with.
enum class SurfaceNumber : std::uint8_t {
    BaseRed,
    BaseGreen,
    BaseBlue,
    Metalness,
    Roughness,
    SpecularLevel,
    NormalX,
    NormalY,
    NormalZ,
    Occlusion,
    EmissionRed,
    EmissionGreen,
    EmissionBlue,
    Coat,
    CoatRoughness,
    SheenRed,
    SheenGreen,
    SheenBlue,
    SheenRoughness
};

/// The textures of a material that is handed over, and how many components they have of which channels:
/// Base 3 or 4 (display-encoded colour, opacity), Surface 3 (occlusion, roughness, metalness), Normal 3
/// (green up), Emission 3 (display-encoded), Coat 2 (strength, roughness), Sheen 4 (display-encoded colour,
/// roughness), Specular 4 (unused, and the level as alpha).
enum class BakedTexture { Base, Surface, Normal, Emission, Coat, Sheen, Specular };
inline constexpr int kBakedTextures = 7;

/// Where a channel lies in a baked texture: from this component on.
struct Packing {
    BakedTexture texture;
    int component = 0;
    float stored = 0;        ///< what stands there without a line, as stored; of a normal its x and y
    bool isEnough = true;    ///< a line of it alone makes the texture
    bool isLeftOut = false;  ///< without a line there is no such component
};

/// Its inputs in MaterialX's surface shaders; null: none of its own, it is worked into others.
struct MaterialXNames {
    const char* standardSurface = nullptr;
    const char* openPbr = nullptr;
    int order = 0;  ///< among the shader's inputs
};

struct ChannelSpec {
    const char* id;
    const char* name;
    Kind kind;
    /// What the surface uses when there is no line, and what stands in for a map that cannot be read.
    Vec3 neutral;
    /// What a line that is begun in a look has there, so that it is seen.
    Vec3 start = neutral;
    /// What its maps are called in sentences.
    const char* title;
    /// In file names: words in small letters, neighbours joined; and letters that stand alone at the end.
    std::vector<const char*> words{};
    const char* letters = "";
    std::optional<SurfaceNumber> shaded{};  ///< the first of the numbers that it is shaded with
    std::optional<Packing> packing{};       ///< none: no part of materials that are handed over
    MaterialXNames materialX{};
};

/// All of them, in the order of the board.
const std::vector<ChannelSpec>& channels();
/// By id; null for a name that is no channel.
const ChannelSpec* findChannel(const std::string& id);
/// True for the roles of maps whose files hold colours, as people see them, and not numbers.
bool isColourRole(const std::string& role);

/// A component of a baked texture: of a channel's colour or normal "red", "green" or "blue", of a scalar
/// empty; without a channel, `stored` everywhere.
struct PackedPart {
    const char* channel;
    const char* component;
    float stored;
    bool isLeftOut;  ///< as Packing::isLeftOut
};
/// In the order of the texture's components.
std::vector<PackedPart> partsOf(BakedTexture texture);

}  // namespace kettle
