// The maps of a set lie together, but for those that lie on their own.
#include <QtTest>

#include "core/document/edits.h"
#include "core/document/placement_edits.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Project threeMaps() {
    Project p;
    p.lines.emplace_back(line("a", Kind::Colour, "base-colour", {mapStep("ma", "base-colour")}));
    p.lines.emplace_back(line("b", Kind::Scalar, "roughness", {mapStep("mb", "roughness")}));
    p.lines.emplace_back(line("c", Kind::Normal, "normal", {mapStep("mc", "normal")}));
    Step other = mapStep("md", "base-colour");
    other.set = "another";
    p.lines.emplace_back(line("d", Kind::Colour, "", {other}));
    p.looks.emplace_back(Look{"look", "Look", {}, {}});
    return p;
}

}  // namespace

class PlacementEditsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void allMapsOfASetAreTogether() {
        Project p = threeMaps();
        QCOMPARE(edits::lyingTogether(p, "", "mb", "own-place"),
                 (std::vector<std::string>{"ma", "mb", "mc"}));
        p = *edits::setControl(p, "", "mb", "own-place", true);
        QCOMPARE(edits::lyingTogether(p, "", "ma", "own-place"), (std::vector<std::string>{"ma", "mc"}));
        QCOMPARE(edits::lyingTogether(p, "", "mb", "own-place"), (std::vector<std::string>{"mb"}));
        p = *edits::setControl(p, "look", "mc", "own-place", true);
        QCOMPARE(edits::lyingTogether(p, "look", "ma", "own-place"), (std::vector<std::string>{"ma"}));
        QCOMPARE(edits::lyingTogether(p, "", "ma", "own-place"), (std::vector<std::string>{"ma", "mc"}));
    }

    void theyAreSetAndResetTogether() {
        const Project p = threeMaps();
        const auto steps = edits::lyingTogether(p, "", "ma", "own-place");
        const auto set = edits::setControls(p, "", steps, "repeats", 3.0);
        QVERIFY(set.has_value());
        for (const char* id : {"ma", "mb", "mc"})
            QCOMPARE(std::get<double>(set->stepAt(*set->findStep(id)).controls.at("repeats")), 3.0);
        QVERIFY(set->stepAt(*set->findStep("md")).controls.empty());
        QCOMPARE(*edits::resetControls(*set, "", steps, "repeats"), p);
        const auto inLook = edits::setControls(p, "look", steps, "repeats", 3.0);
        QCOMPARE(inLook->findLook("look")->changes.size(), 3u);
        QVERIFY(!edits::setControls(p, "", {"ma", "nobody"}, "repeats", 3.0).has_value());
    }

    /// A feed is joined and taken off for all maps of the set, without those that lie on their own.
    void aFeedIsSharedByAll() {
        Project p = threeMaps();
        p.lines.emplace_back(line("grey", Kind::Scalar, "", {step("g", "value", {{"value", 0.5}})}));
        p = *edits::setControl(p, "", "mc", "own-place", true);
        const auto joined = [&](const Project& of, const char* id) {
            return of.stepAt(*of.findStep(id)).feeds.contains("where");
        };
        const Project one = *edits::setFeed(p, "mb", "where", feed("grey"));
        const Project all = *edits::shareFeed(one, "", "mb", "where", "own-place");
        QVERIFY(joined(all, "ma") && joined(all, "mb") && !joined(all, "mc") && !joined(all, "md"));
        QCOMPARE(edits::mapStep(all, "set", "height", {}, {"where"}, "own-place").feeds.at("where").line,
                 std::string("grey"));
        const Project off = *edits::setFeed(all, "ma", "where", std::nullopt);
        QCOMPARE(*edits::shareFeed(off, "", "ma", "where", "own-place"), p);
        // A line that one of them stands on would go round.
        const Project round = *edits::setFeed(p, "mb", "where", feed("a"));
        const auto refused = edits::shareFeed(round, "", "mb", "where", "own-place");
        QVERIFY(!refused.has_value() && !refused.error().sentence.empty());
    }

    void aNewMapLiesAsTheOthers() {
        Project p = threeMaps();
        p = *edits::setControls(p, "", {"ma", "mb", "mc"}, "repeats", 3.0);
        p = *edits::setControl(p, "", "ma", "component", std::string("green"));
        const Step made = edits::mapStep(p, "set", "height", {"repeats", "rotation"}, {}, "own-place");
        QCOMPARE(made.controls, (Controls{{"repeats", 3.0}}));
        p = *edits::setControl(p, "", "ma", "own-place", true);
        p = *edits::setControl(p, "", "ma", "repeats", 7.0);
        QCOMPARE(std::get<double>(
                     edits::mapStep(p, "set", "height", {"repeats"}, {}, "own-place").controls.at("repeats")),
                 3.0);
    }
};

QTEST_GUILESS_MAIN(PlacementEditsTest)
#include "placement_edits_test.moc"
