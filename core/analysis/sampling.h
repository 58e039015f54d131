// Results of a project on a set of points: what every analysis starts from.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/engine/compile.h"
#include "core/engine/run.h"

namespace kettle {

/// The planes of some wants. Moves only, since it owns large memory.
struct Sampled {
    Compiled compiled;
    ResolvedMaps maps;
    std::vector<Plane> planes;
    std::size_t count = 0;

    /// Component c (0..3) of want w, or null beyond its components.
    const float* plane(std::size_t want, std::size_t component) const;
    /// Three planes of a want; a scalar's in the first alone.
    std::array<const float*, 3> colour(std::size_t want) const;
    /// True if both wants are the same registers: equal without looking at a number.
    bool sameRegisters(std::size_t a, std::size_t b) const;
};

/// Errors: none; missing maps read as neutral and are named in `maps.problems`. The planes are unfinished if
/// `cancel` was asked for. `network`: of the project, if somebody has it.
Sampled sampleWants(const Project& project, const Look* look, const std::vector<Want>& wants,
                    const Resources& resources, const PointSet& points, const CancelToken& cancel = {},
                    const Network* network = nullptr);

/// The UDIM tiles that the project's maps have on disk, sorted; 1001 alone if there are none.
std::vector<int> tilesOf(const Project& project, const Resources& resources);
/// A regular grid over each tile, about side x side points in all, at least 8 x 8 a tile.
PointSet pointsOver(const std::vector<int>& tiles, int side);
/// A regular grid over every tile that the project's maps have, about side x side points in all.
PointSet analysisPoints(const Project& project, const Resources& resources, int side);

}  // namespace kettle
