// Candidates: their values along one and two sides, of every kind of control, free by seed, and taken.
#include "core/analysis/explore.h"

#include <QtTest>
#include <set>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Project board() {
    Project p;
    p.lines.emplace_back(
        line("base", Kind::Colour, "base-colour",
             {step("source", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}),
              step("shift", "hsv-shift", {{"hue", 30.0}}),
              step("over", "blend", {{"mode", std::string("multiply")}}, {{"over", feed("own")}})}));
    p.lines.emplace_back(line("own", Kind::Scalar, "", {step("noise", "noise", {{"seed", 7.0}})}));
    p.looks.emplace_back(Look{"look", "Look", {{"shift.saturation", 1.4}}, {}});
    return p;
}

ExploreAxis axis(const char* step, const char* control, bool down = false) {
    return *exploreAxis(board(), step, control, shippedSteps(), down);
}

std::vector<double> numbers(const Candidates& sheet, const char* key) {
    std::vector<double> all;
    for (const Candidate& c : sheet.all) all.push_back(std::get<double>(c.changes.at(key)));
    return all;
}

Candidates sheetOf(const ExplorePlan& plan) {
    return candidatesOf(board(), "look", plan, shippedSteps());
}

}  // namespace

class ExploreTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void oneNumberFillsTheSheet() {
        ExplorePlan plan;
        plan.across = axis("shift", "saturation");
        plan.across->low = 0.5, plan.across->high = 1.6;
        const Candidates sheet = sheetOf(plan);
        QCOMPARE(sheet.columns, 4);
        QCOMPARE(sheet.rows, 3);
        QCOMPARE(numbers(sheet, "shift.saturation"),
                 (std::vector<double>{0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6}));
        QCOMPARE(sheet.all.front().words.front(), std::string("0.50 ×"));
        QVERIFY(sheetOf({}).all.empty());
    }

    void rangesBeginWhereTheyAreOfUse() {
        // Saturation rests at 1 of 0 to 2; amount at its end; hues go all around.
        QCOMPARE(axis("shift", "saturation").low, 0.4);
        QCOMPARE(axis("shift", "saturation").high, 1.6);
        QCOMPARE(wholeRange(board(), axis("shift", "saturation"), shippedSteps()).high, 2.0);
        QCOMPARE(axis("over", "amount").low, 0.0);
        QCOMPARE(axis("over", "amount").high, 1.0);
        QCOMPARE(axis("shift", "hue").low, -180.0);
    }

    void aWholeCirclesEndsAreOne() {
        ExplorePlan plan;
        plan.across = axis("shift", "hue");
        plan.count = 4;
        QCOMPARE(numbers(sheetOf(plan), "shift.hue"), (std::vector<double>{-180, -90, 0, 90}));
        plan.across->high = 90;
        QCOMPARE(numbers(sheetOf(plan), "shift.hue"), (std::vector<double>{-180, -90, 0, 90}));
        QCOMPARE(sheetOf(plan).all[3].words.front(), std::string("+90°"));
    }

    void acrossAndDownMeet() {
        ExplorePlan plan;
        plan.across = axis("shift", "hue");
        plan.across->low = 0, plan.across->high = 90;
        plan.down = axis("shift", "value");
        plan.down->low = 0.5, plan.down->high = 1.5;
        const Candidates sheet = sheetOf(plan);
        QCOMPARE(sheet.all.size(), std::size_t{12});
        QCOMPARE(numbers(sheet, "shift.hue"),
                 (std::vector<double>{0, 30, 60, 90, 0, 30, 60, 90, 0, 30, 60, 90}));
        QCOMPARE(std::get<double>(sheet.all[5].changes.at("shift.value")), 1.0);
        QCOMPARE(sheet.all[5].words.size(), std::size_t{2});
        // A switch has two rows, whatever was wanted.
        plan.down = axis("shift", "bypass");
        const Candidates two = sheetOf(plan);
        QCOMPARE(two.rows, 2);
        QVERIFY(std::get<bool>(two.all.front().changes.at("shift.bypass")));
        QCOMPARE(two.all.front().words.back(), std::string("without"));
    }

    void allModesAreASheet() {
        ExplorePlan plan;
        plan.across = axis("over", "mode");
        const Candidates sheet = sheetOf(plan);
        const auto& choices = shippedSteps().find("blend")->findControl("mode")->choices;
        QCOMPARE(sheet.all.size(), choices.size());
        std::set<std::string> modes;
        for (const Candidate& c : sheet.all) modes.insert(std::get<std::string>(c.changes.at("over.mode")));
        QCOMPARE(modes.size(), choices.size());
        QVERIFY(sheet.columns * sheet.rows >= static_cast<int>(choices.size()));
        // Beside another control the whole stays within what can be shown.
        plan.down = axis("over", "amount");
        QVERIFY(sheetOf(plan).all.size() <= kMostCandidates);
    }

    void aColoursHueAndValue() {
        ExplorePlan plan;
        plan.across = axis("source", "colour");
        plan.down = axis("source", "colour", true);
        plan.down->low = 0.5, plan.down->high = 1;
        plan.count = 8;
        const Candidates sheet = sheetOf(plan);
        QCOMPARE(sheet.all.size(), std::size_t{8});
        const auto hsv = [&](std::size_t i) {
            const Colour c = std::get<Colour>(sheet.all[i].changes.at("source.colour"));
            return hsvOf({linearToSrgb(c.r), linearToSrgb(c.g), linearToSrgb(c.b)});
        };
        const Hsv own = hsvOf({linearToSrgb(0.5f), linearToSrgb(0.25f), linearToSrgb(0.1f)});
        QVERIFY(std::abs(std::fmod(hsv(0).hue - own.hue + 540, 360) - 180 - 180) < 0.1 ||
                std::abs(std::abs(hsv(0).hue - own.hue) - 180) < 0.1);
        QVERIFY(std::abs(hsv(6).hue - own.hue) < 0.1);
        QVERIFY(std::abs(hsv(6).value - own.value) < 1e-4);
        QVERIFY(std::abs(hsv(2).value - own.value / 2) < 1e-4);
        QVERIFY(std::abs(hsv(7).saturation - own.saturation) < 1e-3);
    }

    void seedsAreOthers() {
        ExplorePlan plan;
        plan.across = axis("noise", "seed");
        QCOMPARE(plan.across->what, ExploreWhat::Seed);
        const auto seeds = numbers(sheetOf(plan), "noise.seed");
        QCOMPARE(seeds.front(), 7.0);
        QCOMPARE(std::set<double>(seeds.begin(), seeds.end()).size(), std::size_t{12});
    }

    void freeOnesStayWithinTheirSpread() {
        ExplorePlan plan;
        plan.free = {axis("shift", "hue"), axis("shift", "saturation")};
        plan.spread = 0.1;
        plan.count = 48;
        const Candidates sheet = sheetOf(plan);
        QCOMPARE(sheet.all.size(), std::size_t{48});
        double least = 1e9, most = -1e9;
        for (const double hue : numbers(sheet, "shift.hue")) {
            QVERIFY(std::abs(hue - 30) <= 36.1);
            least = std::min(least, hue), most = std::max(most, hue);
        }
        QVERIFY(most - least > 40);  // they are spread
        // Around what the look has, and the same each time; another seed gives others.
        for (const double s : numbers(sheet, "shift.saturation")) QVERIFY(s > 1.19 && s < 1.61);
        QCOMPARE(numbers(sheetOf(plan), "shift.hue"), numbers(sheet, "shift.hue"));
        plan.seed = 2;
        QVERIFY(numbers(sheetOf(plan), "shift.hue") != numbers(sheet, "shift.hue"));
    }

    void whatCannotBeTriedIsNot() {
        Project p = board();
        QVERIFY(!exploreAxis(p, "gone", "hue", shippedSteps()));
        QVERIFY(!exploreAxis(p, "shift", "gone", shippedSteps()));
        QVERIFY(!exploreAxis(p, "source", "bypass", shippedSteps()));
        p.lines[0].edit().steps.emplace_back(step("ramp", "ramp-remap"));
        QVERIFY(!exploreAxis(p, "ramp", "ramp", shippedSteps()));
        const auto axes = exploreAxes(p, "shift", shippedSteps());
        QVERIFY(axes.size() > 3);
        QCOMPARE(axes.front().control, std::string("hue"));
        QCOMPARE(axes.back().control, std::string("bypass"));
        // A step that went meanwhile leaves an empty sheet.
        ExplorePlan plan;
        plan.across = axis("over", "amount");
        p.lines[0].edit().steps.erase(p.lines[0]->steps.begin() + 2);
        QVERIFY(candidatesOf(p, "look", plan, shippedSteps()).all.empty());
    }

    void aCandidateIsTakenInItsLook() {
        ExplorePlan plan;
        plan.across = axis("shift", "hue");
        const Candidates sheet = sheetOf(plan);
        const auto taken = withCandidate(board(), "look", sheet.all[2]);
        QVERIFY(taken);
        QCOMPARE(taken->findLook("look")->changes.at("shift.hue"), sheet.all[2].changes.at("shift.hue"));
        QCOMPARE(taken->findLook("look")->changes.at("shift.saturation"), ControlValue(1.4));
        QVERIFY(evaluate(*taken, "base", "look") != evaluate(board(), "base", "look"));
        QVERIFY(evaluate(*taken) == evaluate(board()));
    }

    void theWheelGoesThroughSheets() {
        QCOMPARE(moreCandidates(12, 1), 16);
        QCOMPARE(moreCandidates(12, -1), 8);
        QCOMPARE(moreCandidates(4, -1), 4);
        QCOMPARE(moreCandidates(48, 1), 48);
    }
};

QTEST_APPLESS_MAIN(ExploreTest)
#include "explore_test.moc"
