// Threads of the core.
#include "core/threads/parallel.h"

#include <sys/resource.h>
#include <unistd.h>

#include <QtTest>
#include <numeric>
#include <set>
#include <thread>

using namespace kettle;

namespace {

int niceness() {
    return getpriority(PRIO_PROCESS, static_cast<id_t>(gettid()));
}

}  // namespace

class ParallelTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyItemIsVisitedOnce() {
        for (const std::size_t count : {0u, 1u, 7u, 1000u})
            for (const std::size_t grain : {0u, 1u, 64u, 5000u}) {
                std::vector<std::atomic<int>> seen(count);
                parallelFor(count, grain, [&](std::size_t begin, std::size_t end) {
                    for (std::size_t i = begin; i < end; ++i) ++seen[i];
                });
                for (const auto& s : seen) QCOMPARE(s.load(), 1);
            }
    }
    void aLimitHolds() {
        const ThreadLimit limit(1);
        std::mutex mutex;
        std::set<std::thread::id> threads;
        parallelFor(500, 1, [&](std::size_t, std::size_t) {
            const std::lock_guard lock(mutex);
            threads.insert(std::this_thread::get_id());
        });
        QCOMPARE(threads.size(), std::size_t{1});
    }
    void whatABodyThrowsReachesTheCaller() {
        std::string caught;
        try {
            parallelFor(1000, 1, [](std::size_t begin, std::size_t) {
                if (begin == 500) throw std::runtime_error("the five hundredth");
            });
        } catch (const std::exception& e) {
            caught = e.what();
        }
        QCOMPARE(caught, std::string("the five hundredth"));
        std::atomic<int> after{0};  // and the threads are fit for more
        parallelFor(100, 1, [&](std::size_t, std::size_t) { ++after; });
        QCOMPARE(after.load(), 100);
    }
    void aStopIsSeenByAllCopies() {
        const CancelToken token;
        CancelToken copy = token;
        QVERIFY(!token.isCancelled());
        copy.cancel();
        QVERIFY(token.isCancelled());
    }
    void computingThreadsGiveWayAndTheCallerDoesNot() {
        const int own = niceness();
        int inside = own, helpers = 1000;
        std::thread([&] {
            const GiveWay giveWay;
            inside = niceness();
            std::mutex mutex;
            parallelFor(200, 1, [&](std::size_t, std::size_t) {
                std::this_thread::sleep_for(std::chrono::microseconds(200));
                const std::lock_guard lock(mutex);
                helpers = std::min(helpers, niceness());
            });
        }).join();
        // Below 19 nothing is lower; a run that begins there stays there.
        const int wanted = std::min(own + 5, 19);
        QCOMPARE(inside, wanted);
        QVERIFY2(helpers >= wanted, "a helping thread keeps the window waiting");
        QCOMPARE(niceness(), own);
    }
};

QTEST_APPLESS_MAIN(ParallelTest)
#include "parallel_test.moc"
