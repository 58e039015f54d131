// Sources: a constant colour, value or flat normal, and a map.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr const char* kColourSource = "colour";  ///< the steps' types
inline constexpr const char* kValueSource = "value";
inline constexpr const char* kFlatNormalSource = "flat-normal";
inline constexpr const char* kMap = "map";
inline constexpr ColourHandle kColour{"colour"};
inline constexpr NumberHandle kValue{"value"};

/// A constant source for a line of that kind, without an id. Scalar lines take value.x; normal lines ignore
/// `value`.
Step plainSource(Kind kind, Vec3 value);

}  // namespace kettle
