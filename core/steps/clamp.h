// Clamp: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::clamp {

inline constexpr const char* kType = "clamp";
inline constexpr NumberHandle kLow{"low"};
inline constexpr NumberHandle kHigh{"high"};

}  // namespace kettle::clamp
