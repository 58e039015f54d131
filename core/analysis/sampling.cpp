#include "core/analysis/sampling.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kettle {

const float* Sampled::plane(std::size_t want, std::size_t component) const {
    const int at = compiled.planes[want][component];
    return at < 0 ? nullptr : planes[static_cast<std::size_t>(at)].data();
}

std::array<const float*, 3> Sampled::colour(std::size_t want) const {
    return {plane(want, 0), plane(want, 1), plane(want, 2)};
}

bool Sampled::sameRegisters(std::size_t a, std::size_t b) const {
    return compiled.planes[a] == compiled.planes[b];
}

Sampled sampleWants(const Project& project, const Look* look, const std::vector<Want>& wants,
                    const Resources& resources, const PointSet& points, const CancelToken& cancel,
                    const Network* network) {
    Sampled s;
    Rules rules = resources.rules();
    rules.cancel = &cancel, rules.network = network;
    s.compiled = compile(project, look, wants, rules);
    if (cancel.isCancelled()) return s;
    s.maps = resources.resolve(project, s.compiled.program);
    s.count = points.size();
    SampleCache samples;
    samples.prepare(s.compiled.program, s.maps, points);
    run(s.compiled.program, s.maps, samples, points.size(), s.planes, cancel);
    return s;
}

std::vector<int> tilesOf(const Project& project, const Resources& resources) {
    std::set<int> tiles;
    for (const auto& set : project.sets)
        for (const Map& map : set->maps)
            if (isTilePattern(map.file))
                for (const int tile : tilesOnDisk(resources.fileOf(*set, map))) tiles.insert(tile);
    if (tiles.empty()) tiles.insert(1001);
    return {tiles.begin(), tiles.end()};
}

PointSet pointsOver(const std::vector<int>& tiles, int side) {
    const int each = std::max(8, static_cast<int>(side / std::sqrt(static_cast<double>(tiles.size()))));
    const auto perTile = static_cast<std::size_t>(each) * static_cast<std::size_t>(each);
    PointSet all{Plane(perTile * tiles.size()), Plane(perTile * tiles.size()), Plane(perTile * tiles.size())};
    std::size_t at = 0;
    for (const int tile : tiles) {
        const PointSet part = PointSet::grid(each, each, tile);
        for (std::size_t i = 0; i < perTile; ++i, ++at)
            all.u[at] = part.u[i], all.v[at] = part.v[i], all.footprint[at] = part.footprint[i];
    }
    return all;
}

PointSet analysisPoints(const Project& project, const Resources& resources, int side) {
    return pointsOver(tilesOf(project, resources), side);
}

}  // namespace kettle
