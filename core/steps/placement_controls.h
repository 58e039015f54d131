// Controls that maps and procedural patterns share: scale, rotation, offset.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr NumberHandle kRepeats{"repeats"};  ///< per unit of texture space
inline constexpr NumberHandle kSize{"size"};        ///< of one repeat on the model (cm)
inline constexpr NumberHandle kSeam{"seam"};        ///< width of the triplanar transition
inline constexpr NumberHandle kRotation{"rotation"}, kOffsetU{"offset-u"}, kOffsetV{"offset-v"};
inline constexpr NumberHandle kSeed{"seed"};  ///< of the random generator

}  // namespace kettle
