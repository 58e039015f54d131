// Something laid over a line as one edit: by a mode and an amount, as a line that is there, a colour, a new
// source or its own ramped copy; on normals stacked.
#include "core/steps/laying_over.h"

#include <QtTest>
#include <cmath>

#include "core/document/edits.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class LayingOverTest final : public QObject {
    Q_OBJECT

    static Step laid(const Project& p, const std::string& step) { return p.stepAt(*p.findStep(step)); }
    /// What a line gives with nothing but constants on it.
    static Vec3 valueOf(const Project& p, const std::string& line) {
        const auto v = evaluate(p, line);
        return {v[0], v[1], v[2]};
    }

private Q_SLOTS:
    void aColourByAModeAndAnAmount() {
        std::string step;
        const LaidOver over{constantFeed(Colour{0.2f, 0.4f, 0.8f}), BlendMode::Multiply, 0.25};
        const auto p = edits::layOver(twoLines(), "", "base", 1, over, step);
        QVERIFY(p.has_value());
        QCOMPARE(p->findLine("base")->steps[1]->id, step);
        const Project before = twoLines();
        // The shift behind it turns hues alone: taken off for the numbers.
        const Project bare = *edits::removeStep(*p, "shift");
        const Vec3 now = valueOf(bare, "base");
        for (const auto& [is, under, by] :
             {std::tuple(now.x, 0.5f, 0.2f), std::tuple(now.y, 0.25f, 0.4f), std::tuple(now.z, 0.1f, 0.8f)})
            QVERIFY(std::fabs(is - under * (1 - 0.25f + 0.25f * by)) < 1e-6f);
        QCOMPARE(before.findLine("base")->steps.size() + 1, p->findLine("base")->steps.size());
    }
    void whatIsNotAskedForIsTheStepsOwn() {
        std::string step;
        const auto p = edits::layOver(twoLines(), "", "base", 2, {feed("grey"), {}, {}}, step);
        QVERIFY(p.has_value());
        QVERIFY(laid(*p, step).controls.empty());
        QCOMPARE(laid(*p, step).feeds.at("over").line, std::string("grey"));
    }
    void aNewSourceBeginsALineOfItsOwn() {
        Step noise;
        noise.type = "noise";
        std::string step;
        const auto p = edits::layOver(twoLines(), "", "grey", 1, {NewSource{"Clouds", noise}, {}, 0.5}, step);
        QVERIFY(p.has_value());
        QCOMPARE(p->lines.size(), std::size_t{3});
        const Line* made = p->findLine(laid(*p, step).feeds.at("over").line);
        QCOMPARE(made->name, std::string("Clouds"));
        QCOMPARE(made->kind, Kind::Scalar);
        QCOMPARE(made->steps.front()->type, std::string("noise"));
    }
    void onNormalsItIsStacked() {
        Project p = twoLines();
        for (const char* id : {"normal", "grain"})
            p.lines.emplace_back(line(id, Kind::Normal, id == std::string("normal") ? id : "",
                                      {step(std::string(id) + "-flat", "flat-normal")}));
        std::string made;
        // A mode means nothing there.
        const auto stacked =
            edits::layOver(p, "", "normal", 1, {feed("grain"), BlendMode::Multiply, 0.5}, made);
        QVERIFY(stacked.has_value());
        QCOMPARE(laid(*stacked, made).type, std::string("stack-normals"));
        QCOMPARE(laid(*stacked, made).feeds.at("detail").line, std::string("grain"));
        QCOMPARE(laid(*stacked, made).controls, (Controls{{"amount", 0.5}}));
    }
    void itsOwnCopyIsReadBeforeTheBlend() {
        std::string step;
        const auto p =
            edits::layOver(twoLines(), "", "base", 2, {RampedCopy{}, BlendMode::Overlay, {}}, step);
        QVERIFY(p.has_value());
        const Line* copy = p->findLine(laid(*p, step).feeds.at("over").line);
        QCOMPARE(copy->name, std::string("Base colour, ramped"));
        QCOMPARE(copy->steps.size(), std::size_t{3});
        QCOMPARE(copy->steps[1]->feeds.at("over").line, std::string("base"));
        QCOMPARE(copy->steps[1]->feeds.at("over").after, std::string("shift"));
        QCOMPARE(copy->steps[2]->type, std::string("ramp-remap"));
    }
    void whatMakesARingOrHasNoPlaceIsRefused() {
        std::string step;
        QVERIFY(!edits::layOver(twoLines(), "", "base", 1, {feed("base"), {}, {}}, step));
        QVERIFY(!edits::layOver(twoLines(), "", "base", 99, {feed("grey"), {}, {}}, step));
        QVERIFY(!edits::layOver(twoLines(), "", "none", 1, {feed("grey"), {}, {}}, step));
        QVERIFY(!edits::feedFromRampedCopy(twoLines(), "source", "over"));
        QVERIFY(!edits::feedFromRampedCopy(twoLines(), "none", "over"));
    }
    void aSourceThatLooksAtAColourLooksAtWhatComesIn() {
        const Project p = twoLines();
        const StepSpec& component = *shippedSteps().find("component");
        const Step onColour = newSource(component, *p.findLine("base"), 2);
        QCOMPARE(onColour.feeds.at("of").line, std::string("base"));
        QCOMPARE(onColour.feeds.at("of").after, std::string("shift"));
        QVERIFY(newSource(component, *p.findLine("base"), 0).feeds.empty());
        QVERIFY(newSource(component, *p.findLine("grey"), 1).feeds.empty());
        QVERIFY(newSource(*shippedSteps().find("noise"), *p.findLine("base"), 1).feeds.empty());
    }
};

QTEST_APPLESS_MAIN(LayingOverTest)
#include "laying_over_test.moc"
