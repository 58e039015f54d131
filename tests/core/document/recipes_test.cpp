// Recipes: packed and taken apart again, what they read, looks, recipes within recipes, editions, and what
// cannot be one.
#include "core/document/recipes.h"

#include <QtTest>

#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/recipe_edits.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A colour line of four steps; the second reads a mask of its own with two steps, the third a line that
/// another reads too.
Project kitchen() {
    Project p;
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {step("source", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}),
                               step("s1", "hsv-shift", {{"hue", 30.0}}),
                               step("s2", "tone", {{"exposure", 1.0}}, {{"mask", feed("own")}}),
                               step("s3", "tint", {{"amount", 0.5}}, {{"mask", feed("grey")}})}));
    p.lines.emplace_back(
        line("own", Kind::Scalar, "",
             {step("o1", "value", {{"value", 0.25}}), step("o2", "levels", {{"gamma", 2.0}})}));
    p.lines.emplace_back(line("grey", Kind::Scalar, "roughness", {step("g1", "value", {{"value", 0.5}})}));
    p.looks.emplace_back(Look{"look", "Look", {{"s1.hue", 90.0}, {"s2.exposure", -1.0}}, {}});
    p.looks.emplace_back(Look{"other", "Other", {{"s2.bypass", true}, {"s3.amount", 1.0}}, {}});
    return p;
}

edits::PackWish wish() {
    edits::PackWish w;
    w.name = "Warm glaze";
    w.kinds = {Kind::Colour};
    w.controls = {{"", "Hue", "Colour", {"s1.hue"}, {}, {}},
                  {"", "Brightness", "", {"s2.exposure"}, -2.0, 2.0},
                  {"", "Softness", "Where", {"o2.gamma"}, {}, {}}};
    return w;
}

Project packed(const Project& from, const std::string& look = {},
               const std::vector<std::string>& steps = {"s1", "s2", "s3"}) {
    std::string id;
    std::vector<std::string> notes;
    auto done = edits::packSteps(from, look, steps, wish(), id, notes);
    return done ? *done : Project{};
}

/// All programs of two projects are the same, in every look.
bool computesTheSame(const Project& a, const Project& b) {
    for (const char* look : {"", "look", "other"}) {
        const auto one = compile(a, a.findLook(look), {{"base", "", 4}}).program;
        const auto two = compile(b, b.findLook(look), {{"base", "", 4}}).program;
        if (one.listing() != two.listing()) return false;
    }
    return true;
}

}  // namespace

class RecipesTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void packedStepsComputeTheSame() {
        Project p = kitchen();
        // What is not exposed is as the base has it in every look, so the looks change exposed controls only.
        p.looks[1].edit().changes = {{"s1.hue", -20.0}};
        const Project one = packed(p);
        QCOMPARE(one.lines.size(), std::size_t{2});
        QCOMPARE(one.findLine("base")->steps.size(), std::size_t{2});
        const Step& step = *one.findLine("base")->steps.back();
        QCOMPARE(step.id, std::string("s3"));
        QCOMPARE(step.type, std::string("recipe:warm-glaze"));
        const Recipe& recipe = *one.recipes.front();
        QCOMPARE(recipe.steps.size(), std::size_t{3});
        QCOMPARE(recipe.lines.size(), std::size_t{1});
        // The line that others read is an input that bears its name, and it is joined.
        QCOMPARE(recipe.feeds.size(), std::size_t{1});
        QCOMPARE(recipe.feeds[0].name, std::string("grey"));
        QCOMPARE(step.feeds.at(recipe.feeds[0].id).line, std::string("grey"));
        QVERIFY(computesTheSame(p, one));
        // The look's changes are those of the one step now.
        QCOMPARE(std::get<double>(one.findLook("look")->changes.at("s3.hue")), 90.0);
        QCOMPARE(std::get<double>(one.findLook("look")->changes.at("s3.brightness")), -1.0);
    }

    void unpackedTheyAreStepsAgain() {
        const Project one = packed(kitchen());
        std::vector<std::string> ids;
        const auto again = edits::unpackStep(one, "s3", ids);
        QVERIFY(again);
        QCOMPARE(ids.size(), std::size_t{3});
        QCOMPARE(ids.back(), std::string("s3"));
        QVERIFY(again->recipes.empty());
        QCOMPARE(again->lines.size(), std::size_t{3});
        QVERIFY(computesTheSame(one, *again));
    }

    void everyLookStaysAsItIs() {
        // Also what looks change of controls that nobody ticked, from whatever look one packs.
        Project p = kitchen();
        p.looks[1].edit().changes = {{"s3.amount", 1.0}, {"s1.saturation", 0.4}};
        for (const char* look : {"", "look", "other"}) {
            const Project one = packed(p, look);
            QVERIFY(!one.recipes.empty());
            QVERIFY(computesTheSame(p, one));
        }
    }

    void stepsThatLooksSwitchOneByOneStaySo() {
        Project p = kitchen();
        p.looks[0].edit().changes["s1.bypass"] = true;  // beside the other look's s2
        const Project one = packed(p);
        QVERIFY(!one.recipes.empty());
        QVERIFY(computesTheSame(p, one));
        // Begun in looks of their own: off in the base, each switched on by its look.
        for (const std::size_t step : {1U, 2U}) p.lines[0].edit().steps[step].edit().bypass = true;
        p.looks[0].edit().changes["s1.bypass"] = false;
        p.looks[1].edit().changes["s2.bypass"] = false;
        for (const char* look : {"", "look", "other"}) {
            const Project again = packed(p, look);
            QVERIFY(!again.recipes.empty());
            QVERIFY(computesTheSame(p, again));
        }
        // Switched off as a whole, no look's single step stays on.
        Project off = packed(p);
        off.lines[0].edit().steps.back().edit().bypass = true;
        QVERIFY(near(evaluate(off, "base", "look"), {0.5f, 0.25f, 0.1f}, 0));
    }

    void aPackedStepIsSwitchedOffAsOne() {
        Project p = packed(kitchen());
        p.lines[0].edit().steps.back().edit().bypass = true;
        QVERIFY(near(evaluate(p), {0.5f, 0.25f, 0.1f}, 0));
        p.looks[0].edit().changes["s3.bypass"] = false;
        Project plain = kitchen();
        plain.looks[0].edit().changes.erase("s3.amount");
        QVERIFY(near(evaluate(p, "base", "look"),
                     {evaluate(plain, "base", "look")[0], evaluate(plain, "base", "look")[1],
                      evaluate(plain, "base", "look")[2]},
                     0));
    }

    void severalControlsGoTogether() {
        edits::PackWish w = wish();
        w.controls = {{"", "All", "", {"s2.amount", "s3.amount"}, {}, {}}};
        std::string id;
        std::vector<std::string> notes;
        auto done = edits::packSteps(kitchen(), {}, {"s2", "s3"}, w, id, notes);
        QVERIFY(done);
        done->lines[0].edit().steps.back().edit().controls["all"] = 0.0;
        Project without = kitchen();
        without.lines[0].edit().steps.resize(2);
        QVERIFY(near(evaluate(*done), {evaluate(without)[0], evaluate(without)[1], evaluate(without)[2]}, 0));
    }

    void recipesWithinRecipes() {
        const Project one = packed(kitchen(), {}, {"s1", "s2"});
        edits::PackWish w;
        w.name = "Outer";
        w.kinds = {Kind::Colour};
        w.controls = {{"", "Turn", "", {"s2.hue"}, {}, {}}};
        std::string id;
        std::vector<std::string> notes;
        auto two = edits::packSteps(one, {}, {"s2", "s3"}, w, id, notes);
        QVERIFY2(two, two ? "" : two.error().sentence.c_str());
        QCOMPARE(two->recipes.size(), std::size_t{2});
        QVERIFY(near(evaluate(*two), {evaluate(kitchen())[0], evaluate(kitchen())[1], evaluate(kitchen())[2]},
                     0));
        two->lines[0].edit().steps.back().edit().controls["turn"] = 200.0;
        Project turned = kitchen();
        turned.lines[0].edit().steps[1].edit().controls["hue"] = 200.0;
        QVERIFY(near(evaluate(*two), {evaluate(turned)[0], evaluate(turned)[1], evaluate(turned)[2]}, 0));
    }

    void whatCannotBeOneIsRefused() {
        const Project p = kitchen();
        std::string id;
        std::vector<std::string> notes;
        const auto refusal = [&](const std::vector<std::string>& steps, edits::PackWish w = wish()) {
            const auto done = edits::packSteps(p, {}, steps, w, id, notes);
            return done ? std::string() : done.error().sentence;
        };
        QVERIFY(refusal({}).find("Choose") != std::string::npos);
        QVERIFY(refusal({"source", "s1"}).find("source") != std::string::npos);
        QVERIFY(refusal({"s1", "s3"}).find("behind the other") != std::string::npos);
        QVERIFY(refusal({"s1", "g1"}).find("source") != std::string::npos);
        edits::PackWish nameless = wish();
        nameless.name = "  ";
        QVERIFY(refusal({"s1"}, nameless).find("name") != std::string::npos);
        Project tapped = p;
        tapped.lines[2].edit().steps.emplace_back(step("g2", "maths", {}, {{"b", feed("base", "s1")}}));
        const auto done = edits::packSteps(tapped, {}, {"s1", "s2"}, wish(), id, notes);
        QVERIFY(!done && done.error().sentence.find("g2") != std::string::npos);
    }

    void theSameRecipeIsTakenOnce() {
        const Recipe recipe = *packed(kitchen()).recipes.front();
        Project p;
        std::string first, second, third;
        p = edits::takeRecipe(p, recipe, first);
        p = edits::takeRecipe(p, recipe, second);
        QCOMPARE(first, second);
        Recipe other = recipe;
        other.steps[0].edit().controls["hue"] = 31.0;
        p = edits::takeRecipe(p, other, third);
        QVERIFY(third != first);
        QCOMPARE(p.recipes.size(), std::size_t{2});
        // Copied steps bring theirs, and mean them where they arrive.
        std::vector<Step> steps{step("x", "recipe:" + recipe.id)};
        const Project arrived =
            edits::takeSteps(edits::takeRecipe({}, other, third), {Shared<Recipe>(recipe)}, steps);
        QCOMPARE(arrived.recipes.size(), std::size_t{2});
        QCOMPARE(arrived.findRecipe(recipeOf(steps[0].type))->steps, recipe.steps);
    }

    void anotherEditionSaysWhatChanges() {
        const Project p = packed(kitchen());
        Recipe newer = *p.recipes.front();
        newer.edition = 2;
        newer.controls.erase(newer.controls.begin());
        newer.controls.push_back({"depth", "Depth", "", {"s3.amount"}, {}, {}});
        std::vector<std::string> notes;
        const auto next = edits::updateRecipe(p, newer.id, newer, notes);
        QVERIFY(next);
        QCOMPARE(notes.size(), std::size_t{2});
        QVERIFY(notes[0].find("Hue") != std::string::npos && notes[1].find("Depth") != std::string::npos);
        QVERIFY(!next->findLook("look")->changes.contains("s3.hue"));
        QVERIFY(next->findLook("look")->changes.contains("s3.brightness"));
        Recipe broken = newer;
        broken.steps.clear();
        QVERIFY(!edits::updateRecipe(p, newer.id, broken, notes));
    }

    void ringsOfRecipesPassTheirInputOn() {
        Project p = packed(kitchen());
        Recipe& recipe = p.recipes[0].edit();
        recipe.steps[0].edit().type = "recipe:" + recipe.id;
        QCOMPARE(recipesInTurn(p.recipes).size(), std::size_t{1});
        QVERIFY(near(evaluate(p), {0.5f, 0.25f, 0.1f}, 0));
        QVERIFY(!problemsOf(p).empty());
        // Recipes of recipes of recipes grow no larger than a project may.
        Project many;
        many.lines.emplace_back(
            line("base", Kind::Colour, "base-colour", {step("source", "colour"), step("s", "recipe:r7")}));
        for (int depth = 0; depth < 8; ++depth) {
            Recipe r;
            r.id = "r" + std::to_string(depth);
            r.kinds = {Kind::Colour};
            for (int i = 0; i < 10; ++i)
                r.steps.emplace_back(
                    step("i" + std::to_string(i),
                         depth == 0 ? std::string("invert") : "recipe:r" + std::to_string(depth - 1)));
            many.recipes.emplace_back(r);
        }
        const Opened opened = withoutRecipes(many, nullptr);
        QVERIFY(opened.project.lines[0]->steps.size() < kMostOpened + 100);
    }

    void filesGiveThemBack() {
        const Project p = packed(kitchen());
        const auto again = projectFromJson(projectToJson(p), "kitchen");
        QVERIFY2(again, again ? "" : again.error().sentence.c_str());
        QVERIFY(*again == p);
        const Recipe recipe = *p.recipes.front();
        const auto alone = recipeFromText(recipeToText(recipe), "glaze");
        QVERIFY(alone && *alone == recipe);
    }

    void brokenFilesSayWhatIsWrong_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("says");
        QTest::newRow("newer") << "\"version\": 1"
                               << "\"version\": 9"
                               << "newer";
        QTest::newRow("another format") << "pale-kettle-recipe"
                                        << "pale-kettle-ramp"
                                        << "not a recipe";
        QTest::newRow("a step that is not there") << "\"s2.exposure\""
                                                  << "\"s9.exposure\""
                                                  << "s9.exposure";
        QTest::newRow("no JSON") << "{"
                                 << ""
                                 << "complete JSON";
        QTest::newRow("a kind of its own") << "\"colour\"\n  ]"
                                           << "\"wool\"\n  ]"
                                           << "wool";
        QTest::newRow("a line of the project") << "\"line\": \"own\""
                                               << "\"line\": \"grey\""
                                               << "not its own";
        QTest::newRow("an edition below 1") << "\"edition\": 1"
                                            << "\"edition\": 0"
                                            << "edition";
        QTest::newRow("an empty range") << "\"low\": -2"
                                        << "\"low\": 3"
                                        << "Brightness";
    }
    void brokenFilesSayWhatIsWrong() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(QString, says);
        QString text = QString::fromStdString(recipeToText(*packed(kitchen()).recipes.front()));
        QVERIFY(text.contains(from));
        text.replace(text.indexOf(from), from.size(), to);
        const auto read = recipeFromText(text.toStdString(), "glaze");
        QVERIFY(!read);
        QVERIFY2(QString::fromStdString(read.error().sentence).contains(says), read.error().sentence.c_str());
    }

    void numbersOfObjects() {
        Project p;
        auto next = edits::setNumbers(p, false, {{"cup", 7}, {"lid", 7}});
        QVERIFY(next);
        next = edits::setNumbers(*next, true, {{"cup / glaze", 2}});
        QCOMPARE(next->objects->objects.at("lid"), 7);
        const auto again = projectFromJson(projectToJson(*next), "kitchen");
        QVERIFY(again && *again == *next);
        next = edits::setNumbers(*next, false, {{"cup", std::nullopt}});
        QVERIFY(!next->objects->objects.contains("cup"));
        QVERIFY(!edits::setNumbers(p, false, {{"cup", -1}}));
        QVERIFY(!edits::setNumbers(p, false, {{"cup", kMostNumber + 1}}));
        std::string text = projectToJson(*next);
        text.replace(text.find("\"number\": 7"), 11, "\"number\": 4294967296");
        const auto read = projectFromJson(text, "kitchen");
        QVERIFY(!read && read.error().sentence.find("16777215") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(RecipesTest)
#include "recipes_test.moc"
