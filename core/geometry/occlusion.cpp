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
    constexpr std::size_t kPack = RayScene::kPack;
    const std::size_t packs = (samples.size() + kPack - 1) / kPack;
    parallelFor(packs, 64, [&](std::size_t begin, std::size_t end) {
        std::array<Vec3, kPack> from, x, y, directions;
        std::array<Hit, kPack> hits;
        for (std::size_t pack = begin; pack < end; ++pack) {
            // Neighbouring places, turned alike: their rays go nearly the same way, which is quick.
            const std::size_t first = pack * kPack, count = std::min(kPack, samples.size() - first);
            const float turn = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(pack));
            const float c = std::cos(turn), s = std::sin(turn);
            for (std::size_t i = 0; i < count; ++i) {
                const Vec3 normal = samples.normals()[first + i];
                Vec3 across, along;
                basis(normal, across, along);
                from[i] = samples.positions()[first + i] + normal * (m_longest * 2e-4f);
                x[i] = across * c + along * s, y[i] = along * c - across * s;
            }
            for (std::size_t r = 0; r < kRays; ++r) {
                for (std::size_t i = 0; i < count; ++i)
                    directions[i] =
                        x[i] * rays[r].x + y[i] * rays[r].y + samples.normals()[first + i] * rays[r].z;
                scene.castPack(from.data(), directions.data(), count, hits.data());
                for (std::size_t i = 0; i < count; ++i)
                    if (hits[i].found)
                        m_distances[(first + i) * kRays + r] = static_cast<std::uint16_t>(
                            std::min(65534.0f, hits[i].distance / m_longest * 65534.0f));
            }
        }
        if (progress) progress(static_cast<double>(done += end - begin) / static_cast<double>(packs));
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
