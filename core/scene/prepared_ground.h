// The ground's shadow kept beside the prepared maps (prepared_maps.h): its rays are most of what a picture
// waits for before its first pass.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include "core/image/prepared_maps.h"
#include "core/scene/view_points.h"

namespace kettle {

/// What a ground's shadow depends on, of a model as its file has it: nothing moved, nothing seen through.
struct GroundKey {
    std::filesystem::path model;
    std::string unit;
    Vec3 keyDirection;
    float keyRadius = 0;  ///< degrees
    int size = 0;         ///< places across
};

/// What was kept, if the model's file is still as it was; else nothing. Threads: safe.
std::optional<GroundShade> findPreparedGround(const PreparedMaps& prepared, const GroundKey& key);
/// Keeps it, whole or not at all. Threads: safe.
void keepPreparedGround(const PreparedMaps& prepared, const GroundKey& key, const GroundShade& shade);

}  // namespace kettle
