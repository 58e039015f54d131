#include "core/document/surface_edits.h"

#include <QtTest>

#include "core/document/edits.h"
#include "core/engine/compile.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Project twoSurfaces() {
    std::string id;
    Project p = *edits::addSurface(twoLines(), "Rings", {"ring 1", "ring 2"}, "Stove", {"body", "lid"}, id);
    Line own = line("rings-base", Kind::Colour, "base-colour", {step("r1", "colour")});
    own.surface = id;
    return *edits::addLine(p, own);
}

QString refusal(const Result<Project>& p) {
    return p ? QString() : QString::fromStdString(p.error().sentence);
}

}  // namespace

class SurfaceEditsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theFirstSurfaceTakesWhatWasThere() {
        const Project p = twoSurfaces();
        QCOMPARE(surfaceIds(p), (std::vector<std::string>{"stove", "rings"}));
        QCOMPARE(p.findSurface("stove")->parts, (std::vector<std::string>{"body", "lid"}));
        QCOMPARE(p.lineOfChannel("base-colour", "stove")->id, std::string("base"));
        QCOMPARE(p.lineOfChannel("base-colour", "rings")->id, std::string("rings-base"));
        // A line that drives no channel stays shared.
        QVERIFY(p.findLine("grey")->surface.empty());
        QVERIFY(problemsOf(p).empty());
    }
    void partsBelongToOneSurfaceOrToNone() {
        Project p = *edits::giveParts(twoSurfaces(), "rings", {"lid"});
        QCOMPARE(surfacesOfParts(p, {"body", "lid", "ring 1", "spout"}), (std::vector<int>{0, 1, 1, -1}));
        p = *edits::giveParts(p, "", {"ring 1"});
        QCOMPARE(surfacesOfParts(p, {"body", "lid", "ring 1"}), (std::vector<int>{0, 1, -1}));
    }
    void oneForAllAndBackKeepsTheLists() {
        const Project before = twoSurfaces();
        const Project all = *edits::coverAll(before, "rings", true);
        QCOMPARE(surfacesOfParts(all, {"body", "spout"}), (std::vector<int>{1, 1}));
        QVERIFY(*edits::coverAll(all, "rings", false) == before);
        // Giving a part is for the lists, so they count again.
        const Project given = *edits::giveParts(all, "stove", {"spout"});
        QCOMPARE(surfacesOfParts(given, {"body", "spout", "ring 2"}), (std::vector<int>{0, 0, 1}));
    }
    void materialsBecomeSurfaces() {
        const std::vector<std::string> parts{"a", "b", "c", "d"}, materials{"enamel", "brass", "enamel", ""};
        const Project p = *edits::surfacesOfMaterials(twoLines(), parts, materials);
        QCOMPARE(surfaceIds(p), (std::vector<std::string>{"enamel", "brass"}));
        QCOMPARE(surfacesOfParts(p, parts), (std::vector<int>{0, 1, 0, -1}));
        QVERIFY(refusal(edits::surfacesOfMaterials(p, parts, materials))
                    .contains(QStringLiteral("surfaces already")));
        QVERIFY(refusal(edits::surfacesOfMaterials(twoLines(), parts, {"x", "x", "", ""}))
                    .contains(QStringLiteral("fewer than two materials")));
    }
    void aSurfaceGoesWithItsLinesUnlessAnotherReadsThem() {
        const Project p = twoSurfaces();
        const Project without = *edits::removeSurface(p, "rings");
        QVERIFY(without.findLine("rings-base") == nullptr && without.findLine("base") != nullptr);
        Feed reads = feed("rings-base");
        Project joined = *edits::insertStep(p, "", "base", 1, step("b", "blend"));
        joined = *edits::setFeed(joined, "b", "over", reads);
        QVERIFY(refusal(edits::removeSurface(joined, "rings"))
                    .contains(QStringLiteral("Take that feed off first.")));
        QVERIFY(
            refusal(edits::removeSurface(without, "stove")).contains(QStringLiteral("is the only surface")));
    }
    void namesAndUnknownSurfaces() {
        const Project p = *edits::renameSurface(twoSurfaces(), "rings", "Burners");
        QCOMPARE(surfaceName(p, "rings"), std::string("Burners"));
        QVERIFY(!edits::renameSurface(p, "rings", ""));
        for (const auto& refused :
             {edits::renameSurface(p, "sail", "x"), edits::giveParts(p, "sail", {"body"}),
              edits::coverAll(p, "sail", true), edits::removeSurface(p, "sail")})
            QVERIFY(refusal(refused).contains(QStringLiteral("There is no surface sail")));
    }
    void twoLinesMayDriveOneChannelOfTwoSurfaces() {
        Project p = twoSurfaces();
        QVERIFY(problemsOf(p).empty());
        p.lines.back().edit().surface = "stove";
        QVERIFY(problemsOf(p).front().find("which another line drives already") != std::string::npos);
        p.lines.back().edit().surface = "sail";
        QVERIFY(problemsOf(p).front().find("a surface \"sail\" that is not in the project") !=
                std::string::npos);
    }
    void aChangeHoldsInAllLooksAndBack() {
        Project p = *edits::setControl(twoLines(), "look", "shift", "hue", 90.0);
        p = *edits::holdInAllLooks(p, "look", "shift", "hue");
        const auto hue = [&](const char* look) {
            return std::get<double>(
                withLook(p, p.stepAt(*p.findStep("shift")), p.findLook(look)).controls.at("hue"));
        };
        QCOMPARE(hue("look"), 90.0);
        QCOMPARE(hue("other"), 90.0);
        QCOMPARE(hue(""), 30.0);  // as received stays
        // From now on a change in any look is one for all.
        p = *edits::setControl(p, "other", "shift", "hue", 120.0);
        QCOMPARE(hue("look"), 120.0);
        QVERIFY(p.findLook("other")->changes.empty());
        // A new look begins with it too.
        p = *edits::addLook(p, "third", "Third", "");
        QCOMPARE(hue("third"), 120.0);
        // And back: in this look alone.
        p = *edits::holdInOneLook(p, "other", "shift", "hue");
        QCOMPARE(hue("other"), 120.0);
        QCOMPARE(hue("look"), 30.0);
        QVERIFY(!edits::holdInAllLooks(p, "", "shift", "hue"));
        QVERIFY(!edits::holdInOneLook(p, "look", "none"));
    }
    void aStepThatHoldsInAllLooksIsResetAndRemovedWhole() {
        Project p = *edits::insertStep(twoLines(), "look", "base", 2, step("new", "invert"));
        p = *edits::holdInAllLooks(p, "look", "new");
        QVERIFY(!withLook(p, p.stepAt(*p.findStep("new")), p.findLook("other")).bypass);
        QVERIFY(p.stepAt(*p.findStep("new")).bypass);
        p = *edits::setBypass(p, "other", "new", true);  // as in the base: nothing is left to remember
        QVERIFY(p.allLooks.empty());
        p = *edits::setBypass(p, "look", "new", false);
        p = *edits::holdInAllLooks(p, "look", "new");
        p = *edits::removeStep(p, "new");
        QVERIFY(p.allLooks.empty() && problemsOf(p).empty());
    }
    void aLooksOwnChangeStandsOverThatOfAll() {
        Project p = *edits::setControl(twoLines(), "look", "shift", "hue", 90.0);
        p = *edits::holdInAllLooks(p, "look", "shift", "hue");
        p.looks[1].edit().changes["shift.hue"] = 10.0;
        const Look* other = &*p.looks[1];
        QCOMPARE(std::get<double>(*changeIn(p, other, "shift.hue")), 10.0);
        QCOMPARE(std::get<double>(*changeIn(p, &*p.looks[0], "shift.hue")), 90.0);
        QVERIFY(changeIn(p, nullptr, "shift.hue") == nullptr);
        // The same as all: nothing of its own is left.
        p = *edits::setControl(p, other->id, "shift", "hue", 90.0);
        QVERIFY(p.looks[1]->changes.empty());
    }
};

QTEST_GUILESS_MAIN(SurfaceEditsTest)
#include "surface_edits_test.moc"
