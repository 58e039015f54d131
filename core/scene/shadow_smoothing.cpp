#include "core/scene/shadow_smoothing.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kettle {
namespace {

constexpr int kMostSide = 32, kWindow = 4;
constexpr float kAlike = 0.9f;  ///< cosine between two normals of one surface
constexpr std::int32_t kNone = -1;

/// The points of one layer by their pixels.
using Grid = std::array<std::int32_t, std::size_t{kMostSide} * kMostSide>;

/// Where the window of a pixel begins: around it, and whole.
int windowAt(int at, int size) {
    return std::clamp(at - kWindow / 2, 0, std::max(0, size - kWindow));
}

}  // namespace

void smoothShadows(std::vector<Surfel>& surfels, const std::vector<float>& distances, const PixelBox& box,
                   float step, bool keyHasSize) {
    std::vector<Vec2> smooth(surfels.size());
    Grid grid;
    int layers = 0;
    for (const Surfel& s : surfels) layers = std::max(layers, s.layer + 1);
    const auto column = [&](const Surfel& s) {
        return static_cast<int>(s.pixel) % box.pictureWidth - box.left;
    };
    const auto row = [&](const Surfel& s) { return static_cast<int>(s.pixel) / box.pictureWidth - box.top; };
    for (int layer = 0; layer < layers; ++layer) {
        grid.fill(kNone);
        for (std::size_t i = 0; i < surfels.size(); ++i)
            if (surfels[i].layer == layer)
                grid[static_cast<std::size_t>(row(surfels[i]) * kMostSide + column(surfels[i]))] =
                    static_cast<std::int32_t>(i);
        for (std::size_t i = 0; i < surfels.size(); ++i) {
            const Surfel& own = surfels[i];
            if (own.layer != layer) continue;
            Vec2 sum{0, 0};
            float count = 0;
            const int x0 = windowAt(column(own), box.width), y0 = windowAt(row(own), box.height);
            for (int y = y0; y < std::min(y0 + kWindow, box.height); ++y)
                for (int x = x0; x < std::min(x0 + kWindow, box.width); ++x) {
                    const std::int32_t at = grid[static_cast<std::size_t>(y * kMostSide + x)];
                    if (at == kNone) continue;
                    const Surfel& other = surfels[static_cast<std::size_t>(at)];
                    if (other.part != own.part || dot(other.normal, own.normal) < kAlike ||
                        std::fabs(distances[static_cast<std::size_t>(at)] - distances[i]) > step)
                        continue;
                    sum = sum + Vec2{other.keyLight, other.openness};
                    ++count;
                }
            smooth[i] = sum * (1 / count);  // its own is one of them
        }
    }
    for (std::size_t i = 0; i < surfels.size(); ++i) {
        if (keyHasSize) surfels[i].keyLight = smooth[i].x;
        surfels[i].openness = smooth[i].y;
    }
}

}  // namespace kettle
