// glTF 2.0: the model with its materials, and looks as variants. Extensions used where a surface needs them:
// KHR_materials_variants, _clearcoat, _sheen, _specular, _emissive_strength (Khronos, ratified).
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/handover/baked_materials.h"
#include "core/scene/mesh.h"

namespace kettle {

struct GltfOptions {
    std::filesystem::path file;  ///< .glb: one file; .gltf: with its buffer and textures beside it
    bool isJpeg = false;         ///< textures without alpha; normals and numbers stay PNG
    int quality = 90;
    ProtectedFiles sources{};  ///< what must not be written to, textures and buffer included
};

struct HandedOver {
    std::vector<std::filesystem::path> files;  ///< what was written
    std::vector<std::string> notes;
};

/// Writes a model with baked materials; the first look is what is shown without variants. Positions become
/// metres, a surface's tiles become materials of their own. Nothing is half-written: textures and the buffer
/// come before the file that names them. Errors: Refused (another ending; a model without texture
/// coordinates; no materials), Write, NoMemory.
Result<HandedOver> writeGltf(const Mesh& mesh, const Project& project, const BakedMaterials& baked,
                             const std::vector<std::string>& looks, const std::string& baseName,
                             const GltfOptions& options);

}  // namespace kettle
