// What others know of HSV shift.
#pragma once

#include "core/steps/step.h"

namespace kettle::hsv_shift {

inline constexpr const char* kType = "hsv-shift";
inline constexpr NumberHandle kHue{"hue"};                ///< degrees
inline constexpr NumberHandle kSaturation{"saturation"};  ///< factors
inline constexpr NumberHandle kValue{"value"};
inline constexpr ToggleHandle kBand{"band"};  ///< whether a band of hues limits it
inline constexpr HueBandHandles kHues{
    {"band-centre"}, {"band-width"}, {"band-softness"}, {"band-threshold"}, {"band-invert"}};

}  // namespace kettle::hsv_shift
