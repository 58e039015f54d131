// What others know of Object value.
#pragma once

namespace kettle {

inline constexpr const char* kObjectValue = "object-value";  ///< the step's type

}  // namespace kettle
