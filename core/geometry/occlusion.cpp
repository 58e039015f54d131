#include "core/geometry/occlusion.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <limits>
#include <numbers>
#include <utility>
#include <vector>

#include "core/base/hash.h"
#include "core/geometry/occlusion_kernels.h"

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
    // The octant, the place on the curve (30 bits), which one it is (31).
    std::vector<std::uint64_t> keys(samples.size()), sorted(samples.size());
    parallelFor(keys.size(), 4096, [&](std::size_t begin, std::size_t end) {
        const auto cell = [](float x) -> std::uint64_t {
            return spreadBits(static_cast<std::uint32_t>(std::clamp(x, 0.0f, 1023.0f)));
        };
        for (std::size_t i = begin; i < end; ++i) {
            const Vec3 n = samples.normals()[i], at = (samples.positions()[i] - low) * (1023 / longest);
            const std::uint64_t octant = (n.x < 0 ? 1u : 0u) + (n.y < 0 ? 2u : 0u) + (n.z < 0 ? 4u : 0u);
            keys[i] = octant << 61 | (cell(at.x) | cell(at.y) << 1 | cell(at.z) << 2) << 31 | i;
        }
    });
    std::array<std::size_t, kOctants + 1> first{};
    for (const std::uint64_t key : keys) ++first[(key >> 61) + 1];
    for (std::size_t o = 0; o < kOctants; ++o) first[o + 1] += first[o];
    std::array<std::size_t, kOctants + 1> next = first;
    for (const std::uint64_t key : keys) sorted[next[key >> 61]++] = key;
    std::vector<std::uint32_t> order(samples.size());
    parallelFor(kOctants, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t o = begin; o < end; ++o) {
            const auto from = sorted.begin() + static_cast<std::ptrdiff_t>(first[o]),
                       to = sorted.begin() + static_cast<std::ptrdiff_t>(first[o + 1]);
            std::sort(from, to);
            std::transform(from, to, order.begin() + static_cast<std::ptrdiff_t>(first[o]),
                           [](std::uint64_t key) { return static_cast<std::uint32_t>(key & 0x7fffffffu); });
        }
    });
    return order;
}

/// Those that lie where one before them lies and face as it does fall out of the order: triangles beside each
/// other have the places of their edge both, which are half of all. Of each place the row in the order, its
/// own or that one's.
std::vector<std::uint32_t> rowsOf(const SurfaceSamples& samples, float spacing,
                                  std::vector<std::uint32_t>& order) {
    constexpr std::size_t kLookBack = 8;  // as many triangles as mostly meet in a corner
    constexpr float kSame = 1e-3f, kAlike = 0.9999f;
    std::vector<std::uint32_t> rows(samples.size());
    std::size_t kept = 0;
    for (const std::uint32_t place : order) {
        const Vec3 at = samples.positions()[place], normal = samples.normals()[place];
        const std::size_t first = kept - std::min(kept, kLookBack);
        const auto isSame = [&](std::size_t row) {
            const Vec3 to = samples.positions()[order[row]] - at;
            return dot(to, to) <= kSame * kSame * spacing * spacing &&
                   dot(samples.normals()[order[row]], normal) >= kAlike;
        };
        std::size_t row = kept;
        while (row > first && !isSame(row - 1)) --row;
        if (row == first) {
            order[kept] = place;
            row = ++kept;
        }
        rows[place] = static_cast<std::uint32_t>(row - 1);
    }
    order.resize(kept);
    return rows;
}

constexpr std::size_t kPack = RayScene::kPack, kRays = HiddenDistances::kRays;
/// A block's places in turn cast one of kShares interleaved parts of the rays; what is missing they take from
/// each other.
constexpr std::size_t kNeighbours = 64, kShares = 4, kSlots = kNeighbours / kShares;

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
/// way. Component by component, those of one share of the rays one after the other, so that many are worked
/// on at once.
struct Neighbours {
    struct Axes {
        std::array<float, kNeighbours> x, y, z;
        void set(std::size_t slot, Vec3 v) { x[slot] = v.x, y[slot] = v.y, z[slot] = v.z; }
        Vec3 at(std::size_t slot) const { return {x[slot], y[slot], z[slot]}; }
    };
    std::array<std::size_t, kShares> counts{};  ///< of each share's places
    Axes at, from, across, along, normal;
    std::array<std::uint16_t*, kNeighbours> distances;
    std::array<float, kNeighbours> opening;  ///< the harmonic mean of what a place's own rays met, cm
    std::array<float, kNeighbours> nearest;  ///< the least of it, cm

