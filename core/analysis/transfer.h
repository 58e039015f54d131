// How a Blend answers: its result for every under between dark and light, with the over and the mask of one
// place.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/document/project.h"
#include "core/engine/resources.h"

namespace kettle {

/// All numbers as shown: colours display-encoded, scalars raw.
struct BlendTransfer {
    static constexpr std::size_t kSamples = 65;
    int components = 3;  ///< 1 on a scalar line
    /// result[c][i]: what an under of i / (kSamples - 1) becomes; on colour lines the under is a grey.
    std::array<std::array<float, kSamples>, 3> result{};
    std::array<float, 3> under{}, over{}, landed{};  ///< at the place; landed: the step's own result there
    float weight = 1;  ///< amount times mask (and the over's alpha, if it counts)
};

/// Of the Blend `step` as `look` shows it, at (u, v) in texture space. A bypassed step answers as if it were
/// on. Errors: Refused (no Blend, nothing under it, nothing joined to over), Unreadable (a map it needs).
Result<BlendTransfer> blendTransfer(const Project& project, const std::string& look, const std::string& step,
                                    float u, float v, const Resources& resources);

}  // namespace kettle
