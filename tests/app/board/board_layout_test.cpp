// The layout as a pure function: nothing overlaps, order is kept, and an insertion moves only what stands
// behind it.
#include "app/board/board_layout.h"

#include <QtTest>
#include <random>

#include "app/board/layout_alike.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/layers.h"
#include "core/steps/step.h"
#include "tests/support/board_boxes.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::board;
using namespace kettle::test;

namespace {

Project longLine(int steps) {
    Project p;
    Line l = line("base", Kind::Colour, "base-colour", {step("c0", "colour")});
    for (int i = 1; i < steps; ++i) l.steps.emplace_back(step("c" + std::to_string(i), "invert"));
    p.lines.emplace_back(std::move(l));
    return p;
}

/// Several channels with feeds, side lines and shared lines, at random.
Project randomBoard(unsigned seed, int steps) {
    std::mt19937 random(seed);
    Project p;
    const char* const names[] = {"base-colour", "roughness", "metalness", "height"};
    for (const char* name : names)
        p.lines.emplace_back(line(name, Kind::Scalar, name, {step(std::string(name) + "0", "value")}));
    for (int i = 0; i < 6; ++i) {
        Line shared =
            line("shared" + std::to_string(i), Kind::Scalar, "", {step("h" + std::to_string(i), "value")});
        if (random() % 2 == 0) shared.steps.emplace_back(step("k" + std::to_string(i), "invert"));
        p.lines.emplace_back(std::move(shared));
    }
    for (int i = 0; i < steps; ++i) {
        Step s = step("s" + std::to_string(i), "blend");
        if (random() % 3 == 0) s.feeds["over"] = feed("shared" + std::to_string(random() % 6));
        if (random() % 4 == 0) s.feeds["mask"] = feed("shared" + std::to_string(random() % 6));
        p.lines[random() % 4].edit().steps.emplace_back(std::move(s));
    }
    return p;
}

}  // namespace

class BoardLayoutTest final : public QObject {
    Q_OBJECT

