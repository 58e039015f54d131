// Private to core/image: what reader and writer of PNG share of its filters.
#pragma once

#include <cstdint>
#include <cstdlib>

namespace kettle {

/// The neighbour nearest to left + up - corner, all bytes (ISO/IEC 15948, 9.4).
inline std::uint8_t paeth(int left, int up, int corner) {
    const int toLeft = std::abs(up - corner), toUp = std::abs(left - corner),
              toCorner = std::abs(left + up - 2 * corner);
    return static_cast<std::uint8_t>(toLeft <= toUp && toLeft <= toCorner ? left
                                     : toUp <= toCorner                   ? up
                                                                          : corner);
}

}  // namespace kettle
