#include "core/shading/surface_points.h"

#include <algorithm>

namespace kettle {
namespace {

Plane picked(const Plane& from, const std::vector<std::uint32_t>& order, std::size_t first,
             std::size_t count) {
    Plane to(count);
    for (std::size_t i = 0; i < count; ++i) to[i] = from[order[first + i]];
    return to;
}

}  // namespace

std::vector<SurfacePoints> pointsBySurface(const Project& project, const std::vector<int>& ofPart,
                                           ViewPoints& view) {
    const std::vector<std::string> ids = surfaceIds(project);
    const auto groupOf = [&](const Surfel& s) {
        return s.part < ofPart.size() && ofPart[s.part] >= 0 ? static_cast<std::size_t>(ofPart[s.part])
                                                             : ids.size();
    };
    std::vector<std::size_t> counts(ids.size() + 1, 0);
    for (const Surfel& s : view.surfels) ++counts[groupOf(s)];
    std::vector<SurfacePoints> groups;
    const auto add = [&](std::size_t g, std::size_t first) -> SurfacePoints& {
        SurfacePoints& made = groups.emplace_back();
        made.isCovered = g < ids.size();
        if (made.isCovered) made.surface = ids[g];
        made.first = first;
        return made;
    };
    // One surface is all that is seen: nothing needs to be moved.
    for (std::size_t g = 0; g < counts.size(); ++g)
        if (counts[g] == view.surfels.size() && counts[g] > 0) {
            add(g, 0).points = std::move(view.points);
            view.points = {};
            return groups;
        }
    std::vector<std::size_t> next(counts.size(), 0);
    for (std::size_t g = 1; g < counts.size(); ++g) next[g] = next[g - 1] + counts[g - 1];
    std::vector<std::uint32_t> order(view.surfels.size());
    for (std::size_t i = 0; i < view.surfels.size(); ++i)
        order[next[groupOf(view.surfels[i])]++] = static_cast<std::uint32_t>(i);
    std::vector<Surfel> sorted;
    sorted.reserve(order.size());
    for (const std::uint32_t i : order) sorted.push_back(view.surfels[i]);
    std::size_t first = 0;
    for (std::size_t g = 0; g < counts.size(); first += counts[g++])
        if (counts[g] > 0)
            add(g, first).points = {picked(view.points.u, order, first, counts[g]),
                                    picked(view.points.v, order, first, counts[g]),
                                    picked(view.points.footprint, order, first, counts[g])};
    view.surfels = std::move(sorted);
    view.points = {};
    return groups;
}

}  // namespace kettle
