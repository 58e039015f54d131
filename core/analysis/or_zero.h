// Private to core/analysis: figures count what is not finite as nothing.
#pragma once

#include <cmath>

namespace kettle {

/// `x`, or 0 where it is infinite or not a number.
inline float orZero(float x) {
    return std::isfinite(x) ? x : 0.0f;
}

}  // namespace kettle
