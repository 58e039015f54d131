// The rays that go from a point to the light and to the sky, in packs. Within the folder.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/base/hash.h"
#include "core/scene/camera_frame.h"
#include "core/scene/view_points.h"

namespace kettle {

/// How bright the ground is of what arrives from the key light, and from the sky.
inline constexpr float kKeyShare = 0.45f, kSkyShare = 0.55f;

/// Neighbouring points take turns: those of one phase cast their rays the same ways, so that they go through
/// the model together, and each of 4 x 4 pixels is of another phase, so that the light's grain is as fine as
/// it can be (interleaved sampling, A. Keller and W. Heidrich 2001).
inline constexpr std::size_t kPhases = 16;
inline std::size_t phaseOf(int x, int y) {
    return static_cast<std::size_t>((x & 3) + 4 * (y & 3));
}

/// Places on a disc, equal areas alike, by the R2 sequence (M. Roberts 2018) with a start and a turn of their
/// own: the rays of one pass after the other fill the gaps that were left.
struct OnDisc {
    static constexpr int kMost = 64;
    std::array<float, 4> x{}, y{}, above{};  ///< `above`: the height of the unit hemisphere over it
    OnDisc() = default;
    OnDisc(std::uint64_t seed, int first, int count) {
        static const auto kRound = [] {
            std::array<Vec2, kMost> round;
            for (std::size_t i = 0; i < kMost; ++i) {
                const float angle = 2 * std::numbers::pi_v<float> * 0.5698403f * static_cast<float>(i);
                round[i] = {std::cos(angle), std::sin(angle)};
            }
            return round;
        }();
        const float start = unitFloat(mixBits(seed)),
                    angle = 2 * std::numbers::pi_v<float> * unitFloat(mixBits(seed + 17));
        const float c = std::cos(angle), s = std::sin(angle);
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i) {
            const std::size_t n = (static_cast<std::size_t>(first) + i) % kMost;
            const float along = start + 0.7548777f * static_cast<float>(n);
            const float part = along - std::floor(along), radius = std::sqrt(part);
            x[i] = radius * (c * kRound[n].x - s * kRound[n].y);
            y[i] = radius * (s * kRound[n].x + c * kRound[n].y);
            above[i] = std::sqrt(1 - part);
        }
    }
};

/// Rays that go nearly the same way and wait until a pack is full; each open one adds its share to where it
/// belongs.
class ShadowQueue {
public:
    ShadowQueue(const RayScene& scene, float nearest, float farthest, const SeeThrough* seeThrough)
        : m_scene(&scene), m_nearest(nearest), m_farthest(farthest), m_seeThrough(seeThrough) {}
    void add(Vec3 from, Vec3 direction, float* to, float share) {
        m_from[m_count] = from, m_direction[m_count] = direction;
        m_to[m_count] = to, m_share[m_count] = share;
        if (++m_count == RayScene::kPack) flush();
    }
    void flush() {
        if (m_count == 0) return;
        if (m_seeThrough != nullptr) {
            std::array<float, RayScene::kPack> let;
            m_scene->throughPack(m_from.data(), m_direction.data(), m_count, m_nearest, m_farthest, true,
                                 *m_seeThrough, let.data());
            for (std::size_t i = 0; i < m_count; ++i) *m_to[i] += m_share[i] * let[i];
        } else {
            const unsigned blocked = m_scene->blockedOfPack(m_from.data(), m_direction.data(), m_count,
                                                            m_nearest, m_farthest, true);
            for (std::size_t i = 0; i < m_count; ++i)
                if ((blocked >> i & 1u) == 0) *m_to[i] += m_share[i];
        }
        m_count = 0;
    }

private:
    const RayScene* m_scene;
    float m_nearest, m_farthest;
    const SeeThrough* m_seeThrough;
    std::size_t m_count = 0;
    std::array<Vec3, RayScene::kPack> m_from, m_direction;
    std::array<float*, RayScene::kPack> m_to{};
    std::array<float, RayScene::kPack> m_share{};
};

/// What is the same for every ray of a picture.
struct Surroundings {
    const RayScene& scene;
    const ViewOptions& options;
    Vec3 across, along, centre;  ///< the key light's disc, and the model's middle
    float spreadAngle, floor, size;
    std::array<OnDisc, kPhases> skyRays;
    std::array<std::array<Vec3, 4>, kPhases> keyRays;  ///< unit directions
    Surroundings(const RayScene& s, const ViewOptions& o) : scene(s), options(o) {
        basis(o.keyDirection, across, along);
        spreadAngle = std::tan(radians(o.keyRadius));
        Vec3 low, high;
        s.mesh().bounds(low, high);
        floor = low.y;
        size = length(high - low);
        centre = (low + high) * 0.5f;
        for (std::size_t phase = 0; phase < kPhases; ++phase) {
            const OnDisc disc(mixBits(phase), o.firstRay, o.shadowRays);
            for (std::size_t i = 0; i < 4; ++i)
                keyRays[phase][i] = normalised(o.keyDirection + across * (disc.x[i] * spreadAngle) +
                                               along * (disc.y[i] * spreadAngle));
            skyRays[phase] = OnDisc(mixBits(phase + 99), o.firstRay, o.shadowRays);
        }
    }
};

/// The shadow rays of a tile. What arrives is 0 before, and is whole after finish().
class Shadows {
public:
    explicit Shadows(const Surroundings& around)
        : m_around(around),
          m_key(around.scene, around.size * 2e-4f, around.size * 4, around.options.seeThrough),
          m_sky(
              kPhases * static_cast<std::size_t>(around.options.shadowRays),
              ShadowQueue(around.scene, around.size * 2e-4f, around.size * 0.6f, around.options.seeThrough)) {
    }
    void keyLight(Vec3 at, std::size_t phase, float* arriving) {
        const int count = m_around.options.shadowRays;
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i)
            m_key.add(at, m_around.keyRays[phase][i], arriving, 1.0f / static_cast<float>(count));
    }
    /// Cosine-weighted; what blocks nearer than the model's own size counts.
    void openness(Vec3 at, Vec3 normal, std::size_t phase, float* arriving) {
        Vec3 a, b;
        basis(normal, a, b);
        const int count = m_around.options.shadowRays;
        const OnDisc& disc = m_around.skyRays[phase];
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i)
            m_sky[i * kPhases + phase].add(at, a * disc.x[i] + b * disc.y[i] + normal * disc.above[i],
                                           arriving, 1.0f / static_cast<float>(count));
    }
    void finish() {
        m_key.flush();
        for (ShadowQueue& queue : m_sky) queue.flush();
    }

private:
    const Surroundings& m_around;
    ShadowQueue m_key;               ///< all of whose rays go nearly the same way
    std::vector<ShadowQueue> m_sky;  ///< of each ray and phase
};

}  // namespace kettle
