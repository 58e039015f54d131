// Ways to look at a project's layers: projects that are shown in its place and never saved.
#pragma once

#include <string>

#include "core/document/layers.h"

namespace kettle {

/// The surface as it is with this layer and those below it: what stands above on the lines is bypassed in all
/// looks. The project itself for an unknown layer.
Project upToLayer(const Project& project, const std::string& layer);

/// The same without the layer itself: of the lowest layer, the bare surface.
Project belowLayer(const Project& project, const std::string& layer);

/// Only this layer over neutral channels, with its mask as it is.
Project onlyLayer(const Project& project, const std::string& layer);

/// The layer's mask laid over the surface in a strong colour, and the rest made grey.
Project withMaskShown(const Project& project, const std::string& layer);

}  // namespace kettle
