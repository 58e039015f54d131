// Formats of exported materials.
#pragma once

#include <array>
#include <optional>
#include <string_view>

namespace kettle {

enum class MaterialFormat { Glb, Gltf, MaterialXBaked, MaterialXNetwork, MaterialXOpenPbr };

struct MaterialFormatInfo {
    MaterialFormat format;
    const char* id;         ///< for the batch tool
    const char* extension;  ///< of the main file
    bool hasModel;          ///< the file includes the model
};
inline constexpr std::array<MaterialFormatInfo, 5> kMaterialFormats{
    {{MaterialFormat::Glb, "glb", ".glb", true},
     {MaterialFormat::Gltf, "gltf", ".gltf", true},
     {MaterialFormat::MaterialXBaked, "mtlx-baked", ".mtlx", false},
     {MaterialFormat::MaterialXNetwork, "mtlx-network", ".mtlx", false},
     {MaterialFormat::MaterialXOpenPbr, "mtlx-openpbr", ".mtlx", false}}};

constexpr const MaterialFormatInfo& infoOf(MaterialFormat format) {
    return kMaterialFormats[static_cast<std::size_t>(format)];
}
/// nullopt for an unknown id.
inline std::optional<MaterialFormat> materialFormatOf(std::string_view id) {
    for (const MaterialFormatInfo& info : kMaterialFormats)
        if (id == info.id) return info.format;
    return std::nullopt;
}

}  // namespace kettle
