// Packed maps: files whose components come from different lines, such as occlusion, roughness and metalness
// in one. What a material for another program, and an export of one's own arrangement, are made of.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/resources.h"
#include "core/image/image.h"
#include "core/threads/parallel.h"

namespace kettle {

/// What one component of a file holds.
struct PackedComponent {
    std::string line;       ///< the line's id; empty: `otherwise` everywhere
    std::string component;  ///< "red", "green", "blue", "alpha" or another of kComponents; empty: the first
    float otherwise = 0;    ///< 0..1, as it is stored
    bool isInverted = false;
    bool operator==(const PackedComponent&) const = default;
};

/// A file that holds several channels: its name stands where a channel's would, and its components name
/// channels where PackedComponent has lines. It is written for surfaces that have at least one of them.
struct PackedFile {
    std::string name;
    std::vector<PackedComponent> components;
    bool operator==(const PackedFile&) const = default;
};
/// Occlusion, roughness and metalness as red, green and blue of "surface" (as glTF has them); opacity as the
/// alpha of "base-colour".
std::vector<PackedFile> packedFiles();

/// What a component of a colour or a normal is asked for by: "red" to "alpha", "x" to "z", "luminance" and so
/// on.
const std::vector<std::string>& packedComponentChoices();

/// Packed files under a name, as somebody wants them for another program. Channels that are in none keep a
/// file of their own.
struct Arrangement {
    std::string name, purpose;
    std::vector<PackedFile> files;
    bool operator==(const Arrangement&) const = default;
};

/// The pixels of such a file: one to four components, integers of 8 or 16 bits. Colours are encoded for
/// display or in `space`, normals stored as 0..1, scalars as they are; what is beyond 0..1 is cut. `dither`:
/// 8 bits keep the mean of finer steps by an ordered pattern (Bayer 1973, 8 x 8) instead of rounding.
/// `object`: whose, where objects share a place. Errors: Refused (no component, an unknown line), Unreadable,
/// NoMemory, Cancelled.
Result<PixelBuffer> renderPacked(const Project& project, const Resources& resources, const std::string& look,
                                 const std::vector<PackedComponent>& components, int width, int height,
                                 int tile, Depth depth, bool dither = false, const std::string& object = {},
                                 const std::string& space = {}, const CancelToken& cancel = {});

/// True if every pixel has the same components; `value` gets them, 0..1.
bool isUniform(const PixelBuffer& pixels, std::vector<float>& value);

}  // namespace kettle
