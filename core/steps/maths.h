// Maths: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::maths {

inline constexpr const char* kType = "maths";
inline constexpr TextHandle kFunction{"function"};  ///< an id of arithmetic()
inline constexpr NumberHandle kB{"b"}, kC{"c"};     ///< second and third operand when no line is connected
inline constexpr InputHandle kBFrom{kB.id}, kCFrom{kC.id};

}  // namespace kettle::maths
