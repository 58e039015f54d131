#include "core/engine/parallel.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/parallel_for.h>

namespace kettle {

void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, grain == 0 ? 1 : grain),
        [&](const tbb::blocked_range<std::size_t>& r) { body(r.begin(), r.end()); },
        tbb::simple_partitioner());
}

struct ThreadLimit::Impl {
    explicit Impl(int threads)
        : control(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads)) {}
    tbb::global_control control;
};
ThreadLimit::ThreadLimit(int threads) : m_impl(std::make_unique<Impl>(threads)) {}
ThreadLimit::~ThreadLimit() = default;

}  // namespace kettle
