// Threads of the core: one parallelFor, and a switch that lets whoever waits stop the work.
#pragma once

#include <atomic>
#include <cstddef>
#include <functional>
#include <memory>

namespace kettle {

/// Shared by who asks and who works; asking for a stop is final.
class CancelToken {
public:
    /// May be called from any thread, any number of times.
    void cancel() { m_cancelled->store(true, std::memory_order_relaxed); }
    /// Cheap: ask for it in every loop.
    bool isCancelled() const { return m_cancelled->load(std::memory_order_relaxed); }

private:
    std::shared_ptr<std::atomic<bool>> m_cancelled = std::make_shared<std::atomic<bool>>(false);
};

/// Calls body(begin, end) for pieces that cover [0, count), on all cores, at most `grain` items a piece
/// unless fewer pieces do. Returns when all are done. What a body throws is thrown on to the caller, once,
/// when no body runs any more; pieces that had not begun are then left out.
void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t, std::size_t)>& body);

/// Calls body(i) for every i in [0, count), as many at a time as there are cores, each on a thread that may
/// wait for a disk. For long pieces (a file each) whose bodies use parallelFor themselves. What a body throws
/// is thrown on to the caller when no body runs any more.
void onThreads(std::size_t count, const std::function<void(std::size_t)>& body);

/// Lets the calling thread, and the threads that help it in parallelFor, give way to the program's others
/// while they live: a window must not wait for pictures on a machine whose cores are all at work. Make it on
/// the thread itself, before its first parallelFor, and keep it as long as the thread works. Where the system
/// does not let priorities be lowered, nothing happens.
class GiveWay {
public:
    /// Lowers the calling thread's priority; the destructor gives it back.
    GiveWay();
    ~GiveWay();
    GiveWay(const GiveWay&) = delete;
    GiveWay& operator=(const GiveWay&) = delete;

private:
    struct Impl;
    std::unique_ptr<Impl> m_impl;
};

/// Limits the threads of every parallelFor while it lives; for measuring and for tests.
class ThreadLimit {
public:
    /// `threads` >= 1; 1 means: on the calling thread alone.
    explicit ThreadLimit(int threads);
    ~ThreadLimit();
    ThreadLimit(const ThreadLimit&) = delete;
    ThreadLimit& operator=(const ThreadLimit&) = delete;

private:
    struct Impl;
    std::unique_ptr<Impl> m_impl;
};

}  // namespace kettle
