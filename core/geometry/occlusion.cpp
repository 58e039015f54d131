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
    constexpr std::size_t kOctants = 8;
    using Key = std::pair<std::uint32_t, std::uint32_t>;  // on the curve, and which place
    const auto octantOf = [&](std::size_t place) {
        const Vec3 n = samples.normals()[place];
        return (n.x < 0 ? 1u : 0u) + (n.y < 0 ? 2u : 0u) + (n.z < 0 ? 4u : 0u);
    };
    std::array<std::vector<Key>, kOctants> keys;
    std::array<std::size_t, kOctants + 1> first{};
    for (std::size_t i = 0; i < samples.size(); ++i) ++first[octantOf(i) + 1];
    for (std::size_t o = 0; o < kOctants; ++o) first[o + 1] += first[o];
    std::vector<std::uint32_t> order(samples.size());
    parallelFor(kOctants, 1, [&](std::size_t begin, std::size_t end) {
        const auto cell = [](float x) {
            return spreadBits(static_cast<std::uint32_t>(std::clamp(x, 0.0f, 1023.0f)));
        };
        for (std::size_t o = begin; o < end; ++o) {
            keys[o].reserve(first[o + 1] - first[o]);
            for (std::size_t i = 0; i < samples.size(); ++i) {
                if (octantOf(i) != o) continue;
                const Vec3 at = (samples.positions()[i] - low) * (1023 / longest);
                keys[o].emplace_back(cell(at.x) | cell(at.y) << 1 | cell(at.z) << 2,
                                     static_cast<std::uint32_t>(i));
            }
            std::sort(keys[o].begin(), keys[o].end());
            std::transform(keys[o].begin(), keys[o].end(),
                           order.begin() + static_cast<std::ptrdiff_t>(first[o]),
                           [](const Key& key) { return key.second; });
        }
    });
    return order;
}

/// For each place the first one, in this order, that lies where it lies and faces as it does: triangles
/// beside each other have the places of their edge both, which are half of all. Those that are their own stay
/// in `order`.
std::vector<std::uint32_t> ownersOf(const SurfaceSamples& samples, float spacing,
                                    std::vector<std::uint32_t>& order) {
    constexpr std::size_t kLookBack = 8;  // as many triangles as mostly meet in a corner
    constexpr float kSame = 1e-3f, kAlike = 0.9999f;
    std::vector<std::uint32_t> owners(samples.size()), kept;
    kept.reserve(order.size());
    for (const std::uint32_t place : order) {
        owners[place] = place;
        const std::size_t first = kept.size() - std::min(kept.size(), kLookBack);
        for (std::size_t k = kept.size(); k-- > first;) {
            const Vec3 to = samples.positions()[kept[k]] - samples.positions()[place];
            if (dot(to, to) > kSame * kSame * spacing * spacing ||
                dot(samples.normals()[kept[k]], samples.normals()[place]) < kAlike)
                continue;
            owners[place] = kept[k];
            break;
        }
        if (owners[place] == place) kept.push_back(place);
    }
    order = std::move(kept);
    return owners;
}

constexpr std::size_t kPack = RayScene::kPack, kRays = HiddenDistances::kRays;
/// A block's places in turn cast one of kShares interleaved parts of the rays; what is missing they take from
/// each other.
constexpr std::size_t kNeighbours = 64, kShares = 4;

/// How far apart places lie, on the whole, cm.
float spacingOf(const Mesh& mesh, std::size_t places) {
    double area = 0;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t* c = &mesh.indices[3 * t];
        area += 0.5 * static_cast<double>(length(cross(mesh.positions[c[1]] - mesh.positions[c[0]],
                                                       mesh.positions[c[2]] - mesh.positions[c[0]])));
    }
    return static_cast<float>(std::sqrt(area / static_cast<double>(std::max<std::size_t>(1, places))));
}

/// Neighbouring places with their rays' frames, turned alike, so that rays of one number go nearly the same
/// way.
struct Neighbours {
    std::size_t count = 0;
    std::array<Vec3, kNeighbours> at, from, x, y, normal;
    std::array<std::uint16_t*, kNeighbours> distances;
};

struct Caster {
    const RayScene& scene;
    float longest, spacing;
    const std::array<Vec3, kRays>& rays;

