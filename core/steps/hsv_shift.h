// HSV shift: its type and controls, for code outside the step.
#pragma once

#include "core/steps/step.h"

namespace kettle::hsv_shift {

inline constexpr const char* kType = "hsv-shift";
inline constexpr NumberHandle kHue{"hue"};                ///< degrees
inline constexpr NumberHandle kSaturation{"saturation"};  ///< factors
inline constexpr NumberHandle kValue{"value"};
inline constexpr ToggleHandle kBand{"band"};  ///< limits the shift to a band of hues
inline constexpr HueBandHandles kHues{
    {"band-centre"}, {"band-width"}, {"band-softness"}, {"band-threshold"}, {"band-invert"}};

}  // namespace kettle::hsv_shift
