// The forms in which materials are handed over.
#pragma once

#include <array>
#include <optional>
#include <string_view>

namespace kettle {

enum class MaterialFormat { Glb, Gltf, MaterialXBaked, MaterialXNetwork, MaterialXOpenPbr };

struct MaterialFormatInfo {
    MaterialFormat format;
    const char* id;         ///< as the batch tool takes it
    const char* extension;  ///< of the file that is named
    bool hasModel;          ///< it bears the model with the materials
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
/// By its id; nothing for a word that is none.
inline std::optional<MaterialFormat> materialFormatOf(std::string_view id) {
    for (const MaterialFormatInfo& info : kMaterialFormats)
        if (id == info.id) return info.format;
    return std::nullopt;
}

}  // namespace kettle
