// How hidden a model's surface is by itself.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "core/base/large_array.h"
#include "core/geometry/surface_samples.h"
#include "core/scene/rays.h"

namespace kettle {

/// How far 64 rays over each place's hemisphere go before they meet the model: from it occlusion of any
/// spread is a sum, so that the spread can be dragged. A place casts a quarter of them, and takes the rest
/// from neighbours that face alike in nearly the same plane, if it has such (interleaved sampling, Keller and
/// Heidrich 2001).
class HiddenDistances {
public:
    static constexpr std::size_t kRays = 64;
    /// Casts them: cosine-weighted, turned alike for neighbours. `progress`: 0..1, on any thread.
    /// Threads: uses all.
    HiddenDistances(const RayScene& scene, const SurfaceSamples& samples,
                    const std::function<void(double)>& progress = {});
    /// For each place the mean of 1 - (distance / spread)^falloff over its rays, 0 for those that go farther:
    /// 0 open, 1 hidden. `spread` in cm, above 0; `falloff` above 0. Threads: uses all.
    std::vector<float> hidden(float spread, float falloff) const;

private:
    float m_longest;                        ///< what a stored distance of 65535 stands for, cm
    std::vector<std::uint32_t> m_rows;      ///< of each place its row of distances; places may share one
    LargeArray<std::uint16_t> m_distances;  ///< kRays a row; 65535: nothing is met
};

}  // namespace kettle
