#include "core/geometry/occlusion.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>
#include <utility>
#include <vector>

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

/// Every third bit from ten ones.
std::uint32_t spreadBits(std::uint32_t x) {
    x = (x | x << 16) & 0x030000FFu;
    x = (x | x << 8) & 0x0300F00Fu;
    x = (x | x << 4) & 0x030C30C3u;
    return (x | x << 2) & 0x09249249u;
}

/// Places in an order in which those that follow each other lie near each other (Morton's curve) and face
/// nearly the same way: by the octant of their normal first.
std::vector<std::uint32_t> byNeighbourhood(const SurfaceSamples& samples, Vec3 low, float longest) {
    std::vector<std::pair<std::uint64_t, std::uint32_t>> keys(samples.size());
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const Vec3 at = (samples.positions()[i] - low) * (1023 / longest), n = samples.normals()[i];
        const auto cell = [](float x) {
            return spreadBits(static_cast<std::uint32_t>(std::clamp(x, 0.0f, 1023.0f)));
        };
        const std::uint64_t octant = (n.x < 0 ? 1u : 0u) + (n.y < 0 ? 2u : 0u) + (n.z < 0 ? 4u : 0u);
        keys[i] = {octant << 32 | cell(at.x) | cell(at.y) << 1 | cell(at.z) << 2,
                   static_cast<std::uint32_t>(i)};
    }
    std::sort(keys.begin(), keys.end());
    std::vector<std::uint32_t> order(keys.size());
    std::transform(keys.begin(), keys.end(), order.begin(), [](const auto& key) { return key.second; });
    return order;
}

}  // namespace

HiddenDistances::HiddenDistances(const RayScene& scene, const SurfaceSamples& samples,
                                 const std::function<void(double)>& progress)
    : m_distances(samples.size() * kRays, kNothing) {
    Vec3 low, high;
    scene.mesh().bounds(low, high);
    m_longest = std::max(1e-6f, length(high - low));
    const std::array<Vec3, kRays> rays = hemisphere();
    const std::vector<std::uint32_t> order = byNeighbourhood(samples, low, m_longest);
    std::atomic<std::size_t> done{0};
    constexpr std::size_t kPack = RayScene::kPack;
    const std::size_t packs = (samples.size() + kPack - 1) / kPack;
    parallelFor(packs, 64, [&](std::size_t begin, std::size_t end) {
        std::array<Vec3, kPack> from, x, y, normals, directions;
        std::array<Hit, kPack> hits;
        for (std::size_t pack = begin; pack < end; ++pack) {
            // Neighbouring places, turned alike: their rays go nearly the same way, which is quick.
            const std::size_t first = pack * kPack, count = std::min(kPack, samples.size() - first);
            const float turn = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(pack));
            const float c = std::cos(turn), s = std::sin(turn);
            for (std::size_t i = 0; i < count; ++i) {
                const Vec3 normal = normals[i] = samples.normals()[order[first + i]];
                Vec3 across, along;
                basis(normal, across, along);
                from[i] = samples.positions()[order[first + i]] + normal * (m_longest * 2e-4f);
                x[i] = across * c + along * s, y[i] = along * c - across * s;
            }
            for (std::size_t r = 0; r < kRays; ++r) {
                for (std::size_t i = 0; i < count; ++i)
                    directions[i] = x[i] * rays[r].x + y[i] * rays[r].y + normals[i] * rays[r].z;
                scene.castPack(from.data(), directions.data(), count, hits.data());
                for (std::size_t i = 0; i < count; ++i)
                    if (hits[i].found)
                        m_distances[order[first + i] * kRays + r] = static_cast<std::uint16_t>(
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
