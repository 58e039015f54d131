// The surface's channels: one row declares everything the program needs to know of a channel.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle {

/// Shading inputs, one number each.
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

/// The textures of an exported material, with their number of components:
/// Base 3 or 4 (display-encoded colour, opacity), Surface 3 (occlusion, roughness, metalness), Normal 3
/// (green up), Emission 3 (display-encoded), Coat 2 (strength, roughness), Sheen 4 (display-encoded colour,
/// roughness), Specular 4 (unused, and the level as alpha).
enum class BakedTexture { Base, Surface, Normal, Emission, Coat, Sheen, Specular };
inline constexpr int kBakedTextures = 7;

/// The place of a channel in a baked texture: its first component.
struct Packing {
    BakedTexture texture;
    int component = 0;
    float stored = 0;          ///< value without a line, as stored; x and y of a normal
    bool isSufficient = true;  ///< a line of this channel alone requires the texture
    bool isOptional = false;   ///< the component is left out without a line
};

/// Input names in MaterialX's surface shaders; null: no input of its own, other inputs are derived from it.
struct MaterialXNames {
    const char* standardSurface = nullptr;
    const char* openPbr = nullptr;
    int order = 0;  ///< among the shader's inputs
};

struct ChannelSpec {
    const char* id;
    const char* name;
    Kind kind;
    /// Value without a line, and of a map that cannot be read.
    Vec3 neutral;
    /// Initial value of a line added in a look, chosen to be visible.
    Vec3 start = neutral;
    /// Name of its maps in sentences.
    const char* title;
    /// Recognised in file names: lower-case words (neighbours are also tried joined), and single letters at
    /// the end.
    std::vector<const char*> words{};
    const char* letters = "";
    std::optional<SurfaceNumber> shaded{};  ///< its first shading input
    std::optional<Packing> packing{};       ///< none: not part of exported materials
    MaterialXNames materialX{};
};

/// All of them, in the order of the board.
const std::vector<ChannelSpec>& channels();
/// Null for an unknown id.
const ChannelSpec* findChannel(const std::string& id);
/// True for roles of maps that hold colours (encoded), not raw numbers.
bool isColourRole(const std::string& role);

/// A component of a baked texture. `component`: "red", "green" or "blue" of a colour or normal, empty for a
/// scalar. An empty channel: the constant `stored`.
struct PackedPart {
    const char* channel;
    const char* component;
    float stored;
    bool isOptional;  ///< as Packing::isOptional
};
/// In the order of the texture's components.
std::vector<PackedPart> partsOf(BakedTexture texture);

}  // namespace kettle
