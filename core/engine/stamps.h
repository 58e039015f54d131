// Where the stamps of a scattered map lie.
#pragma once

#include <array>
#include <vector>

#include "core/base/vec.h"
#include "core/program/placed.h"

namespace kettle {

class StampsWhere;

/// The corners of a stamp's square in texture space, anticlockwise from its own lower left.
using StampCorners = std::array<Vec2, 4>;

/// The stamps that may touch a part of texture space, a cell after the other; none where the part has more
/// cells than `most`. `placed` must scatter; of those that `where` leaves out there is none.
std::vector<StampCorners> stampsIn(const Placed& placed, Vec2 low, Vec2 high, std::size_t most = 4096,
                                   const StampsWhere* where = nullptr);

/// A stamp's middle and size in texture space, and its number in 0..1.
struct StampMiddle {
    Vec2 at;
    float size, number;
};
/// Of a cell's stamp. `placed` must scatter, and its plane be no line.
StampMiddle middleOf(const Placed& placed, int column, int row);

}  // namespace kettle
