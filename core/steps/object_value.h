// Object value: its type and controls, for code outside the step.
#pragma once

namespace kettle {

inline constexpr const char* kObjectValue = "object-value";  ///< the step's type

}  // namespace kettle
