// The lobes' integrals over all directions, as tables by cosine to the viewer and roughness.
#pragma once

#include <array>
#include <cstddef>

namespace kettle {

/// kSize x kSize numbers, cosine (0.01 to 1) across, roughness (0 to 1) down; looked up bilinearly.
struct LobeTable {
    static constexpr int kSize = 32;
    std::array<float, static_cast<std::size_t>(kSize* kSize)> values{};
    /// Both limited to 0..1; what is no number is 0.
    float at(float cosine, float roughness) const;
};

/// Scale and bias of the specular colour (the split sum, B. Karis 2013). Made at the first call; threads:
/// safe.
struct SpecularTables {
    LobeTable scale, bias;
};
const SpecularTables& specularTables();
/// The share of uniform light that the sheen lobe sends back: D and the visibility of Estevez and Kulla 2017.
const LobeTable& sheenTable();

}  // namespace kettle
