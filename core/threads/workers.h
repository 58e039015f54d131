// A loop whose threads each keep something that is costly to make.
#pragma once

#include <cstddef>
#include <functional>

namespace kettle {

using PieceWork = std::function<void(std::size_t begin, std::size_t end)>;

/// As parallelFor, of pieces of `grain` items; but each thread that takes part calls `makeWork` once, and
/// what it gets is called for all pieces that it takes, in their order. So what a piece needs is made a few
/// times only, and pieces may be small enough that all threads end at once.
void parallelWorkers(std::size_t count, std::size_t grain, const std::function<PieceWork()>& makeWork);

}  // namespace kettle
