// How a step's map lies, as numbers.
#pragma once

#include "core/program/placed.h"
#include "core/steps/step.h"

namespace kettle {

/// How the map of a step with the editor MapFile lies in the texture. For one that lies from three sides it
/// is what it would be there.
Placed placementOf(const StepView& view);

}  // namespace kettle