    /// The share `s` of the rays of up to kPack places of the block.
    void cast(const Neighbours& block, const std::size_t places[], std::size_t count, std::size_t s) const {
        std::array<Vec3, kPack> from, directions;
        std::array<Hit, kPack> hits;
        for (std::size_t i = 0; i < count; ++i) from[i] = block.from[places[i]];
        for (std::size_t r = s; r < kRays; r += kShares) {
            for (std::size_t i = 0; i < count; ++i)
                directions[i] = block.x[places[i]] * rays[r].x + block.y[places[i]] * rays[r].y +
                                block.normal[places[i]] * rays[r].z;
            scene.castPack(from.data(), directions.data(), count, hits.data());
            for (std::size_t i = 0; i < count; ++i)
                block.distances[places[i]][r] = hits[i].found
                                                    ? static_cast<std::uint16_t>(std::min(
                                                          65534.0f, hits[i].distance / longest * 65534.0f))
                                                    : kNothing;
        }
    }
    /// The nearest place of a share that lies beside this one, in nearly the same plane, and faces alike;
    /// kNeighbours if there is none. Over two spacings what is hidden varies less than 64 rays can tell.
    std::size_t neighbour(const Neighbours& block, std::size_t p, std::size_t s) const {
        constexpr float kNear = 2, kAlike = 0.97f, kStep = 0.25f;
        float best = kNear * kNear * spacing * spacing;
        std::size_t found = kNeighbours;
        for (std::size_t q = s; q < block.count; q += kShares) {
            const Vec3 to = block.at[q] - block.at[p];
            const float squared = dot(to, to), up = dot(to, block.normal[p]);
            if (squared > best || dot(block.normal[q], block.normal[p]) < kAlike ||
                up * up > kStep * kStep * squared)
                continue;
            best = squared;
            found = q;
        }
        return found;
    }
    void castAll(const Neighbours& block) const {
        std::array<std::size_t, kNeighbours> places{};
        for (std::size_t s = 0; s < kShares; ++s) {
            std::size_t count = 0;
            for (std::size_t p = s; p < block.count; p += kShares) places[count++] = p;
            cast(block, places.data(), count, s);
        }
        for (std::size_t s = 0; s < kShares; ++s) {
            std::size_t alone = 0;
            for (std::size_t p = 0; p < block.count; ++p) {
                if (p % kShares == s) continue;
                const std::size_t q = neighbour(block, p, s);
                if (q == kNeighbours) {
                    places[alone++] = p;
                    continue;
                }
                for (std::size_t r = s; r < kRays; r += kShares)
                    block.distances[p][r] = block.distances[q][r];
            }
            for (std::size_t first = 0; first < alone; first += kPack)
                cast(block, places.data() + first, std::min(kPack, alone - first), s);
        }
    }
};

static_assert(kNeighbours / kShares == kPack && kRays % kShares == 0);

}  // namespace

HiddenDistances::HiddenDistances(const RayScene& scene, const SurfaceSamples& samples,
                                 const std::function<void(double)>& progress)
    : m_distances(samples.size() * kRays, kNothing) {
    Vec3 low, high;
    scene.mesh().bounds(low, high);
    m_longest = std::max(1e-6f, length(high - low));
    const std::array<Vec3, kRays> rays = hemisphere();
    std::vector<std::uint32_t> order = byNeighbourhood(samples, low, m_longest);
    const std::vector<std::uint32_t> owners =
        ownersOf(samples, spacingOf(scene.mesh(), samples.size()), order);
    const Caster caster{scene, m_longest, spacingOf(scene.mesh(), samples.size()), rays};
    std::atomic<std::size_t> done{0};
    const std::size_t blocks = (order.size() + kNeighbours - 1) / kNeighbours;
    parallelFor(blocks, 16, [&](std::size_t begin, std::size_t end) {
        Neighbours block;
        for (std::size_t b = begin; b < end; ++b) {
            const std::size_t first = b * kNeighbours;
            block.count = std::min(kNeighbours, order.size() - first);
            const float turn = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(b));
            const float c = std::cos(turn), s = std::sin(turn);
            for (std::size_t i = 0; i < block.count; ++i) {
                const std::size_t place = order[first + i];
                Vec3 across, along;
                basis(samples.normals()[place], across, along);
                block.at[i] = samples.positions()[place];
                block.normal[i] = samples.normals()[place];
                block.from[i] = block.at[i] + block.normal[i] * (m_longest * 2e-4f);
                block.x[i] = across * c + along * s, block.y[i] = along * c - across * s;
                block.distances[i] = &m_distances[place * kRays];
            }
            caster.castAll(block);
        }
        if (progress) progress(static_cast<double>(done += end - begin) / static_cast<double>(blocks));
    });
    parallelFor(owners.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t place = begin; place < end; ++place)
            if (owners[place] != place)
                std::copy_n(&m_distances[owners[place] * kRays], kRays, &m_distances[place * kRays]);
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
