// What a picture of a surface asks of the project's lines, and what becomes of each answer. Within the
// folder.
#pragma once

#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/engine/compile.h"
#include "core/engine/resources.h"
#include "core/shading/preview.h"
#include "core/shading/surface.h"
#include "core/shading/surface_points.h"

namespace kettle {

/// The wanted results of one surface's picture, and what becomes of each.
struct Wanted {
    std::vector<Want> wants;
    /// Of each want where its numbers go; none: the opacity, or what is looked at.
    std::vector<std::optional<SurfaceNumber>> first;
    bool isLooked = false, isRaw = false;
};

/// Of a side's project for one surface, without the channels that are off; nothing where it is not shown.
Wanted wantedOf(const PreviewSide& side, const std::set<std::string>& off, const SurfacePoints& group);

/// What a picture depends on beside its program: the maps, and which plane becomes which channel (two
/// channels of equal values share one).
std::vector<std::uint64_t> partsOf(const ResolvedMaps& maps, const Compiled& compiled, const Wanted& wanted);

}  // namespace kettle
