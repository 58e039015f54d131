// MaterialX: the baked materials of a project as standard_surface or open_pbr_surface, with its looks as
// looks. Document colour space lin_rec709; images srgb_texture, or none for numbers.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/handover/baked_materials.h"
#include "core/handover/gltf.h"

namespace kettle {

enum class MaterialXSurface { Standard, OpenPbr };

struct MaterialXOptions {
    std::filesystem::path file;  ///< .mtlx; its images go into a folder beside it, which bears its name
    /// Standard: version 1.38, which all readers know; OpenPbr: 1.39, which brought that surface.
    MaterialXSurface surface = MaterialXSurface::Standard;
};

/// Writes one document: for each surface and look a material, for each look a <look> that assigns them to the
/// model's parts. Images are made one a channel, tiles by the token <UDIM>. Errors: Refused (another ending;
/// no look), those of exportMaps, Write. The images come before the document.
Result<HandedOver> writeMaterialX(const Project& project, const Resources& resources,
                                  const std::vector<std::string>& modelParts,
                                  const std::vector<std::string>& looks, const std::string& baseName,
                                  int size, const MaterialXOptions& options, const CancelToken& cancel = {},
                                  const std::function<void(double, const std::string&)>& progress = {});

}  // namespace kettle
