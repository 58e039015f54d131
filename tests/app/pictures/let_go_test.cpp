// What is let go of on one thread is freed on another, and never twice.
#include "app/pictures/let_go.h"

#include <QtTest>
#include <thread>

using namespace kettle;

namespace {

/// Tells on which thread it was freed.
struct Told {
    std::vector<std::thread::id>* freed;
    ~Told() { freed->push_back(std::this_thread::get_id()); }
};

}  // namespace

class LetGoTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void itsMakerFreesIt() {
        std::vector<std::thread::id> freed;
        LetGo<Told> letGo;
        auto held = letGo.share(std::make_unique<Told>(&freed)), alsoHeld = held;
        held.reset();
        letGo.free();
        QVERIFY(freed.empty());  // somebody still looks at it
        std::thread([last = std::move(alsoHeld)]() mutable { last.reset(); }).join();
        QVERIFY(freed.empty());
        letGo.free();
        QCOMPARE(freed, std::vector{std::this_thread::get_id()});
        letGo.free();
        QCOMPARE(freed.size(), std::size_t{1});
    }
    void whatOutlivesItIsFreedAsWell() {
        std::vector<std::thread::id> freed;
        auto letGo = std::make_unique<LetGo<Told>>();
        auto left = letGo->share(std::make_unique<Told>(&freed));
        auto held = letGo->share(std::make_unique<Told>(&freed));
        left.reset();
        letGo.reset();
        held.reset();
        QCOMPARE(freed.size(), std::size_t{2});
    }
};

QTEST_GUILESS_MAIN(LetGoTest)
#include "let_go_test.moc"
