// The steps that need ambient occlusion of the mesh, which is ray traced on first use.
#pragma once

namespace kettle {

inline constexpr const char* kOcclusion = "occlusion";  ///< the steps' types
inline constexpr const char* kShadowColour = "shadow-colour";

}  // namespace kettle
