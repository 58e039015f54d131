// Blend, Fill and Stack normals: their types and controls, for code outside the steps.
#pragma once

#include "core/document/blend_modes.h"

namespace kettle {

/// The colour space in which a blend is computed.
enum class BlendSpace { Automatic, LinearLight, DisplayEncoded };
inline constexpr Option<BlendSpace> kBlendSpaces[] = {
    {BlendSpace::Automatic, "auto", "automatic"},
    {BlendSpace::LinearLight, "linear", "linear light"},
    {BlendSpace::DisplayEncoded, "encoded", "display-encoded"}};
inline constexpr ChoiceHandle<BlendSpace> kBlendSpace{"space", kBlendSpaces};

inline constexpr const char* kBlend = "blend";  ///< the steps' types
inline constexpr const char* kStackNormals = "stack-normals";
inline constexpr InputHandle kNormalDetail{"detail"};  ///< the upper normal map
inline constexpr ToggleHandle kOwnTransparency{"own-transparency"};
inline constexpr ToggleHandle kSwap{"swap"};  ///< swaps the two inputs

/// Blending by height: how much the height difference sharpens the mask, the width of the transition, and
/// the two height inputs.
inline constexpr NumberHandle kHeightContrast{"contrast"}, kHeightSoftness{"softness"};
inline constexpr InputHandle kHeightUnder{"height-under"}, kHeightOver{"height-over"};

/// How a fill is combined with a normal line.
enum class NormalFill { Replace, Stack, Flatten };
inline constexpr Option<NormalFill> kNormalFills[] = {{NormalFill::Replace, "replace", "replace"},
                                                      {NormalFill::Stack, "stack", "stack"},
                                                      {NormalFill::Flatten, "flatten", "flatten"}};
inline constexpr ChoiceHandle<NormalFill> kNormals{"normals", kNormalFills};

}  // namespace kettle
