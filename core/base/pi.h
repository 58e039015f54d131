// π in the precision that the shading computes in.
#pragma once

#include <numbers>

namespace kettle {

inline constexpr float kPi = std::numbers::pi_v<float>;

}  // namespace kettle
