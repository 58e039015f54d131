// The formats of models, by the endings of their files.
#pragma once

#include <filesystem>
#include <optional>

namespace kettle {

enum class ModelFormat { Obj, Gltf, Glb, Ply };

/// In any case of letters; nothing for another ending.
std::optional<ModelFormat> modelFormatOf(const std::filesystem::path& file);

/// True for glTF in one file or several, whose unit is the metre.
inline bool isGltf(std::optional<ModelFormat> format) {
    return format == ModelFormat::Gltf || format == ModelFormat::Glb;
}

}  // namespace kettle
