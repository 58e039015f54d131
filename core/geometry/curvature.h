// Where a model's surface bends: edges and hollows.
#pragma once

#include <vector>

#include "core/geometry/surface_samples.h"

namespace kettle {

/// Mean curvature of each place over a spread (cm), times the spread: above 0 at edges, below 0 in hollows,
/// about 1 at a right angle; 1/r times the spread on a sphere of radius r. Half the divergence of the
/// normals, as the best fit over the surroundings: sum w (n' - n) . d / sum w |d|^2 over places at d with the
/// normals n', weighted by area and 1 - (|d| / spread)^2. On a sphere that is exact; unlike differences of
/// neighbouring triangles it needs no even mesh, and shows no facets. Threads: uses all.
std::vector<float> curvatureOf(const Mesh& mesh, const SurfaceSamples& samples, float spread);

}  // namespace kettle
