// Recipes opened to be looked into: where their steps stand, that nothing else changes, and what is set
// there.
#include "core/document/recipe_views.h"

#include <QtTest>

#include "core/document/recipe_edits.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// Two steps with a mask of their own packed as "pair", which sets the hue from outside; a look changes it.
Project withPair() {
    Project p;
    p.lines.emplace_back(
        line("base", Kind::Colour, "base-colour",
             {step("source", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}),
              step("s1", "hsv-shift", {{"hue", 30.0}}),
              step("s2", "tone", {{"exposure", 1.0}}, {{"mask", feed("own")}}), step("s3", "invert")}));
    p.lines.emplace_back(line("own", Kind::Scalar, "", {step("o1", "value", {{"value", 0.25}})}));
    p.looks.emplace_back(Look{"look", "Look", {{"s1.hue", 90.0}}, {}});
    edits::PackWish wish;
    wish.name = "Pair";
    wish.kinds = {Kind::Colour};
    wish.controls = {{"", "Turn", "", {"s1.hue"}, {}, {}}};
    std::string id;
    std::vector<std::string> notes;
    auto one = edits::packSteps(p, {}, {"s1", "s2"}, wish, id, notes);
    return one ? *one : Project{};
}

/// The same, packed once more with the step behind it as "outer".
Project nested() {
    edits::PackWish wish;
    wish.name = "Outer";
    wish.kinds = {Kind::Colour};
    wish.controls = {{"", "Hue", "", {"s2.turn"}, {}, {}}};
    std::string id;
    std::vector<std::string> notes;
    auto two = edits::packSteps(withPair(), {}, {"s2", "s3"}, wish, id, notes);
    return two ? *two : Project{};
}

std::vector<std::string> ids(const Project& p) {
    std::vector<std::string> all;
    for (const auto& step : p.lines[0]->steps) all.push_back(step->id);
    return all;
}

bool computesTheSame(const Project& a, const Project& b) {
    for (const char* look : {"", "look"})
        if (evaluate(a, "base", look) != evaluate(b, "base", look)) return false;
    return true;
}

}  // namespace

class RecipeViewsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void itsStepsStandBeforeIt() {
        const Project p = withPair();
        const OpenRecipes open = withOpen(p, {"s2", "source", "nothing"});
        QCOMPARE(open.steps, (std::set<std::string>{"s2"}));
        QCOMPARE(ids(open.shown), (std::vector<std::string>{"source", "s2/s1", "s2/s2", "s2", "s3"}));
        QVERIFY(open.shown.findLine("s2/own") != nullptr);
        // With what looks change at the control that they mean, and its own values at the step itself.
        const Step inner = withLook(open.shown, open.shown.stepAt(*open.shown.findStep("s2/s1")),
                                    open.shown.findLook("look"));
        QCOMPARE(std::get<double>(inner.controls.at("hue")), 90.0);
        QCOMPARE(std::get<double>(open.shown.findLook("look")->changes.at("s2.turn")), 90.0);
        QVERIFY(computesTheSame(p, open.computed));
    }

    void anOpenOneThatIsOffPassesOn() {
        Project p = withPair();
        p.lines[0].edit().steps[1].edit().bypass = true;
        p.looks[0].edit().changes["s2.bypass"] = false;
        const OpenRecipes open = withOpen(p, {"s2"});
        QVERIFY(open.shown.stepAt(*open.shown.findStep("s2/s2")).bypass);
        QVERIFY(computesTheSame(p, open.computed));
    }

    void recipesWithinRecipesOpenInTurn() {
        const Project p = nested();
        const OpenRecipes one = withOpen(p, {"s3"});
        QCOMPARE(ids(one.shown), (std::vector<std::string>{"source", "s3/s2", "s3/s3", "s3"}));
        QVERIFY(computesTheSame(p, one.computed));
        const OpenRecipes both = withOpen(p, {"s3", "s3/s2"});
        QCOMPARE(ids(both.shown),
                 (std::vector<std::string>{"source", "s3/s2/s1", "s3/s2/s2", "s3/s2", "s3/s3", "s3"}));
        QVERIFY(computesTheSame(p, both.computed));
        // The inner one alone has no place to stand.
        QVERIFY(withOpen(p, {"s3/s2"}).steps.empty());
    }

    void namesAreFollowedInside() {
        const Project p = nested();
        QVERIFY(!innerStep(p, "s3"));
        QVERIFY(!innerStep(p, "s3/s9"));
        QVERIFY(!innerStep(p, "source/s1"));
        const auto inner = innerStep(p, "s3/s2/s1");
        QVERIFY(inner);
        QCOMPARE(inner->outer, std::string("s3/s2"));
        QCOMPARE(inner->recipe, std::string("pair"));
        QCOMPARE(inner->id, std::string("s1"));
    }

    void whatIsSetFromOutsideIsSetThere() {
        const Project p = nested();
        const ControlPlace hue = controlPlace(p, *innerStep(p, "s3/s2/s1"), "hue");
        QVERIFY(!hue.inner);
        QCOMPARE(hue.step, std::string("s3"));
        QCOMPARE(hue.control, std::string("hue"));
        const ControlPlace own = controlPlace(p, *innerStep(p, "s3/s2/s1"), "saturation");
        QVERIFY(own.inner);
        QCOMPARE(own.inner->recipe, std::string("pair"));
    }

    void theRecipesOwnValuesAreSetForAllWhoUseIt() {
        const Project p = withPair();
        const InnerStep tone = *innerStep(p, "s2/s2");
        const auto darker = edits::setInner(p, tone, "exposure", -1.0);
        QVERIFY(darker);
        QCOMPARE(std::get<double>(darker->recipes[0]->steps[1]->controls.at("exposure")), -1.0);
        QVERIFY(evaluate(*darker) != evaluate(p));
        // A line of its own is reached too.
        const auto full = edits::setInner(p, *innerStep(p, "s2/o1"), "value", 1.0);
        QVERIFY(full);
        QCOMPARE(std::get<double>(full->recipes[0]->lines[0]->steps[0]->controls.at("value")), 1.0);
        const auto off = edits::setInner(p, tone, "bypass", true);
        QVERIFY(off && off->recipes[0]->steps[1]->bypass);
        const auto reset = edits::resetInner(*darker, tone, "exposure");
        QVERIFY(reset && !reset->recipes[0]->steps[1]->controls.contains("exposure"));
        InnerStep gone = tone;
        gone.id = "s7";
        QVERIFY(!edits::setInner(p, gone, "exposure", 0.0));
    }
};

QTEST_APPLESS_MAIN(RecipeViewsTest)
#include "recipe_views_test.moc"
