#include "core/geometry/occlusion.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"

namespace kettle {
namespace {

constexpr std::uint16_t kNothing = 65535;

/// Directions over the hemisphere around z, cosine-weighted, by the R2 sequence (M. Roberts 2018).
std::array<Vec3, HiddenDistances::kRays> hemisphere() {
    std::array<Vec3, HiddenDistances::kRays> all;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const double a = 0.5 + 0.7548776662466927 * static_cast<double>(i),
                     b = 0.5698402909980532 * static_cast<double>(i);
        const double r = std::sqrt(a - std::floor(a)), turn = 2 * std::numbers::pi * (b - std::floor(b));
        all[i] = {static_cast<float>(r * std::cos(turn)), static_cast<float>(r * std::sin(turn)),
                  static_cast<float>(std::sqrt(std::max(0.0, 1 - r * r)))};
    }
    // Neighbours in the list go nearly the same way, for packs of rays.
    std::sort(all.begin(), all.end(),
              [](Vec3 p, Vec3 q) { return std::atan2(p.y, p.x) < std::atan2(q.y, q.x); });
    return all;
}

}  // namespace

HiddenDistances::HiddenDistances(const RayScene& scene, const SurfaceSamples& samples,
                                 const std::function<void(double)>& progress)
    : m_distances(samples.size() * kRays, kNothing) {
    Vec3 low, high;
    scene.mesh().bounds(low, high);
    m_longest = std::max(1e-6f, length(high - low));
    const std::array<Vec3, kRays> rays = hemisphere();
    std::atomic<std::size_t> done{0};
    parallelFor(samples.size(), 512, [&](std::size_t begin, std::size_t end) {
        std::array<Vec3, RayScene::kPack> directions;
        std::array<Hit, RayScene::kPack> hits;
        for (std::size_t p = begin; p < end; ++p) {
            const Vec3 normal = samples.normals()[p];
            const Vec3 from = samples.positions()[p] + normal * (m_longest * 2e-4f);
            Vec3 across, along;
            basis(normal, across, along);
            const float turn = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(p));
            const float c = std::cos(turn), s = std::sin(turn);
            const Vec3 x = across * c + along * s, y = along * c - across * s;
            for (std::size_t first = 0; first < kRays; first += RayScene::kPack) {
                for (std::size_t i = 0; i < RayScene::kPack; ++i) {
                    const Vec3 d = rays[first + i];
                    directions[i] = x * d.x + y * d.y + normal * d.z;
                }
                scene.castPack(from, directions.data(), RayScene::kPack, hits.data());
                for (std::size_t i = 0; i < RayScene::kPack; ++i)
                    if (hits[i].found)
                        m_distances[p * kRays + first + i] = static_cast<std::uint16_t>(
                            std::min(65534.0f, hits[i].distance / m_longest * 65534.0f));
            }
        }
        if (progress)
            progress(static_cast<double>(done += end - begin) / static_cast<double>(samples.size()));
    });
}

std::vector<float> HiddenDistances::hidden(float spread, float falloff) const {
    // What a ray adds by its stored distance, so that no power is taken of a ray.
    std::vector<float> adds(65536, 0.0f);
    for (std::size_t d = 0; d < 65535; ++d) {
        const float share = static_cast<float>(d) / 65534.0f * m_longest / spread;
        if (share >= 1) break;
        adds[d] = (1 - std::pow(share, falloff)) / static_cast<float>(kRays);
    }
    std::vector<float> result(m_distances.size() / kRays);
    parallelFor(result.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t p = begin; p < end; ++p) {
            float sum = 0;
            for (std::size_t i = 0; i < kRays; ++i) sum += adds[m_distances[p * kRays + i]];
            result[p] = sum;
        }
    });
    return result;
}

}  // namespace kettle