    static std::size_t slotOf(std::size_t place) { return place % kShares * kSlots + place / kShares; }
};

struct Caster {
    const RayScene& scene;
    float longest, spacing;
    const std::array<Vec3, kRays>& rays;

    /// The share `s` of the rays of up to kPack places of the block, by their slots.
    void cast(const Neighbours& block, const std::size_t slots[], std::size_t count, std::size_t s) const {
        RayScene::Pack pack;
        std::array<float, kPack> ax, ay, az, bx, by, bz, nx, ny, nz, distances;
        for (std::size_t i = 0; i < kPack; ++i) {
            const std::size_t slot = slots[std::min(i, count - 1)];
            pack.fromX[i] = block.from.x[slot], pack.fromY[i] = block.from.y[slot],
            pack.fromZ[i] = block.from.z[slot];
            ax[i] = block.across.x[slot], ay[i] = block.across.y[slot], az[i] = block.across.z[slot];
            bx[i] = block.along.x[slot], by[i] = block.along.y[slot], bz[i] = block.along.z[slot];
            nx[i] = block.normal.x[slot], ny[i] = block.normal.y[slot], nz[i] = block.normal.z[slot];
        }
        for (std::size_t r = s; r < kRays; r += kShares) {
            const Vec3 ray = rays[r];
            for (std::size_t i = 0; i < kPack; ++i) pack.x[i] = ax[i] * ray.x + bx[i] * ray.y + nx[i] * ray.z;
            for (std::size_t i = 0; i < kPack; ++i) pack.y[i] = ay[i] * ray.x + by[i] * ray.y + ny[i] * ray.z;
            for (std::size_t i = 0; i < kPack; ++i) pack.z[i] = az[i] * ray.x + bz[i] * ray.y + nz[i] * ray.z;
            scene.distancesOfPack(pack, count, distances.data());
            for (std::size_t i = 0; i < count; ++i) block.distances[slots[i]][r] = stored(distances[i]);
        }
    }
    void castPacks(const Neighbours& block, const std::size_t slots[], std::size_t count,
                   std::size_t s) const {
        for (std::size_t first = 0; first < count; first += kPack)
            cast(block, slots + first, std::min(kPack, count - first), s);
    }
    std::uint16_t stored(float distance) const {
        return distance < std::numeric_limits<float>::infinity()
                   ? static_cast<std::uint16_t>(std::min(65534.0f, distance / longest * 65534.0f))
                   : kNothing;
    }
    /// Keeps how far away things are, by the rays of its own share that a place has cast; nothing is farther
    /// than the model is large.
    void measure(Neighbours& block, std::size_t slot, std::size_t s) const {
        const std::uint16_t* own = block.distances[slot];
        const float unit = longest / 65534.0f;
        float sum = 0;
        int least = 65534;
        for (std::size_t r = s; r < kRays; r += kShares) {
            if (own[r] == kNothing) continue;
            const int distance = std::max<int>(1, own[r]);
            sum += 1 / (unit * static_cast<float>(distance));
            least = std::min(least, distance);
        }
        block.opening[slot] = std::min(longest, static_cast<float>(kRays / kShares) / std::max(sum, 1e-9f));
        block.nearest[slot] = unit * static_cast<float>(least);
    }
    /// The nearest place of a share that lies beside this one, in nearly the same plane, faces alike and has
    /// things about as far away; kNeighbours if there is none. How far away it may lie is a share of how far
    /// away things are, since what is hidden varies by that (Ward, Rubinstein and Clear 1988); a long way
    /// only where the nearest thing is much farther still, so that what lies beyond a short spread stays
    /// open.
    std::size_t neighbour(const Neighbours& block, std::size_t slot, std::size_t s) const {
        constexpr float kAlike = 0.97f, kStep = 0.25f, kUnlike = 4;
        constexpr float kShare = 0.2f, kShareOfNearest = 0.3f;
        constexpr float kNearest = 1.4f, kFar = 3, kFarthest = 6;  // in spacings
        const float opening = block.opening[slot],
                    most = std::clamp(kShareOfNearest * block.nearest[slot], kFar * spacing,
                                      kFarthest * spacing),
                    reach = std::clamp(kShare * opening, kNearest * spacing, most);
        const std::size_t first = s * kSlots;
        const PlacesBeside share{&block.at.x[first],
                                 &block.at.y[first],
                                 &block.at.z[first],
                                 &block.normal.x[first],
                                 &block.normal.y[first],
                                 &block.normal.z[first],
                                 kSlots};
        const std::size_t found =
            nearestBeside(share, block.at.at(slot), block.normal.at(slot), reach * reach, kAlike, kStep);
        if (found == kSlots) return kNeighbours;
        const float other = block.opening[first + found];
        return std::max(opening, other) > kUnlike * std::min(opening, other) ? kNeighbours : first + found;
    }
    void castAll(Neighbours& block) const {
        std::array<std::size_t, kNeighbours> slots{};
        for (std::size_t s = 0; s < kShares; ++s) {
            for (std::size_t i = 0; i < block.counts[s]; ++i) slots[i] = s * kSlots + i;
            castPacks(block, slots.data(), block.counts[s], s);
            for (std::size_t i = 0; i < block.counts[s]; ++i) measure(block, slots[i], s);
        }
        for (std::size_t s = 0; s < kShares; ++s) {
            std::size_t alone = 0;
            for (std::size_t other = 0; other < kShares; ++other)
                for (std::size_t i = 0; other != s && i < block.counts[other]; ++i) {
                    const std::size_t slot = other * kSlots + i, q = neighbour(block, slot, s);
                    if (q == kNeighbours) {
                        slots[alone++] = slot;
                        continue;
                    }
                    for (std::size_t r = s; r < kRays; r += kShares)
                        block.distances[slot][r] = block.distances[q][r];
                }
            castPacks(block, slots.data(), alone, s);
        }
    }
};

