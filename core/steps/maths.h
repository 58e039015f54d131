// What others know of Maths.
#pragma once

#include "core/document/handles.h"

namespace kettle::maths {

inline constexpr const char* kType = "maths";
inline constexpr TextHandle kFunction{"function"};  // by its id: the table of functions is no constant
inline constexpr NumberHandle kB{"b"}, kC{"c"};     ///< the second and third number, where no line is joined
inline constexpr InputHandle kBFrom{kB.id}, kCFrom{kC.id};

}  // namespace kettle::maths
