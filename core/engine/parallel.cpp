#include "core/engine/parallel.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/task_scheduler_observer.h>
#include <sys/resource.h>
#include <unistd.h>

namespace kettle {

void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, count, grain == 0 ? 1 : grain),
        [&](const tbb::blocked_range<std::size_t>& r) { body(r.begin(), r.end()); },
        tbb::simple_partitioner());
}

namespace {

/// Linux counts niceness by thread. 5 leaves a third of a contended core; more would starve the pictures
/// while the window animates.
void lowerOwnPriority() {
    constexpr int kNiceness = 5;
    setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), kNiceness);
}

}  // namespace

struct GiveWay::Impl final : tbb::task_scheduler_observer {
    Impl() {
        lowerOwnPriority();
        observe(true);
    }
    ~Impl() override { observe(false); }
    void on_scheduler_entry(bool isWorker) override {
        if (isWorker) lowerOwnPriority();
    }
};
GiveWay::GiveWay() : m_impl(std::make_unique<Impl>()) {}
GiveWay::~GiveWay() = default;

struct ThreadLimit::Impl {
    explicit Impl(int threads)
        : control(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads)) {}
    tbb::global_control control;
};
ThreadLimit::ThreadLimit(int threads) : m_impl(std::make_unique<Impl>(threads)) {}
ThreadLimit::~ThreadLimit() = default;

}  // namespace kettle
