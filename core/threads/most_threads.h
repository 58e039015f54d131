// How many threads may work at a time. Within the folder.
#pragma once

#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/task_arena.h>

#include <algorithm>
#include <cstddef>

namespace kettle {

/// As many as there are cores for this program, or as a ThreadLimit allows; at least 1.
inline std::size_t mostThreads() {
    return std::min(static_cast<std::size_t>(tbb::this_task_arena::max_concurrency()),
                    tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
}

}  // namespace kettle
