// How dark the ground around a model is.
#include "core/scene/shadow_rays.h"

namespace kettle {
namespace {

/// Beyond this distance from the middle, in sizes of the model, the ground bears no shadow.
constexpr float kGroundReach = 2.0f;
constexpr int kPasses = 3, kRays = 4;  ///< a light
}  // namespace

GroundShade::GroundShade(const RayScene& scene, Vec3 keyDirection, float keyRadius, int size,
                         const SeeThrough* seeThrough)
    : m_size(size), m_lit(static_cast<std::size_t>(size) * static_cast<std::size_t>(size)) {
    ViewOptions options;
    options.keyDirection = keyDirection, options.keyRadius = keyRadius, options.seeThrough = seeThrough;
    const Surroundings around(scene, options);
    std::vector<Surroundings> passes;
    std::vector<ViewOptions> ofPass(kPasses, options);
    for (int pass = 0; pass < kPasses; ++pass) {
        ViewOptions& own = ofPass[static_cast<std::size_t>(pass)];
        own.firstRay = pass * kRays, own.shadowRays = kRays;
        passes.emplace_back(scene, own);
    }
    // Squared, so that the net is dense in its middle.
    const auto place = [&](int i) {
        const float t = 2 * static_cast<float>(i) / static_cast<float>(m_size - 1) - 1;
        return t * std::fabs(t) * kGroundReach * around.size;
    };
    const auto count = static_cast<std::size_t>(m_size);
    parallelFor(count, 2, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row) {
            std::vector<float> key(count), sky(count);
            for (const Surroundings& pass : passes) {
                Shadows shadows(pass);
                for (int i = 0; i < m_size; ++i) {
                    const Vec3 at{around.centre.x + place(i), around.floor,
                                  around.centre.z + place(static_cast<int>(row))};
                    const std::size_t phase = phaseOf(i, static_cast<int>(row));
                    shadows.keyLight(at, phase, &key[static_cast<std::size_t>(i)]);
                    shadows.openness(at, {0, 1, 0}, phase, &sky[static_cast<std::size_t>(i)]);
                }
                shadows.finish();
            }
            for (std::size_t i = 0; i < count; ++i)
                m_lit[row * count + i] =
                    (kKeyShare * key[i] + kSkyShare * sky[i]) / static_cast<float>(kPasses);
        }
    });
    for (int i = 0; i < 2; ++i) smooth();
}

/// Each place with its neighbours, 1 2 1 both ways: what is left of the rays' grain.
void GroundShade::smooth() {
    const auto count = static_cast<std::size_t>(m_size);
    const auto blur = [&](std::size_t first, std::size_t step) {
        float before = m_lit[first];
        for (std::size_t i = 1; i + 1 < count; ++i) {
            float& place = m_lit[first + i * step];
            const float now = place;
            place = 0.25f * before + 0.5f * now + 0.25f * m_lit[first + (i + 1) * step];
            before = now;
        }
    };
    for (std::size_t i = 0; i < count; ++i) blur(i * count, 1);
    for (std::size_t i = 0; i < count; ++i) blur(i, count);
}

float GroundShade::at(float x, float z) const {
    const auto cell = [this](float v) {
        const float t = std::copysign(std::sqrt(std::min(std::fabs(v) / kGroundReach, 1.0f)), v);
        return (t + 1) * 0.5f * static_cast<float>(m_size - 1);
    };
    const float cx = cell(x), cz = cell(z);
    const int x0 = std::min(static_cast<int>(cx), m_size - 2),
              z0 = std::min(static_cast<int>(cz), m_size - 2);
    const auto lit = [&](int i, int j) {
        return m_lit[static_cast<std::size_t>((z0 + j) * m_size + x0 + i)];
    };
    const float fx = cx - static_cast<float>(x0);
    return mix(mix(lit(0, 0), lit(1, 0), fx), mix(lit(0, 1), lit(1, 1), fx), cz - static_cast<float>(z0));
}

}  // namespace kettle
