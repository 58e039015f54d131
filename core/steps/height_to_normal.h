// What others know of Height to normal.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr const char* kHeightToNormal = "height-to-normal";  ///< the step's type
inline constexpr InputHandle kReliefHeight{"height"};               ///< what is carved

}  // namespace kettle
