// What others know of Height on the model.
#pragma once

#include "core/document/handles.h"

namespace kettle::model_height {

inline constexpr const char* kType = "model-height";
inline constexpr NumberHandle kLow{"low"};
inline constexpr NumberHandle kHigh{"high"};

}  // namespace kettle::model_height
