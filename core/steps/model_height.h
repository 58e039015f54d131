// Height on the model: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::model_height {

inline constexpr const char* kType = "model-height";
inline constexpr NumberHandle kLow{"low"};
inline constexpr NumberHandle kHigh{"high"};

}  // namespace kettle::model_height
