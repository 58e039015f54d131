// The visible points of a view, sorted by the surface of the project that covers their part, so that each
// surface's lines run over its own points alone.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/scene/view_points.h"

namespace kettle {

/// One surface's points: those of the view's surfels from `first` on.
struct SurfacePoints {
    std::string surface;    ///< its id; empty for the one of a project without surfaces
    bool isCovered = true;  ///< false: parts that no surface covers
    std::size_t first = 0;
    PointSet points;
    SampleCache samples;
};

/// Sorts the view's surfels by surface, keeping their order within each, and hands its points out; the view's
/// own are gone afterwards. `ofPart`: surfacesOfParts() of the model. Surfaces that are not seen are left
/// out.
std::vector<SurfacePoints> pointsBySurface(const Project& project, const std::vector<int>& ofPart,
                                           ViewPoints& view);

}  // namespace kettle
