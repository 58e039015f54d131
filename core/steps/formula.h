// What others know of Formula.
#pragma once

#include "core/document/handles.h"

namespace kettle::formula_step {

inline constexpr const char* kType = "formula";
inline constexpr const char* kUnchanged = "in";  ///< the formula that gives back what comes in
inline constexpr TextHandle kFormula{"formula"};

}  // namespace kettle::formula_step
