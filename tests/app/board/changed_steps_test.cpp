// Which steps two editions of a project show differently, told without a window; and where that is not
// enough.
#include <QtTest>

#include "app/board/changed_steps.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::board;
using namespace kettle::test;

namespace {

using Steps = std::set<std::string>;

/// Two lines of three steps, and a look that changes one of them.
Project threeEach() {
    Project p;
    Step value = step("v", "value"), colour = step("c", "colour");
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {colour, step("a", "hsv-shift", {{"value", 0.5}}), step("b", "tone")}));
    p.lines.emplace_back(
        line("rough", Kind::Scalar, "roughness", {value, step("l", "levels"), step("m", "invert")}));
    p.looks.emplace_back(Look{"one", "One", {{"a.value", 0.7}}, {}});
    return p;
}

const Step& stepNamed(const Project& p, const std::string& id) {
    return p.stepAt(*p.findStep(id));
}

}  // namespace

class ChangedStepsTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void nothingChanged() {
        const Project p = threeEach();
        QCOMPARE(changedSteps(p, p), std::optional(Steps{}));
        // The same said anew is the same.
        QCOMPARE(changedSteps(p, threeEach()), std::optional(Steps{}));
    }

    void aControlOfTheBaseAndOfALook() {
        const Project p = threeEach();
        QCOMPARE(changedSteps(p, *edits::setControl(p, "", "l", "gamma", 2.0)), std::optional(Steps{"l"}));
        QCOMPARE(changedSteps(p, *edits::setControl(p, "one", "a", "value", 0.2)), std::optional(Steps{"a"}));
        QCOMPARE(changedSteps(p, *edits::setControl(p, "one", "b", "exposure", 1.0)),
                 std::optional(Steps{"b"}));
        // Taken off again, and on both ways at once.
        Project without = p;
        without.looks.front().edit().changes.clear();
        QCOMPARE(changedSteps(p, without), std::optional(Steps{"a"}));
        QCOMPARE(changedSteps(p, *edits::setControl(without, "", "m", "amount", 0.5)),
                 std::optional(Steps{"a", "m"}));
        Project inAll = p;
        inAll.allLooks["b.exposure"] = 2.0;
        QCOMPARE(changedSteps(p, inAll), std::optional(Steps{"b"}));
    }

    void bypassAndNotes() {
        Project p = threeEach(), other = p;
        other.lines[1].edit().steps[1].edit().bypass = true;
        other.lines[0].edit().steps[2].edit().note = "darker";
        QCOMPARE(changedSteps(p, other), std::optional(Steps{"l", "b"}));
    }

    /// More than single cards: lines, their order, names, sets, looks.
    void moreThanSteps() {
        const Project p = threeEach();
        Project other = p;
        other.lines[0].edit().name = "Colour of it all";
        QVERIFY(!changedSteps(p, other));
        other = p;
        other.lines[0].edit().steps.pop_back();
        QVERIFY(!changedSteps(p, other));
        other = p;
        std::swap(other.lines[0], other.lines[1]);
        QVERIFY(!changedSteps(p, other));
        other = p;
        other.looks.emplace_back(Look{"two", "Two", {}, {}});
        QVERIFY(!changedSteps(p, other));
        other = p;
        other.sets.emplace_back(TextureSet{});
        QVERIFY(!changedSteps(p, other));
        // A look's change of a step that is not there.
        other = p;
        other.looks.front().edit().changes["gone.value"] = 0.1;
        QVERIFY(!changedSteps(p, other));
    }

    /// Heads, fills and recipes stand for what is on other cards too.
    void layersAndRecipes() {
        std::string id, fill;
        Project p = *edits::addLayer(threeEach(), "", {"Dust", "", ""}, id);
        p = *edits::cover(p, "", id, "base", step("", "colour"), fill);
        const std::string head = headOf(*p.findLine(id)).id;
        QVERIFY(!changedSteps(p, *edits::setControl(p, "", head, "amount", 0.5)));
        QVERIFY(!changedSteps(p, *edits::setControl(p, "", fill, "opacity", 0.5)));
        QVERIFY(!changedSteps(p, *edits::setControl(p, "one", head, "amount", 0.5)));
        // The fill's card tells the colour that it lays.
        const std::string laid = p.findLine(stepNamed(p, fill).feeds.at("over").line)->steps.front()->id;
        QVERIFY(!changedSteps(p, *edits::setControl(p, "", laid, "colour", Colour{0.1f, 0.2f, 0.3f})));
        QVERIFY(!changedSteps(p, *edits::setControl(p, "one", laid, "colour", Colour{0.1f, 0.2f, 0.3f})));
        // What stands beside them speaks for itself.
        QCOMPARE(changedSteps(p, *edits::setControl(p, "", "l", "gamma", 2.0)), std::optional(Steps{"l"}));
        Project made = threeEach(), other = made;
        made.lines[0].edit().steps[1].edit().type = std::string(kRecipe) + "warm";
        other = made;
        other.lines[0].edit().steps[1].edit().controls["value"] = 0.1;
        QVERIFY(!changedSteps(made, other));
    }
};

QTEST_GUILESS_MAIN(ChangedStepsTest)
#include "changed_steps_test.moc"
