#include "core/threads/parallel.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/task_arena.h>
#include <oneapi/tbb/task_scheduler_observer.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

#include "core/threads/most_threads.h"

namespace kettle {

void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    const std::size_t piece = std::max<std::size_t>(grain, 1);
#ifdef __SANITIZE_THREAD__
    // The packaged thread library is not built for the thread sanitizer, which takes its hand-overs for races
    // (one export: a hundred reports). Here, in the one place that hands work over, threads of our own stand
    // in for it, so that whatever is reported is real.
    onThreads((count + piece - 1) / piece,
              [&](std::size_t i) { body(i * piece, std::min(count, (i + 1) * piece)); });
#else
    // Isolated: while a thread waits for this loop's pieces it takes up no others, which might want a lock
    // that it holds, or go deeper and deeper into the stack.
    tbb::this_task_arena::isolate([&] {
        tbb::parallel_for(
            tbb::blocked_range<std::size_t>(0, count, piece),
            [&](const tbb::blocked_range<std::size_t>& r) { body(r.begin(), r.end()); },
            tbb::simple_partitioner());
    });
#endif
}

namespace {

/// Linux counts niceness by thread. 5 more than the program's own leaves a third of a contended core; more
/// would starve the pictures while the window animates. 19 is the lowest priority that there is.
void lowerOwnPriority() {
    constexpr int kMore = 5, kLowest = 19;
    const int program = getpriority(PRIO_PROCESS, static_cast<id_t>(getpid()));
    setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), std::min(program + kMore, kLowest));
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

void onThreads(std::size_t count, const std::function<void(std::size_t)>& body) {
    const std::size_t threads = std::min(count, mostThreads());
    if (threads <= 1) {
        for (std::size_t i = 0; i < count; ++i) body(i);
        return;
    }
    std::atomic<std::size_t> next{0};
    std::exception_ptr thrown;
    std::mutex mutex;
    const auto work = [&] {
        try {
            for (std::size_t i = next++; i < count; i = next++) body(i);
        } catch (...) {
            next = count;
            const std::lock_guard lock(mutex);
            if (!thrown) thrown = std::current_exception();
        }
    };
    {
        std::vector<std::jthread> helpers;
        for (std::size_t t = 1; t < threads; ++t) helpers.emplace_back(work);
        work();
    }
    if (thrown) std::rethrow_exception(thrown);
}

struct ThreadLimit::Impl {
    explicit Impl(int threads)
        : control(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads)) {}
    tbb::global_control control;
};
ThreadLimit::ThreadLimit(int threads) : m_impl(std::make_unique<Impl>(threads)) {}
ThreadLimit::~ThreadLimit() = default;

}  // namespace kettle
