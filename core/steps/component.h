// Component: its type and controls, for code outside the step.
#pragma once

#include "core/document/component.h"

namespace kettle::component_step {

inline constexpr const char* kType = "component";
inline constexpr ChoiceHandle<Component> kComponent{"component", kComponents};
inline constexpr ToggleHandle kEncoded{"encoded"};

}  // namespace kettle::component_step
