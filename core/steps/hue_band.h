// Hue band: its type and controls, for code outside the step.
#pragma once

#include "core/steps/step.h"

namespace kettle::hue_band {

inline constexpr const char* kType = "hue-band";
inline constexpr HueBandHandles kHues{{"centre"}, {"width"}, {"softness"}, {"threshold"}, {"invert"}};

}  // namespace kettle::hue_band
