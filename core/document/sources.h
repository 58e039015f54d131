// The plain sources: one colour, one number or a flat normal everywhere; and the source that is a map.
#pragma once

#include "core/document/handles.h"

namespace kettle {

inline constexpr const char* kColourSource = "colour";  ///< the steps' types
inline constexpr const char* kValueSource = "value";
inline constexpr const char* kFlatNormalSource = "flat-normal";
inline constexpr const char* kMap = "map";
inline constexpr ColourHandle kColour{"colour"};
inline constexpr NumberHandle kValue{"value"};

/// A source that gives `value` everywhere on a line of that kind: its x alone on a scalar line, none of it on
/// a normal one. Without an id.
Step plainSource(Kind kind, Vec3 value);

}  // namespace kettle
