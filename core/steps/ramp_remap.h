// Ramp remap: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::ramp_remap {

inline constexpr const char* kType = "ramp-remap";
inline constexpr RampHandle kRamp{"ramp"};
inline constexpr InputHandle kReadsFrom{"reads-from"};

}  // namespace kettle::ramp_remap