static_assert(kSlots % kPack == 0 && kNeighbours % kShares == 0 && kRays % kShares == 0);

}  // namespace

HiddenDistances::HiddenDistances(const RayScene& scene, const SurfaceSamples& samples,
                                 const std::function<void(double)>& progress) {
    Vec3 low, high;
    scene.mesh().bounds(low, high);
    m_longest = std::max(1e-6f, length(high - low));
    const std::array<Vec3, kRays> rays = hemisphere();
    std::vector<std::uint32_t> order = byNeighbourhood(samples, low, m_longest);
    const float spacing = spacingOf(scene.mesh(), samples.size());
    m_rows = rowsOf(samples, spacing, order);
    m_distances = LargeArray<std::uint16_t>(order.size() * kRays);
    const Caster caster{scene, m_longest, spacing, rays};
    std::atomic<std::size_t> done{0};
    const std::size_t blocks = (order.size() + kNeighbours - 1) / kNeighbours;
    parallelFor(blocks, 16, [&](std::size_t begin, std::size_t end) {
        Neighbours block{};
        for (std::size_t b = begin; b < end; ++b) {
            const std::size_t first = b * kNeighbours;
            const std::size_t count = std::min(kNeighbours, order.size() - first);
            block.counts.fill(0);
            if (count < kNeighbours) block.at.x.fill(PlacesBeside::kNoPlace);
            const float turn = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(b));
            const float c = std::cos(turn), s = std::sin(turn);
            for (std::size_t i = 0; i < count; ++i) {
                const Vec3 at = samples.positions()[order[first + i]],
                           normal = samples.normals()[order[first + i]];
                Vec3 across, along;
                basis(normal, across, along);
                const std::size_t slot = Neighbours::slotOf(i);
                ++block.counts[i % kShares];
                block.at.set(slot, at), block.normal.set(slot, normal);
                block.from.set(slot, at + normal * (m_longest * 2e-4f));
                block.across.set(slot, across * c + along * s), block.along.set(slot, along * c - across * s);
                block.distances[slot] = &m_distances[(first + i) * kRays];
            }
            caster.castAll(block);
        }
        if (progress) progress(static_cast<double>(done += end - begin) / static_cast<double>(blocks));
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
    std::vector<float> sums(m_distances.size() / kRays), result(m_rows.size());
    parallelFor(sums.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row) {
            float sum = 0;
            for (std::size_t i = 0; i < kRays; ++i) sum += adds[m_distances[row * kRays + i]];
            sums[row] = sum;
        }
    });
    for (std::size_t place = 0; place < result.size(); ++place) result[place] = sums[m_rows[place]];
    return result;
}

}  // namespace kettle
