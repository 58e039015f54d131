// The steps that ask what the model hides, which takes rays the first time.
#pragma once

namespace kettle {

inline constexpr const char* kOcclusion = "occlusion";  ///< the steps' types
inline constexpr const char* kShadowColour = "shadow-colour";

}  // namespace kettle
