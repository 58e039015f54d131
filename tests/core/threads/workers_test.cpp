// A loop whose threads each keep something.
#include "core/threads/workers.h"

#include <QtTest>
#include <atomic>
#include <thread>

#include "core/threads/parallel.h"

using namespace kettle;

class WorkersTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyItemIsVisitedOnceByWhatAThreadMadeOnce() {
        for (const std::size_t count : {0u, 1u, 7u, 1000u})
            for (const std::size_t grain : {0u, 1u, 64u, 5000u}) {
                std::vector<std::atomic<int>> seen(count);
                std::atomic<int> made{0};
                std::atomic<bool> isInOrder{true}, isPiece{true};
                parallelWorkers(count, grain, [&]() -> PieceWork {
                    ++made;
                    return [&, last = std::size_t{0}](std::size_t begin, std::size_t end) mutable {
                        if (begin < last) isInOrder = false;
                        if (end <= begin || end - begin > std::max<std::size_t>(grain, 1)) isPiece = false;
                        last = end;
                        for (std::size_t i = begin; i < end; ++i) ++seen[i];
                    };
                });
                for (const auto& s : seen) QCOMPARE(s.load(), 1);
                QVERIFY(isInOrder && isPiece);
                const auto most = static_cast<int>(std::thread::hardware_concurrency());
                QVERIFY(count == 0 ? made == 0 : made >= 1 && made <= std::max(1, most));
            }
    }
    void aLimitHolds() {
        const ThreadLimit limit(1);
        int made = 0, pieces = 0;
        parallelWorkers(500, 10, [&]() -> PieceWork {
            ++made;
            return [&](std::size_t, std::size_t) { ++pieces; };
        });
        QCOMPARE(made, 1);
        QCOMPARE(pieces, 50);
    }
    void whatIsThrownReachesTheCaller() {
        std::string caught;
        try {
            parallelWorkers(1000, 1, []() -> PieceWork {
                return [](std::size_t begin, std::size_t) {
                    if (begin == 500) throw std::runtime_error("the five hundredth");
                };
            });
        } catch (const std::exception& e) {
            caught = e.what();
        }
        QCOMPARE(caught, std::string("the five hundredth"));
    }
};

QTEST_GUILESS_MAIN(WorkersTest)
#include "workers_test.moc"
