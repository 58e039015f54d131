// The controls by which maps and patterns are scaled, turned and moved, which all of them have alike.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr NumberHandle kRepeats{"repeats"};  ///< across the texture's square
inline constexpr NumberHandle kSize{"size"};        ///< of one repeat or piece on the model, cm
inline constexpr NumberHandle kSeam{"seam"};        ///< how softly the model's three sides meet
inline constexpr NumberHandle kRotation{"rotation"}, kOffsetU{"offset-u"}, kOffsetV{"offset-v"};
inline constexpr NumberHandle kSeed{"seed"};  ///< of the random numbers

}  // namespace kettle
