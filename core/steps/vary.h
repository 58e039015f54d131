// What others know of Vary.
#pragma once

#include "core/document/handles.h"

namespace kettle::vary {

inline constexpr const char* kType = "vary";
/// What copies get: their own colours, a little apart, or those of a ramp.
enum class CopiesGet { Spread, Ramp };
inline constexpr Option<CopiesGet> kCopiesGet[] = {{CopiesGet::Spread, "spread", "own colours"},
                                                   {CopiesGet::Ramp, "ramp", "a ramp"}};
inline constexpr ChoiceHandle<CopiesGet> kFrom{"from", kCopiesGet};
inline constexpr RampHandle kRamp{"ramp"};

}  // namespace kettle::vary
