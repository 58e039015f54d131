#include "core/threads/workers.h"

#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/task_arena.h>

#include <algorithm>
#include <atomic>

#include "core/threads/parallel.h"

namespace kettle {

void parallelWorkers(std::size_t count, std::size_t grain, const std::function<PieceWork()>& makeWork) {
    const std::size_t piece = std::max<std::size_t>(grain, 1), pieces = (count + piece - 1) / piece;
    const std::size_t threads =
        std::min(static_cast<std::size_t>(tbb::this_task_arena::max_concurrency()),
                 tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
    std::atomic<std::size_t> next{0};
    parallelFor(std::min(threads, pieces), 1, [&](std::size_t, std::size_t) {
        std::size_t i = next++;
        if (i >= pieces) return;
        const PieceWork work = makeWork();
        for (; i < pieces; i = next++) work(i * piece, std::min(count, (i + 1) * piece));
    });
}

}  // namespace kettle
