// Numbers through a table, many at a time. Private to core/image.
#pragma once

#include <cstddef>

namespace kettle {

/// x to table[(x - low) * scale], straight between two entries, in place; limited to entries 0 to `last`, and
/// what is no number is as the lowest. The table has last + 2 entries. Threads: safe.
void throughTable(const float* table, std::size_t last, float low, float scale, float* x, std::size_t count);

}  // namespace kettle
