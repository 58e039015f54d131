// Models kept beside the prepared maps (prepared_maps.h), so that one that was opened before is read in the
// time that its bytes take.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include "core/image/prepared_maps.h"
#include "core/scene/mesh.h"

namespace kettle {

/// What was kept of a model in this unit, if its file is still as it was; else nothing. Threads: safe.
std::optional<Mesh> findPreparedMesh(const PreparedMaps& prepared, const std::filesystem::path& file,
                                     const std::string& unit);
/// Keeps a model, whole or not at all; small ones are read as quickly and are not kept. Threads: safe.
void keepPreparedMesh(const PreparedMaps& prepared, const std::filesystem::path& file,
                      const std::string& unit, const Mesh& mesh);

}  // namespace kettle
