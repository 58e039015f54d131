// Height to normal: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr const char* kHeightToNormal = "height-to-normal";  ///< the step's type
inline constexpr InputHandle kReliefHeight{"height"};               ///< the height map

}  // namespace kettle
