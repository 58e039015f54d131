// What steps share that vary from object to object: which number a point's object or part bears, and random
// numbers made of it. Only for core/steps.
#pragma once

#include "core/steps/emitting.h"

namespace kettle {

/// Whether values vary per object or per part of the model.
enum class Copies { Objects, Parts };
inline constexpr Option<Copies> kCopies[] = {{Copies::Objects, "object", "object"},
                                             {Copies::Parts, "part", "part"}};
inline constexpr ChoiceHandle<Copies> kDiffersBy{"of", kCopies};
/// kDiffersBy and kSeed.
std::vector<ControlSpec> objectControls();

/// The number of the point's object or part, as it is given or in the order of the model, by the step's own
/// kDiffersBy.
Reg objectNumber(Emitter& e);

/// A random number from 0 up to 1, even, of a number, the step's own kSeed and `which` of several that are
/// wanted. Source: M. E. O'Neill, PCG, 2014, as a hash (M. Jarzynski and M. Olano, Hash Functions for GPU
/// Rendering, 2020): integers alone, so that every machine makes the same.
Reg objectRandom(Emitter& e, Reg number, int which);

}  // namespace kettle
