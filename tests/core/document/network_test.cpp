// The one walk over the network.
#include "core/document/network.h"

#include <QtTest>
#include <numeric>

#include "core/document/edits.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class NetworkTest final : public QObject {
    Q_OBJECT

    static Project withMask() {
        Project p = twoLines();
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("grey", "g1");
        return p;
    }
    static std::vector<std::string> walked(const Project& p, const std::string& from) {
        const Network n(p);
        std::vector<std::string> order;
        n.walk(
            {n.find(from)}, [&](Node node) { return n.inputs(node); },
            [&](Node node) { order.push_back(n.step(node).id); }, [](Node) {});
        return order;
    }

private Q_SLOTS:
    void aCycleIsFoundWhereverItStands() {
        // Two lines that read each other, behind one that reads nothing.
        Project p;
        p.lines.emplace_back(line("alone", Kind::Scalar, "", {step("a", "value"), step("b", "invert")}));
        p.lines.emplace_back(line("one", Kind::Scalar, "",
                                  {step("c", "value"), step("d", "blend", {}, {{"over", feed("two")}})}));
        QVERIFY(!findCycle(p));
        p.lines.emplace_back(line("two", Kind::Scalar, "",
                                  {step("e", "value"), step("f", "blend", {}, {{"over", feed("one")}})}));
        QVERIFY(findCycle(p).has_value());
    }
    void stepsAreFoundAndKnowTheirPlace() {
        const Project p = withMask();
        const Network n(p);
        QCOMPARE(n.size(), std::size_t{4});
        const Node g2 = n.find("g2");
        QCOMPARE(n.step(g2).id, std::string("g2"));
        QCOMPARE(n.line(g2).id, std::string("grey"));
        QCOMPARE(n.index(g2), std::size_t{1});
        QCOMPARE(n.before(g2), n.find("g1"));
        QCOMPARE(n.before(n.find("g1")), kNoNode);
        QCOMPARE(n.endOf("grey"), g2);
        QCOMPARE(n.tap("grey", "g1"), n.find("g1"));
        QCOMPARE(n.tap("grey", ""), g2);
        QCOMPARE(n.tap("grey", "shift"), g2);  // on another line
        QCOMPARE(n.tap("grey", "gone"), g2);
        QCOMPARE(n.endOf("gone"), kNoNode);
        QCOMPARE(n.find("gone"), kNoNode);
        QVERIFY(n.findLine("gone") == nullptr && n.findLine("base") == &*p.lines[0]);
        QCOMPARE(n.of(constantFeed(0.5)), kNoNode);
    }
    void inputsComeBeforeWhatReadsThem() {
        QCOMPARE(walked(withMask(), "shift"), (std::vector<std::string>{"source", "g1", "shift"}));
        QCOMPARE(walked(twoLines(), "g2"), (std::vector<std::string>{"g1", "g2"}));
        QVERIFY(walked(twoLines(), "gone").empty());
    }
    void aCycleIsToldAndTheWalkEnds() {
        Project p = withMask();
        p.lines[1].edit().steps[1].edit().feeds["mask"] = feed("base");
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("grey");
        const Network n(p);
        std::vector<Node> all(n.size());
        std::iota(all.begin(), all.end(), Node{0});
        int cycles = 0, left = 0;
        n.walk(
            all, [&](Node node) { return n.inputs(node); }, [&](Node) { ++left; }, [&](Node) { ++cycles; });
        QCOMPARE(cycles, 1);
        QCOMPARE(left, 4);
        QVERIFY(findCycle(p)->find("would feed itself") != std::string::npos);
    }
    void fiftyThousandStepsAreNoDepth() {
        Project p;
        Line l = line("long", Kind::Scalar, "", {step("s0", "value")});
        for (int i = 1; i < 50000; ++i) l.steps.emplace_back(step("s" + std::to_string(i), "invert"));
        p.lines.emplace_back(std::move(l));
        QCOMPARE(walked(p, "s49999").size(), std::size_t{50000});
        QVERIFY(!findCycle(p));
        QCOMPARE(edits::freshId(p, "s"), std::string("s50000"));
    }
    void addressesComeApart() {
        QCOMPARE(Address::of("s1.hue").step, std::string_view("s1"));
        QCOMPARE(Address::of("s1.hue").control, std::string_view("hue"));
        QCOMPARE(Address::of("s1").control, std::string_view());
    }
};

QTEST_APPLESS_MAIN(NetworkTest)
#include "network_test.moc"
