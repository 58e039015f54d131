#include "core/scene/shadow_smoothing.h"

#include <algorithm>
#include <array>
#include <utility>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/scene/shadow_smoothing.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#ifndef KETTLE_SHADOW_GRID_
#define KETTLE_SHADOW_GRID_
namespace kettle {
namespace {

constexpr int kMostSide = 32, kWindow = 4;
constexpr float kAlike = 0.9f;  ///< cosine between two normals of one surface

/// The points of one layer by their pixels, a plane for each of what is compared and shared. A pixel without
/// one has a part of its own, which is like no other. Rows are longer than a tile: whole vectors are read
/// from any pixel of it on.
struct ShadowGrid {
    static constexpr std::size_t kRow = kMostSide + 16;
    using Row = std::array<float, kRow>;
    using Rows = std::array<Row, kMostSide>;
    alignas(64) Rows part, x, y, z, distance, key, sky;
    alignas(64) Rows smoothKey, smoothSky;
};
constexpr float kNone = -1;

/// Where the window of a pixel begins: around it, and whole.
int windowAt(int at, int size) {
    return std::clamp(at - kWindow / 2, 0, std::max(0, size - kWindow));
}

}  // namespace
}  // namespace kettle
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// One row of a tile's pixels `width` x `height`, from column `begin` to before `end`; each pixel's window
/// begins so many columns from it as the first one's.
template <class D>
void SmoothRow(D d, ShadowGrid& g, int row, int begin, int end, int width, int height, float step) {
    using V = hn::Vec<D>;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto own = static_cast<std::size_t>(row);
    const int offset = windowAt(begin, width) - begin, y0 = windowAt(row, height);
    const int across = std::min(kWindow, width), last = std::min(y0 + kWindow, height);
    const auto alike = hn::Set(d, kAlike), far = hn::Set(d, step), one = hn::Set(d, 1.0f);
    for (int x = begin; x < end; x += lanes) {
        const auto at = static_cast<std::size_t>(x);
        const auto mine = [&](const ShadowGrid::Rows& rows) { return hn::LoadU(d, &rows[own][at]); };
        const V part = mine(g.part), nx = mine(g.x), ny = mine(g.y), nz = mine(g.z),
                distance = mine(g.distance);
        V key = hn::Zero(d), sky = hn::Zero(d), count = hn::Zero(d);
        for (int y = y0; y < last; ++y)
            for (int k = 0; k < across; ++k) {
                const auto other = [&](const ShadowGrid::Rows& rows) {
                    return hn::LoadU(
                        d, &rows[static_cast<std::size_t>(y)][static_cast<std::size_t>(x + offset + k)]);
                };
                const V turned = hn::Add(hn::Add(hn::Mul(other(g.x), nx), hn::Mul(other(g.y), ny)),
                                         hn::Mul(other(g.z), nz));
                const V away = hn::Abs(hn::Sub(other(g.distance), distance));
                const auto isSame =
                    hn::And(hn::Eq(other(g.part), part), hn::And(hn::Ge(turned, alike), hn::Le(away, far)));
                key = hn::Add(key, hn::IfThenElseZero(isSame, other(g.key)));
                sky = hn::Add(sky, hn::IfThenElseZero(isSame, other(g.sky)));
                count = hn::Add(count, hn::IfThenElseZero(isSame, one));
            }
        const V share = hn::Div(one, hn::Max(count, one));  // its own is one of them
        hn::StoreU(hn::Mul(key, share), d, &g.smoothKey[own][at]);
        hn::StoreU(hn::Mul(sky, share), d, &g.smoothSky[own][at]);
    }
}

void SmoothGrid(ShadowGrid& grid, int width, int height, float step) {
    const hn::ScalableTag<float> d;
    const hn::CappedTag<float, 1> single;
    // Windows at the sides do not move with their pixels.
    const int inner = std::min(kWindow / 2, width), outer = std::max(inner, width - kWindow / 2 + 1);
    for (int row = 0; row < height; ++row) {
        if (inner < outer) SmoothRow(d, grid, row, inner, outer, width, height, step);
        for (int x = 0; x < width; ++x)
            if (x < inner || x >= outer) SmoothRow(single, grid, row, x, x + 1, width, height, step);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(SmoothGrid);
}  // namespace

void smoothShadows(std::vector<Surfel>& surfels, const std::vector<float>& distances, const PixelBox& box,
                   float step, bool keyHasSize) {
    ShadowGrid grid{};
    int layers = 0;
    for (const Surfel& s : surfels) layers = std::max(layers, s.layer + 1);
    const auto placeOf = [&](const Surfel& s) {
        const int pixel = static_cast<int>(s.pixel);
        return std::pair(static_cast<std::size_t>(pixel / box.pictureWidth - box.top),
                         static_cast<std::size_t>(pixel % box.pictureWidth - box.left));
    };
    for (int layer = 0; layer < layers; ++layer) {
        for (ShadowGrid::Row& row : grid.part) row.fill(kNone);
        for (std::size_t i = 0; i < surfels.size(); ++i) {
            const Surfel& s = surfels[i];
            if (s.layer != layer) continue;
            const auto [y, x] = placeOf(s);
            grid.part[y][x] = static_cast<float>(s.part);
            grid.x[y][x] = s.normal.x, grid.y[y][x] = s.normal.y, grid.z[y][x] = s.normal.z;
            grid.distance[y][x] = distances[i];
            grid.key[y][x] = s.keyLight, grid.sky[y][x] = s.openness;
        }
        HWY_DYNAMIC_DISPATCH(SmoothGrid)(grid, box.width, box.height, step);
        for (Surfel& s : surfels) {
            if (s.layer != layer) continue;
            const auto [y, x] = placeOf(s);
            if (keyHasSize) s.keyLight = grid.smoothKey[y][x];
            s.openness = grid.smoothSky[y][x];
        }
    }
}

}  // namespace kettle
#endif
