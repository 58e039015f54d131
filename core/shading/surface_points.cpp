#include "core/shading/surface_points.h"

#include <algorithm>

namespace kettle {
namespace {

/// Points of a view by their places in its lists; empty: all, in order.
struct Chosen {
    const std::vector<std::uint32_t>* order = nullptr;
    std::size_t first = 0, count = 0;
    std::size_t at(std::size_t i) const { return order == nullptr ? i : (*order)[first + i]; }
};

Plane picked(const Plane& from, const Chosen& chosen) {
    Plane to(chosen.count);
    for (std::size_t i = 0; i < chosen.count; ++i) to[i] = from[chosen.at(i)];
    return to;
}

ModelPlaces picked(const ModelPlaces& from, const Chosen& chosen) {
    if (from.empty()) return {};
    ModelPlaces to{std::vector<std::uint32_t>(chosen.count), picked(from.b1, chosen), picked(from.b2, chosen),
                   picked(from.covered, chosen)};
    for (std::size_t i = 0; i < chosen.count; ++i) to.triangles[i] = from.triangles[chosen.at(i)];
    return to;
}

void takeSurfels(const LargeArray<Surfel>& from, const Chosen& chosen, SurfacePoints& to) {
    to.shading = ShadingPlanes(chosen.count);
    to.pixels.resize(chosen.count);
    parallelFor(chosen.count, 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const Surfel& s = from[chosen.at(i)];
            to.shading.set(i, {s.normal, s.tangent, s.view, s.side, s.keyLight, s.openness});
            to.pixels[i] = s.pixel;
        }
    });
}

/// How many surfels each of some bins has.
template <class BinOf>
std::vector<std::size_t> countsOf(const LargeArray<Surfel>& surfels, std::size_t bins, const BinOf& binOf) {
    constexpr std::size_t kTogether = 16384;
    std::vector<std::vector<std::size_t>> parts((surfels.size() + kTogether - 1) / kTogether);
    parallelFor(parts.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t p = begin; p < end; ++p) {
            parts[p].assign(bins, 0);
            const std::size_t last = std::min(surfels.size(), (p + 1) * kTogether);
            for (std::size_t i = p * kTogether; i < last; ++i) ++parts[p][binOf(surfels[i])];
        }
    });
    std::vector<std::size_t> counts(bins, 0);
    for (const auto& part : parts)
        for (std::size_t b = 0; b < bins; ++b) counts[b] += part[b];
    return counts;
}

}  // namespace

std::size_t SurfacePoints::byteSize() const {
    const std::size_t places = points.places.empty() ? 0 : 4;
    return samples.byteSize() + (3 + places + ShadingPlanes::kCount + 1) * points.size() * sizeof(float);
}

std::vector<SurfacePoints> pointsBySurface(const Project& project, const std::vector<int>& ofPart,
                                           ViewPoints& view) {
    const std::vector<std::string> ids = surfaceIds(project);
    constexpr std::size_t kLayers = ViewOptions::kMostLayers;
    const auto binOf = [&](const Surfel& s) {
        const std::size_t group = s.part < ofPart.size() && ofPart[s.part] >= 0
                                      ? static_cast<std::size_t>(ofPart[s.part])
                                      : ids.size();
        return group * kLayers + s.layer;
    };
    const std::vector<std::size_t> counts = countsOf(view.surfels, (ids.size() + 1) * kLayers, binOf);
    std::vector<SurfacePoints> groups;
    const auto add = [&](std::size_t g, const Chosen& chosen) -> SurfacePoints& {
        SurfacePoints& made = groups.emplace_back();
        made.isCovered = g < ids.size();
        if (made.isCovered) made.surface = ids[g];
        takeSurfels(view.surfels, chosen, made);
        std::size_t end = 0;
        for (std::size_t layer = 0; layer < kLayers; ++layer) {
            made.layers.push_back(end);
            end += counts[g * kLayers + layer];
        }
        made.layers.push_back(end);
        return made;
    };
    const auto single = std::find_if(counts.begin(), counts.end(), [](std::size_t n) { return n > 0; });
    if (single != counts.end() && *single == view.surfels.size()) {
        // One surface is all that is seen: its points need not be moved.
        add(static_cast<std::size_t>(single - counts.begin()) / kLayers, {nullptr, 0, view.surfels.size()})
            .points = std::move(view.points);
    } else {
        std::vector<std::size_t> next(counts.size(), 0);
        for (std::size_t b = 1; b < counts.size(); ++b) next[b] = next[b - 1] + counts[b - 1];
        std::vector<std::uint32_t> order(view.surfels.size());
        for (std::size_t i = 0; i < view.surfels.size(); ++i)
            order[next[binOf(view.surfels[i])]++] = static_cast<std::uint32_t>(i);
        std::size_t first = 0;
        for (std::size_t g = 0; g <= ids.size(); ++g) {
            std::size_t count = 0;
            for (std::size_t layer = 0; layer < kLayers; ++layer) count += counts[g * kLayers + layer];
            const Chosen chosen{&order, first, count};
            first += count;
            if (count > 0)
                add(g, chosen).points = {picked(view.points.u, chosen), picked(view.points.v, chosen),
                                         picked(view.points.footprint, chosen),
                                         picked(view.points.places, chosen)};
        }
    }
    view.surfels = {};
    view.points = {};
    return groups;
}

}  // namespace kettle
