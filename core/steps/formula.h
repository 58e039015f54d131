// Formula: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::formula_step {

inline constexpr const char* kType = "formula";
inline constexpr const char* kUnchanged = "in";  ///< the formula of the unchanged input
inline constexpr TextHandle kFormula{"formula"};

}  // namespace kettle::formula_step
