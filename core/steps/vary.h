// Vary: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::vary {

inline constexpr const char* kType = "vary";
/// Where the colours of objects come from: a random spread around the input, or a ramp.
enum class VariationSource { Spread, Ramp };
inline constexpr Option<VariationSource> kVariationSources[] = {
    {VariationSource::Spread, "spread", "own colours"}, {VariationSource::Ramp, "ramp", "a ramp"}};
inline constexpr ChoiceHandle<VariationSource> kFrom{"from", kVariationSources};
inline constexpr RampHandle kRamp{"ramp"};

}  // namespace kettle::vary
