#include "core/threads/workers.h"

#include <algorithm>
#include <atomic>

#include "core/threads/most_threads.h"
#include "core/threads/parallel.h"

namespace kettle {

void parallelWorkers(std::size_t count, std::size_t grain, const std::function<PieceWork()>& makeWork) {
    const std::size_t piece = std::max<std::size_t>(grain, 1), pieces = (count + piece - 1) / piece;
    std::atomic<std::size_t> next{0};
    parallelFor(std::min(mostThreads(), pieces), 1, [&](std::size_t, std::size_t) {
        std::size_t i = next++;
        if (i >= pieces) return;
        const PieceWork work = makeWork();
        for (; i < pieces; i = next++) work(i * piece, std::min(count, (i + 1) * piece));
    });
}

}  // namespace kettle
