#include "core/document/edits.h"

#include <QtTest>

#include "core/document/history.h"
#include "core/document/json.h"
#include "core/document/network.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class EditsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aStepIsInsertedAtItsPlace() {
        const auto p = edits::insertStep(twoLines(), "", "base", 1, step("new", "invert"));
        QVERIFY(p.has_value());
        QCOMPARE(p->findLine("base")->steps[1]->id, std::string("new"));
        QCOMPARE(twoLines().findLine("base")->steps.size() + 1, p->findLine("base")->steps.size());
    }
    /// Where it was found before is only a hint.
    void aStepIsFoundWhereverItStands() {
        Project p = twoLines();
        const auto isAt = [&](const Project& in, std::size_t line, std::size_t step) {
            const auto place = in.findStep("shift");
            return place && place->line == line && place->step == step;
        };
        QVERIFY(isAt(p, 0, 1) && isAt(p, 0, 1));
        const Project moved = *edits::insertStep(p, "", "base", 1, step("new", "invert"));
        QVERIFY(isAt(moved, 0, 2) && isAt(p, 0, 1) && isAt(moved, 0, 2));
        std::swap(p.lines[0], p.lines[1]);
        QVERIFY(isAt(p, 1, 1));
        const Project without = *edits::removeStep(p, "shift");
        QVERIFY(!without.findStep("shift") && !Project{}.findStep("shift"));
        QVERIFY(isAt(p, 1, 1));
    }
    void theOldProjectStaysAsItWas() {
        const Project before = twoLines();
        const std::string text = projectToJson(before);
        QVERIFY(edits::setControl(before, "", "shift", "hue", 12.0).has_value());
        QVERIFY(edits::insertStep(before, "look", "base", 2, step("new", "invert")).has_value());
        QVERIFY(edits::removeStep(before, "shift").has_value());
        QCOMPARE(projectToJson(before), text);
    }
    void aStepAddedInALookLeavesOtherLooksAlone() {
        const auto p = edits::insertStep(twoLines(), "look", "base", 2, step("new", "invert"));
        const Step& base = p->stepAt(*p->findStep("new"));
        QVERIFY(base.bypass);
        QVERIFY(!withLook(*p, base, p->findLook("look")).bypass);
        QVERIFY(withLook(*p, base, p->findLook("other")).bypass);
    }
    void controlsGoToTheLookOrTheBase() {
        auto p = edits::setControl(twoLines(), "look", "shift", "hue", 90.0);
        QCOMPARE(std::get<double>(
                     withLook(*p, p->stepAt(*p->findStep("shift")), p->findLook("look")).controls.at("hue")),
                 90.0);
        QCOMPARE(std::get<double>(p->stepAt(*p->findStep("shift")).controls.at("hue")), 30.0);
        p = edits::setControl(*p, "look", "shift", "hue",
                              30.0);  // the base's own value: nothing is left to remember
        QVERIFY(p->findLook("look")->changes.empty());
        p = edits::setControl(*p, "", "shift", "hue", 10.0);
        p = edits::resetControl(*p, "", "shift", "hue");
        QVERIFY(!p->stepAt(*p->findStep("shift")).controls.contains("hue"));
    }
    void aResetGoesToTheLookOrTheBase() {
        Project p = *edits::setControl(twoLines(), "", "shift", "hue", 50.0);
        p = *edits::setControl(p, "look", "shift", "hue", 70.0);
        p = *edits::setControl(p, "other", "shift", "hue", 90.0);
        const Project inLook = *edits::resetControl(p, "look", "shift", "hue");
        QVERIFY(inLook.findLook("look")->changes.empty());
        QCOMPARE(inLook.findLook("other")->changes.size(), std::size_t{1});
        QCOMPARE(std::get<double>(inLook.lines[0]->steps[1]->controls.at("hue")), 50.0);
        const Project inBase = *edits::resetControl(p, "", "shift", "hue");
        QVERIFY(!inBase.lines[0]->steps[1]->controls.contains("hue"));
        QCOMPARE(inBase.findLook("look")->changes.size(), std::size_t{1});
    }
    void bypassGoesToTheLookOrTheBase() {
        auto p = edits::setBypass(twoLines(), "look", "shift", true);
        QVERIFY(!p->stepAt(*p->findStep("shift")).bypass);
        QVERIFY(withLook(*p, p->stepAt(*p->findStep("shift")), p->findLook("look")).bypass);
        p = edits::setBypass(*p, "look", "shift", false);
        QVERIFY(p->findLook("look")->changes.empty());
        QVERIFY(!edits::setBypass(twoLines(), "", "source", true));
    }
    void removingAStepMendsTapsAndLooks() {
        auto p = edits::setFeed(twoLines(), "g2", "mask", feed("base", "shift"));
        p = edits::setControl(*p, "look", "shift", "hue", 5.0);
        p = edits::removeStep(*p, "shift");
        QVERIFY(p.has_value());
        QCOMPARE(p->stepAt(*p->findStep("g2")).feeds.at("mask").after, std::string("source"));
        QVERIFY(p->findLook("look")->changes.empty());
    }
    void sourcesStay() {
        const auto p = edits::removeStep(twoLines(), "source");
        QCOMPARE(QString::fromStdString(p.error().sentence),
                 QStringLiteral("The first step of Base colour is its source and stays. Replace its map "
                                "instead, or remove the line."));
        QVERIFY(!edits::moveStep(twoLines(), "source", "grey", 1));
        QVERIFY(!edits::moveStep(twoLines(), "shift", "grey", 0));
    }
    void cyclesAreRefusedWithASentence() {
        auto p = edits::setFeed(twoLines(), "shift", "mask", feed("grey"));
        QVERIFY(p.has_value());
        const auto round = edits::setFeed(*p, "g2", "mask", feed("base"));
        QVERIFY(!round);
        QCOMPARE(round.error().kind, ErrorKind::Refused);
        QVERIFY(QString::fromStdString(round.error().sentence).contains(QStringLiteral("would feed itself")));
        QVERIFY(!edits::setFeed(twoLines(), "shift", "mask", feed("base")));  // its own end
        QVERIFY(edits::setFeed(twoLines(), "shift", "mask",
                               feed("base", "source")));                    // a tap before itself is no cycle
        QVERIFY(edits::setFeed(*p, "g2", "mask", feed("base", "source")));  // and round two lines neither
    }
    void feedsMustLeadSomewhere() {
        QVERIFY(!edits::setFeed(twoLines(), "shift", "mask", feed("nowhere")));
        QVERIFY(!edits::setFeed(twoLines(), "shift", "mask", feed("grey", "shift")));
        QVERIFY(!edits::setFeed(twoLines(), "nobody", "mask", feed("grey")));
        const auto off = edits::setFeed(*edits::setFeed(twoLines(), "shift", "mask", feed("grey")), "shift",
                                        "mask", std::nullopt);
        QVERIFY(off->stepAt(*off->findStep("shift")).feeds.empty());
    }
    void movingAlongALineKeepsTheOthersInOrder() {
        auto p = *edits::insertStep(twoLines(), "", "base", 2, step("a", "invert"));
        p = *edits::insertStep(p, "", "base", 3, step("b", "invert"));
        const auto moved = edits::moveStep(p, "shift", "base", 4);
        QVERIFY(moved.has_value());
        std::string order;
        for (const auto& s : moved->findLine("base")->steps) order += s->id + " ";
        QCOMPARE(order, std::string("source a b shift "));
    }
    void linesThatAreReadStay() {
        const auto p = edits::setFeed(twoLines(), "shift", "mask", feed("grey"));
        QVERIFY(!edits::removeLine(*p, "grey"));
        QVERIFY(edits::removeLine(twoLines(), "grey").has_value());
        QVERIFY(!edits::addLine(twoLines(), Line{"grey", "Grey", Kind::Scalar, "", {}, {}}));
    }
    void looksAreAddedCopiedRenamedAndRemoved() {
        auto p = edits::setControl(twoLines(), "look", "shift", "hue", 77.0);
        p = edits::addLook(*p, "copy", "Copy", "look");
        QCOMPARE(p->findLook("copy")->changes.size(), std::size_t{1});
        p = edits::renameLook(*p, "copy", "Marmalade");
        QCOMPARE(p->findLook("copy")->name, std::string("Marmalade"));
        QVERIFY(!edits::renameLook(*p, "copy", ""));
        QVERIFY(!edits::addLook(*p, "copy", "Again", ""));
        p = edits::removeLook(*p, "copy");
        QVERIFY(p->findLook("copy") == nullptr);
        QVERIFY(!edits::removeLook(*p, "copy"));
    }
    void freshIdsAreFree() {
        const Project p = twoLines();
        QCOMPARE(edits::freshId(p, "s"), std::string("s1"));
        QCOMPARE(edits::freshId(p, "base"), std::string("base-2"));
        QCOMPARE(edits::freshId(p, "celadon"), std::string("celadon"));
    }
    void historyGoesBackToTheStartAndJoinsGestures() {
        History h(twoLines());
        const std::string start = projectToJson(h.current());
        for (int i = 0; i < 50; ++i)
            h.push(*edits::setControl(h.current(), "", "shift", "hue", static_cast<double>(i)), "Hue", 7);
        QCOMPARE(h.position(), std::size_t{1});  // one drag is one entry
        for (int i = 0; i < 30; ++i)
            h.push(*edits::setControl(h.current(), "", "shift", "value", 1.0 + i), "Value");
        QCOMPARE(h.position(), std::size_t{31});
        QCOMPARE(h.undoName(), std::string("Value"));
        const std::string end = projectToJson(h.current());
        while (h.canUndo()) h.undo();
        QCOMPARE(projectToJson(h.current()), start);
        while (h.canRedo()) h.redo();
        QCOMPARE(projectToJson(h.current()), end);
        h.undo();
        h.push(twoLines(), "Other");
        QVERIFY(!h.canRedo());
    }

    void pastedStepsGetFreshIdsAndKeepWhatCanBeKept() {
        const Project p = twoLines();
        Step shift = *p.lines[0]->steps[1];
        shift.feeds["mask"] = feed("grey");
        Step lost = shift;
        lost.feeds["mask"] = feed("gone");
        std::vector<std::string> ids;
        const auto next = edits::pasteSteps(p, "", "base", 2, {shift, lost}, ids);
        QVERIFY(next.has_value());
        QCOMPARE(ids.size(), std::size_t{2});
        QVERIFY(ids[0] != ids[1] && !p.findStep(ids[0]));
        QCOMPARE(next->stepAt(*next->findStep(ids[0])).feeds.at("mask").line, std::string("grey"));
        QVERIFY(next->stepAt(*next->findStep(ids[1])).feeds.empty());
        QVERIFY(!edits::pasteSteps(p, "", "base", 0, {shift}, ids));  // a line starts with its source
        // A feed that would make a cycle is left off.
        Step cyclic = step("c", "levels");
        cyclic.feeds["mask"] = feed("grey");
        const auto onGrey = edits::pasteSteps(p, "", "grey", 1, {cyclic}, ids);
        QVERIFY(onGrey.has_value() && !findCycle(*onGrey));
    }
    void aNewLineFeedsAStep() {
        const Project p = twoLines();
        Step source;
        source.type = "gradient";
        const auto next = edits::feedFromNewLine(p, "shift", "mask", "Gradient", Kind::Scalar, source);
        QVERIFY(next.has_value());
        const Feed& feed = next->stepAt(*next->findStep("shift")).feeds.at("mask");
        const Line& made = *next->findLine(feed.line);
        QCOMPARE(made.name, std::string("Gradient"));
        QVERIFY(made.channel.empty() && made.kind == Kind::Scalar && made.steps.size() == 1);
        QVERIFY(!edits::feedFromNewLine(p, "nobody", "mask", "Gradient", Kind::Scalar, source));
    }
    void mapsJoinASetUnderAFreeRole() {
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"wear", "a.png", "auto", {}}}, {}});
        std::string role = "wear";
        const auto next = edits::addMap(p, "set", "b.png", role);
        QVERIFY(next.has_value());
        QCOMPARE(role, std::string("wear-2"));
        QCOMPARE(next->sets[0]->maps.size(), std::size_t{2});
        QVERIFY(!edits::addMap(p, "other", "b.png", role));
    }
};

QTEST_APPLESS_MAIN(EditsTest)
#include "edits_test.moc"
