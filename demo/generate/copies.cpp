// Models of many copies: a shelf of 48 cups, and a wall of 300 tiles. Each is one mesh and as many nodes.
#include <fmt/format.h>

#include <cmath>

#include "demo/generate/curves.h"
#include "demo/generate/glb_writer.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

/// A board of a size, its middle at the foot of its front edge's middle.
void board(GlbWriter& glb, const char* material, float width, float height, float depth) {
    glb.mesh(material);
    const auto side = [&](Vec3 from, Vec3 across, Vec3 up, Vec2 at, Vec2 size) {
        glb.grid(
            1, 1, [=](float s, float t) { return from + across * s + up * t; },
            region(at.x, at.y, at.x + size.x, at.y + size.y));
    };
    const float w = width / 2;
    const Vec3 x{width, 0, 0}, y{0, height, 0}, z{0, 0, -depth};
    side({-w, 0, 0}, x, y, {0, 0}, {1, 0.08f});
    side({w, 0, -depth}, -x, y, {0, 0.1f}, {1, 0.08f});
    side({-w, height, 0}, x, z, {0, 0.2f}, {1, 0.38f});
    side({-w, 0, -depth}, x, -z, {0, 0.6f}, {1, 0.38f});
    side({w, 0, 0}, z, y, {0, 0}, {0.2f, 0.08f});
    side({-w, 0, -depth}, -z, y, {0, 0.1f}, {0.2f, 0.08f});
}

}  // namespace

Result<void> writeCupShelf(const std::filesystem::path& folder) {
    GlbWriter glb;
    const int cup = glb.mesh("glaze");
    glb.grid(40, 32, lathe(cupProfile()), region(0, 0, 2, 1));
    glb.grid(12, 20, tube(cupHandle(0), [](float) { return 0.42f; }), region(0, 0, 0.2f, 0.5f), true);
    constexpr int kRows = 4, kAcross = 12;
    constexpr float kApart = 12.5f, kStorey = 15, kThick = 1.6f, kWidth = kAcross * kApart + 6;
    board(glb, "plank", kWidth, kThick, 14);
    board(glb, "post", 2, kRows * kStorey + kThick, 14);
    for (int row = 0; row < kRows; ++row)
        for (int k = 0; k < kAcross; ++k)
            glb.copy(fmt::format("cup-{}", row * kAcross + k + 1), cup,
                     {(static_cast<float>(k) - (kAcross - 1) / 2.0f) * kApart - 0.8f,
                      static_cast<float>(row) * kStorey + kThick, -6.5f});
    for (int row = 0; row <= kRows; ++row)
        glb.copy(fmt::format("plank-{}", row + 1), 1, {0, static_cast<float>(row) * kStorey, 0});
    glb.copy("post-left", 2, {-kWidth / 2 - 1, 0, 0});
    glb.copy("post-right", 2, {kWidth / 2 + 1, 0, 0});
    return glb.save(folder / "shelf.glb");
}

Result<void> writeTileWall(const std::filesystem::path& folder) {
    GlbWriter glb;
    constexpr float kSide = 9.6f, kJoint = 0.4f, kThick = 0.8f, kRound = 0.5f;
    const int tile = glb.mesh("glaze");
    // A cushion: flat in the middle, falling away at its rim.
    glb.grid(
        12, 12,
        [=](float s, float t) {
            const float x = (s - 0.5f) * kSide, y = (t - 0.5f) * kSide;
            const float rim = std::max(std::fabs(x), std::fabs(y)) - (kSide / 2 - kRound);
            const float fall = rim > 0 ? kRound - std::sqrt(std::max(0.0f, kRound * kRound - rim * rim)) : 0;
            return Vec3{x, y, kThick - fall};
        },
        region(0.02f, 0.02f, 0.98f, 0.98f));
    board(glb, "mortar", 20 * (kSide + kJoint) + 2, 15 * (kSide + kJoint) + 2, 2);
    for (int row = 0; row < 15; ++row)
        for (int k = 0; k < 20; ++k)
            glb.copy(fmt::format("tile-{}", row * 20 + k + 1), tile,
                     {(static_cast<float>(k) - 9.5f) * (kSide + kJoint),
                      (static_cast<float>(row) + 0.5f) * (kSide + kJoint) + 1, 0});
    glb.copy("wall", 1, {0, 0, 0.1f});
    return glb.save(folder / "wall.glb");
}

}  // namespace kettle::demo
