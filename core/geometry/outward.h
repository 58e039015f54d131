// Parts whose normals point into them, as models from elsewhere often have. A view shows both sides of a
// sheet and does not mind; occlusion, edges and directions do.
#pragma once

#include <optional>

#include "core/scene/rays.h"

namespace kettle {

/// The mesh with the parts turned that are wider open on the side their normals turn away from; nothing if
/// all are as they should be. Told by rays to both sides from up to 96 triangles of each part; a sheet that
/// is open to both stays. Threads: uses all.
std::optional<Mesh> turnedOutward(const RayScene& scene);

}  // namespace kettle
