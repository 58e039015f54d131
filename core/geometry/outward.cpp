#include "core/geometry/outward.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

#include "core/base/hash.h"

namespace kettle {
namespace {

constexpr std::size_t kTriangles = 96;
/// By so much more open must the other side be.
constexpr double kClearly = 0.1;

/// How much of a pack of rays over the hemisphere meets nothing.
double openShare(const RayScene& scene, Vec3 at, Vec3 normal, float nearest, float farthest,
                 std::uint64_t seed) {
    Vec3 across, along;
    basis(normal, across, along);
    std::array<Vec3, RayScene::kPack> from, to;
    for (std::size_t i = 0; i < RayScene::kPack; ++i) {
        const float radius = std::sqrt((static_cast<float>(i) + 0.5f) / static_cast<float>(RayScene::kPack));
        const float turn = 6.2831853f * (0.618034f * static_cast<float>(i) + unitFloat(mixBits(seed)));
        to[i] = across * (radius * std::cos(turn)) + along * (radius * std::sin(turn)) +
                normal * std::sqrt(std::max(0.0f, 1 - radius * radius));
        from[i] = at + normal * nearest;
    }
    const unsigned blocked = scene.blockedOfPack(from.data(), to.data(), RayScene::kPack, 0, farthest, false);
    return 1 - static_cast<double>(std::popcount(blocked)) / static_cast<double>(RayScene::kPack);
}

bool pointsInward(const RayScene& scene, const std::vector<std::uint32_t>& triangles) {
    const Mesh& mesh = scene.mesh();
    Vec3 low, high;
    mesh.bounds(low, high);
    const float size = length(high - low);
    double more = 0;
    const std::size_t count = std::min(kTriangles, triangles.size());
    for (std::size_t k = 0; k < count; ++k) {
        const std::uint32_t t = triangles[k * triangles.size() / count];
        const std::uint32_t* c = &mesh.indices[3 * static_cast<std::size_t>(t)];
        const Vec3 at = (mesh.positions[c[0]] + mesh.positions[c[1]] + mesh.positions[c[2]]) * (1.0f / 3);
        const Vec3 normal = normalised(mesh.normals[c[0]] + mesh.normals[c[1]] + mesh.normals[c[2]]);
        more += openShare(scene, at, -normal, size * 2e-4f, size, t) -
                openShare(scene, at, normal, size * 2e-4f, size, t);
    }
    return more > kClearly * static_cast<double>(count);
}

}  // namespace

std::optional<Mesh> turnedOutward(const RayScene& scene) {
    const Mesh& mesh = scene.mesh();
    std::vector<std::vector<std::uint32_t>> ofPart(mesh.parts.size());
    for (std::uint32_t t = 0; t < mesh.triangleCount(); ++t)
        if (mesh.trianglePart[t] < ofPart.size()) ofPart[mesh.trianglePart[t]].push_back(t);
    std::vector<std::uint8_t> isInward(ofPart.size(), 0);
    parallelFor(ofPart.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t p = begin; p < end; ++p) isInward[p] = pointsInward(scene, ofPart[p]) ? 1 : 0;
    });
    if (std::all_of(isInward.begin(), isInward.end(), [](std::uint8_t i) { return i == 0; }))
        return std::nullopt;
    Mesh turned = mesh;
    std::vector<bool> isTurned(mesh.normals.size(), false);
    for (std::size_t p = 0; p < ofPart.size(); ++p) {
        if (isInward[p] == 0) continue;
        for (const std::uint32_t t : ofPart[p])
            for (std::size_t k = 0; k < 3; ++k) {
                const std::uint32_t v = mesh.indices[3 * static_cast<std::size_t>(t) + k];
                if (!isTurned[v]) turned.normals[v] = -turned.normals[v];
                isTurned[v] = true;
            }
    }
    return turned;
}

}  // namespace kettle
