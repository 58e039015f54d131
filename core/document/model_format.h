// File formats of models, recognised by extension.
#pragma once

#include <filesystem>
#include <optional>

namespace kettle {

enum class ModelFormat { Obj, Gltf, Glb, Ply };

/// Case-insensitive; nullopt for other extensions.
std::optional<ModelFormat> modelFormatOf(const std::filesystem::path& file);

/// True for .gltf and .glb, whose unit is the metre.
inline bool isGltf(std::optional<ModelFormat> format) {
    return format == ModelFormat::Gltf || format == ModelFormat::Glb;
}

}  // namespace kettle
