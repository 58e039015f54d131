// What others know of the steps that blend, and of those that lay normals over each other.
#pragma once

#include "core/document/blend_modes.h"

namespace kettle {

/// The numbers that a blend works on.
enum class BlendSpace { Automatic, LinearLight, DisplayEncoded };
inline constexpr Option<BlendSpace> kBlendSpaces[] = {
    {BlendSpace::Automatic, "auto", "automatic"},
    {BlendSpace::LinearLight, "linear", "linear light"},
    {BlendSpace::DisplayEncoded, "encoded", "display-encoded"}};
inline constexpr ChoiceHandle<BlendSpace> kBlendSpace{"space", kBlendSpaces};

inline constexpr const char* kBlend = "blend";  ///< the steps' types
inline constexpr const char* kStackNormals = "stack-normals";
inline constexpr InputHandle kNormalDetail{"detail"};  ///< the normals that are laid over
inline constexpr ToggleHandle kOwnTransparency{"own-transparency"};
inline constexpr ToggleHandle kSwap{"swap"};  ///< the line over the other

/// How much the heights' difference counts beside a mask, how softly one goes over into the other, and the
/// heights.
inline constexpr NumberHandle kHeightContrast{"contrast"}, kHeightSoftness{"softness"};
inline constexpr InputHandle kHeightUnder{"height-under"}, kHeightOver{"height-over"};

/// How a fill lies on a normal line.
enum class NormalFill { Replace, Stack, Flatten };
inline constexpr Option<NormalFill> kNormalFills[] = {{NormalFill::Replace, "replace", "replace"},
                                                      {NormalFill::Stack, "stack", "stack"},
                                                      {NormalFill::Flatten, "flatten", "flatten"}};
inline constexpr ChoiceHandle<NormalFill> kNormals{"normals", kNormalFills};

}  // namespace kettle
