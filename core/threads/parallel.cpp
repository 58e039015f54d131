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

namespace kettle {

#ifdef __SANITIZE_THREAD__
extern "C" {
void __tsan_acquire(void* address);
void __tsan_release(void* address);
}
#endif

namespace {

/// The packaged thread library is not built for the thread sanitizer, which therefore does not see that what
/// comes before a loop happens before its bodies, and they before what comes after. Told here, in the one
/// place that hands work over; what is reported all the same is real.
struct HandOver {
#ifdef __SANITIZE_THREAD__
    void give() {
        __tsan_release(this);
    }
    void take() {
        __tsan_acquire(this);
    }
#else
    void give() {}
    void take() {}
#endif
};

}  // namespace

void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    HandOver begun, ended;
    begun.give();
    // Isolated: while a thread waits for this loop's pieces it takes up no others, which might want a lock
    // that it holds, or go deeper and deeper into the stack.
    tbb::this_task_arena::isolate([&] {
        tbb::parallel_for(
            tbb::blocked_range<std::size_t>(0, count, grain == 0 ? 1 : grain),
            [&](const tbb::blocked_range<std::size_t>& r) {
                begun.take();
                body(r.begin(), r.end());
                ended.give();
            },
            tbb::simple_partitioner());
    });
    ended.take();
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
    const auto most = static_cast<std::size_t>(tbb::this_task_arena::max_concurrency());
    const std::size_t threads = std::min(count, most);
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
