// Undo as a list of values, and revisions that never come again.
#include "core/document/history.h"

#include <QtTest>
#include <set>

#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class HistoryTest final : public QObject {
    Q_OBJECT

    static Project exposed(double stops) {
        Project p = twoLines();
        p.view.exposure = stops;
        return p;
    }

private Q_SLOTS:
    void aRevisionNeverComesAgain() {
        History h(exposed(0)), other(exposed(0));
        std::set<std::uint64_t> seen{h.revision(), other.revision()};
        const auto isNew = [&] { return seen.insert(h.revision()).second; };
        h.push(exposed(1), "one", 7);
        QVERIFY(isNew());
        h.push(exposed(2), "one", 7);  // joins: the same entry, another state
        QCOMPARE(h.size(), std::size_t{2});
        QVERIFY(isNew());
        const std::uint64_t joined = h.revision();
        h.undo();
        QVERIFY(!isNew());  // the start, known
        h.redo();
        QCOMPARE(h.revision(), joined);
        h.undo();
        h.push(exposed(3), "branch");
        QVERIFY(isNew());
        QCOMPARE(seen.size(), std::size_t{5});
    }
    void gesturesJoinOnlyInARow() {
        History h(exposed(0));
        h.push(exposed(1), "drag", 1);
        h.push(exposed(2), "drag", 1);
        h.push(exposed(3), "other", 2);
        h.push(exposed(4), "drag", 1);
        h.push(exposed(5), "plain");
        h.push(exposed(6), "plain");
        QCOMPARE(h.size(), std::size_t{6});
        h.jump(1);
        QCOMPARE(h.current().view.exposure, 2.0);
        QCOMPARE(h.undoName(), std::string("drag"));
        QCOMPARE(h.redoName(), std::string("other"));
        h.jump(0);
        QVERIFY(!h.canUndo() && h.canRedo());
    }
};

QTEST_APPLESS_MAIN(HistoryTest)
#include "history_test.moc"
