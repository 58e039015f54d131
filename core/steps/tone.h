// Tone: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::tone {

inline constexpr const char* kType = "tone";
inline constexpr NumberHandle kExposure{"exposure"};
inline constexpr NumberHandle kContrast{"contrast"};
inline constexpr NumberHandle kGamma{"gamma"};
inline constexpr NumberHandle kGain{"gain"};
inline constexpr NumberHandle kOffset{"offset"};

}  // namespace kettle::tone
