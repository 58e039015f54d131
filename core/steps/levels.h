// Levels: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::levels {

inline constexpr NumberHandle kInBlack{"in-black"};
inline constexpr NumberHandle kInWhite{"in-white"};
inline constexpr NumberHandle kGamma{"gamma"};
inline constexpr NumberHandle kOutBlack{"out-black"};
inline constexpr NumberHandle kOutWhite{"out-white"};

}  // namespace kettle::levels
