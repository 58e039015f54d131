// The visible points of a view, sorted by the surface of the project that covers their part, so that each
// surface's lines run over its own points alone.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/scene/view_points.h"
#include "core/shading/surface.h"

namespace kettle {

/// One surface's points, by layer (Surfel::layer) and then in the order of the view.
struct SurfacePoints {
    std::string surface;    ///< its id; empty for the one of a project without surfaces
    bool isCovered = true;  ///< false: parts that no surface covers
    PointSet points;
    ShadingPlanes shading;
    std::vector<std::uint32_t> pixels;  ///< where each point lies in the picture: row * width + column
    /// Where the points of each layer begin, and the end of all. Within a layer no two share a pixel.
    std::vector<std::size_t> layers;
    SampleCache samples;
    /// What it keeps, in bytes.
    std::size_t byteSize() const;
};

/// Sorts the view's surfels by surface, keeping their order within each, and hands them and its points out;
/// the view's own are gone afterwards. `ofPart`: surfacesOfParts() of the model. Surfaces that are not seen
/// are left out.
std::vector<SurfacePoints> pointsBySurface(const Project& project, const std::vector<int>& ofPart,
                                           ViewPoints& view);

}  // namespace kettle