    /// All places of a layout, as text.
    static QString placesOf(const Layout& l) {
        QString all;
        QDebug out(&all);
        out << l.size << l.maskRows;
        for (const auto& c : l.cards) out << c.step.c_str() << c.rect << c.isSlim << c.isFill;
        for (const auto& r : l.ribbons) out << r.step.c_str() << r.rect;
        for (const auto& e : l.elbows) out << e.step.c_str() << e.from << e.to;
        for (const auto& f : l.flags) out << f.owner.c_str() << f.text << f.rect;
        for (const auto& h : l.heads) out << h.line.c_str() << h.rect << h.isFolded << h.isSlim;
        for (const auto& h : l.headings) out << h.surface.c_str() << h.rect << h.isFolded;
        for (const auto& c : l.caps) out << c.line.c_str() << c.rect;
        for (const auto& b : l.bands) out << b.layer.c_str() << b.rect;
        return all;
    }

private Q_SLOTS:
    void aNumberNeedsNoNewLayout() {
        const Project p = *loadProject(std::filesystem::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle");
        QVERIFY(laysOutAlike(p, p));
        const QString before = placesOf(layOut(p, 900));
        int alike = 0, others = 0;
        // Whatever is changed of a step in the base: where it is said to be alike, it is.
        for (const auto& line : p.lines)
            for (const auto& step : line->steps)
                for (const ControlSpec& control : shippedSteps().find(step->type)->controls) {
                    Project changed = p;
                    for (auto& l : changed.lines)
                        if (l->id == line->id)
                            for (auto& s : l.edit().steps)
                                if (s->id == step->id)
                                    s.edit().controls[control.id] =
                                        control.type == ControlType::Choice
                                            ? ControlValue(control.choices.back().id)
                                            : ControlValue(1.0);
                    if (laysOutAlike(p, changed)) {
                        ++alike;
                        QCOMPARE(placesOf(layOut(changed, 900)), before);
                    } else {
                        ++others;
                    }
                }
        QVERIFY(alike > 100 && others > 0);
        Project other = *edits::setFeed(p, "glaze", "mask", std::nullopt);
        QVERIFY(!laysOutAlike(p, other));
        other = p;
        other.lines[0].edit().name = "Colour";
        QVERIFY(!laysOutAlike(p, other));
        LayoutOptions options, folded;
        folded.folded.insert("base-colour");
        QVERIFY(laysOutAlike(options, options) && !laysOutAlike(options, folded));
    }
    /// What a look changes is no reason either, but of a fill: by height it wants a height.
    void norDoesANumberInALook() {
        const Project p = *loadProject(std::filesystem::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle");
        const QString before = placesOf(layOut(p, 900));
        int alike = 0, ofFills = 0;
        for (const auto& line : p.lines)
            for (const auto& step : line->steps)
                for (const ControlSpec& control : shippedSteps().find(step->type)->controls)
                    for (const bool inAll : {false, true}) {
                        Project changed = p;
                        Changes& changes = inAll ? changed.allLooks : changed.looks[0].edit().changes;
                        changes[step->id + "." + control.id] = control.type == ControlType::Choice
                                                                   ? ControlValue(control.choices.back().id)
                                                                   : ControlValue(1.25);
                        if (laysOutAlike(p, changed)) {
                            ++alike;
                            QCOMPARE(placesOf(layOut(changed, 900)), before);
                        } else {
                            QVERIFY(step->type == kFill || step->type == kLayerHead || step->type == "value");
                            ofFills += step->type == kFill ? 1 : 0;
                        }
                    }
        QVERIFY(alike > 100 && ofFills > 10);
    }
    /// Less width than the lines take is no reason to lay them out anew.
    void whereTheLinesAreLongerTheWidthDoesNotMatter() {
        const Project demo =
            *loadProject(std::filesystem::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle");
        for (const Project& p : {demo, longLine(30), randomBoard(5, 40), Project()}) {
            const Layout least = layOut(p, 0), just = layOut(p, least.narrowest),
                         wider = layOut(p, least.narrowest + 1);
            QCOMPARE(just.narrowest, least.narrowest);
            QCOMPARE(placesOf(just), placesOf(least));
            QCOMPARE(just.size, least.size);
            QCOMPARE(wider.size.width(), least.size.width() + 1);
        }
    }
    void nothingOverlapsFromOneStepToTwoHundred() {
        for (unsigned seed = 1; seed <= 40; ++seed) {
            const Project p = randomBoard(seed, static_cast<int>(seed * 5));
            const QString overlap = overlapIn(layOut(p, 960));
            QVERIFY2(overlap.isEmpty(), qPrintable(overlap));
        }
        QVERIFY(overlapIn(layOut(longLine(1), 960)).isEmpty());
        QVERIFY(overlapIn(layOut(longLine(200), 960)).isEmpty());
    }
    void everyStepHasACardAndEveryLineAHeadOrAReader() {
        const Project p = randomBoard(7, 60);
        const Layout l = layOut(p, 960);
        for (const auto& made : p.lines) {
            for (const auto& s : made->steps) QVERIFY2(l.cardOf(s->id) != nullptr, s->id.c_str());
            const bool head = std::any_of(l.heads.begin(), l.heads.end(),
                                          [&](const HeadPlace& h) { return h.line == made->id; });
            QCOMPARE(head, !sideLines(p).contains(made->id));
        }
    }
    void cardsKeepTheLinesOrder() {
        const Layout l = layOut(longLine(30), 960);
        for (int i = 1; i < 30; ++i)
            QVERIFY(l.cardOf("c" + std::to_string(i - 1))->rect.right() <
                    l.cardOf("c" + std::to_string(i))->rect.left());
    }
    void insertingMovesOnlyWhatStandsBehind() {
        const Project before = longLine(10);
        const Project after = *edits::insertStep(before, "", "base", 4, step("new", "invert"));
        const Layout a = layOut(before, 3000), b = layOut(after, 3000);
        for (int i = 0; i < 4; ++i)
            QCOMPARE(b.cardOf("c" + std::to_string(i))->rect, a.cardOf("c" + std::to_string(i))->rect);
        for (int i = 4; i < 10; ++i)
            QCOMPARE(b.cardOf("c" + std::to_string(i))->rect,
                     a.cardOf("c" + std::to_string(i))->rect.translated(kCardWidth + kGap, 0));
    }
    void otherLinesStayWhereTheyAre() {
        const Project before = randomBoard(3, 20);
        const Project after = *edits::insertStep(before, "", "roughness", 1, step("new", "invert"));
        const Layout a = layOut(before, 4000), b = layOut(after, 4000);
        for (const auto& s : before.findLine("base-colour")->steps)
            QCOMPARE(b.cardOf(s->id)->rect, a.cardOf(s->id)->rect);
    }
    void capsStandAtTheRightEdgeInOneColumn() {
        const Layout l = layOut(twoLines(), 960);
        QCOMPARE(l.caps.size(), std::size_t{2});
        QCOMPARE(l.caps[0].rect.left(), l.caps[1].rect.left());
        QCOMPARE(l.size.width(), 960);
        QVERIFY(layOut(longLine(40), 960).size.width() > 40 * kCardWidth);
    }
    void ribbonsJoinTheirCards() {
        const Layout l = layOut(longLine(5), 960);
        QCOMPARE(l.ribbons.size(), std::size_t{5});
        for (const RibbonPlace& r : l.ribbons) {
            QCOMPARE(r.rect.height(), kRibbonHeight);
            QCOMPARE(r.rect.left(), l.cardOf(r.step)->rect.right() + 1);
        }
        QCOMPARE(l.ribbons.back().rect.right() + 1, l.caps.front().rect.left());
    }
    void aLineReadOnceHangsBelowItsReader() {
        Project p = twoLines();
        p = *edits::setFeed(p, "shift", "mask", feed("grey"));
        QVERIFY(sideLines(p).contains("grey"));
        const Layout l = layOut(p, 960);
        QCOMPARE(l.elbows.size(), std::size_t{1});
        QCOMPARE(l.elbows[0].name, QStringLiteral("mask"));
        QVERIFY(l.cardOf("g2")->isSmall);
        QVERIFY(l.cardOf("g2")->rect.top() > l.cardOf("shift")->rect.bottom());
        QVERIFY(l.cardOf("g2")->rect.right() < l.elbows[0].to.x());
        QCOMPARE(l.heads.size(), std::size_t{1});
    }
    void aLineReadTwiceOrTappedHasARowAndFlags() {
        Project p = *edits::setFeed(twoLines(), "shift", "mask", feed("grey", "g1"));
        QVERIFY(!sideLines(p).contains("grey"));
        const Layout l = layOut(p, 960);
        QCOMPARE(l.flags.size(), std::size_t{1});
        QCOMPARE(l.flags[0].text, QStringLiteral("mask: grey"));
        QCOMPARE(l.heads.size(), std::size_t{2});
        p = *edits::setFeed(twoLines(), "shift", "mask", constantFeed(0.5));
        QCOMPARE(layOut(p, 960).flags[0].text, QStringLiteral("mask: 0.50"));
    }
    void theDemoBoardIsTidy() {
        const auto p = loadProject(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");
        const Layout l = layOut(*p, 960);
        const QString overlap = overlapIn(l);
        QVERIFY2(overlap.isEmpty(), qPrintable(overlap));
        QCOMPARE(l.elbows.size(), std::size_t{1});
        QCOMPARE(l.flags.size(), std::size_t{3});  // two masks, and what the rust lies within
    }

    void whatIsInBothSlidesAndWhatIsNewStandsStill() {
        const Project before = longLine(4);
        const auto after = edits::insertStep(before, "", "base", 2, step("new", "invert"));
        QVERIFY(after.has_value());
        const Layout from = layOut(before, 900), to = layOut(*after, 900);
        const Layout start = between(from, to, 0), middle = between(from, to, 0.5),
                     end = between(from, to, 1);
        QCOMPARE(start.cardOf("c3")->rect, from.cardOf("c3")->rect);
        QCOMPARE(end.cardOf("c3")->rect, to.cardOf("c3")->rect);
        QCOMPARE(middle.cardOf("c3")->rect.left(),
                 (from.cardOf("c3")->rect.left() + to.cardOf("c3")->rect.left()) / 2);
        QCOMPARE(start.cardOf("new")->rect, to.cardOf("new")->rect);
        QCOMPARE(middle.cardOf("c1")->rect, to.cardOf("c1")->rect);
    }
    void foldedLinesTakeOneRibbonAndUnworkedOnesGo() {
        Project p = longLine(6);
        p.lines.emplace_back(line("plain", Kind::Scalar, "roughness", {step("v", "value")}));
        LayoutOptions options;
        options.folded = {"base"};
        const Layout folded = layOut(p, 900, options);
        QVERIFY(folded.cardOf("c2") == nullptr);
        QVERIFY(folded.cardOf("v")->rect.top() < layOut(p, 900).cardOf("v")->rect.top());
        QCOMPARE(overlapIn(folded), QString());
        options.onlyWorked = true;
        QVERIFY(layOut(p, 900, options).cardOf("v") == nullptr);
    }
};

QTEST_MAIN(BoardLayoutTest)
#include "board_layout_test.moc"
