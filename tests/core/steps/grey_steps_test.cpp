// Levels, Invert, Ramp remap and the sources.
#include <QtTest>
#include <cmath>
#include <limits>

#include "core/colour/encoding.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Step levels(Controls controls) {
    return step("t", "levels", std::move(controls));
}
float level(double x, Controls controls) {
    return evaluate(valueThrough(x, levels(std::move(controls))))[0];
}

Ramp greyRamp(RampInterpolation interpolation) {
    Ramp r;
    r.stops = {
        {0.1f, {0, 0, 0}}, {0.35f, {0.25f, 0.25f, 0.25f}}, {0.6f, {0.8f, 0.8f, 0.8f}}, {0.9f, {1, 1, 1}}};
    r.interpolation = interpolation;
    return r;
}

Ramp colourRamp(RampInterpolation interpolation, RampMixing mixing) {
    Ramp r;
    r.stops = {{0, {0.02f, 0.01f, 0.2f}},
               {0.3f, {0.6f, 0.1f, 0.05f}},
               {0.5f, {0.9f, 0.6f, 0.1f}},
               {0.5f, {0.1f, 0.7f, 0.4f}},
               {1, {1, 1, 0.8f}}};
    r.interpolation = interpolation;
    r.mixing = mixing;
    return r;
}

constexpr RampInterpolation kShapes[] = {RampInterpolation::Hold, RampInterpolation::Linear,
                                         RampInterpolation::Smooth, RampInterpolation::Spline,
                                         RampInterpolation::SoftSpline};
constexpr RampMixing kMixings[] = {RampMixing::Linear, RampMixing::Encoded, RampMixing::HsvShort,
                                   RampMixing::HsvLong, RampMixing::Oklab};

}  // namespace

class GreyStepsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void levelsWorkedByHand() {
        QVERIFY(near(level(0.5, {{"in-black", 0.25}, {"in-white", 0.75}}), 0.5f));
        QVERIFY(near(level(0.25, {{"in-black", 0.25}, {"in-white", 0.75}}), 0));
        QVERIFY(near(level(0.25, {{"gamma", 2.0}}), 0.5f, 5e-6f));
        QVERIFY(near(level(0.5, {{"out-black", 0.2}, {"out-white", 0.4}}), 0.3f));
        QVERIFY(near(level(0.25, {{"out-black", 1.0}, {"out-white", 0.0}}), 0.75f));
    }
    void levelsLimitOrGoOn() {
        QVERIFY(near(level(2, {{"in-white", 0.5}}), 1));
        QVERIFY(near(level(2, {{"in-white", 0.5}, {"limit", false}}), 4));
        QVERIFY(near(level(-1, {{"in-black", 0.5}}), 0));
        QVERIFY(level(-1, {{"gamma", 2.0}, {"limit", false}}) < 0);
    }
    void equalBlackAndWhiteAreAnEdge() {
        QCOMPARE(level(0.49, {{"in-black", 0.5}, {"in-white", 0.5}}), 0.0f);
        QCOMPARE(level(0.51, {{"in-black", 0.5}, {"in-white", 0.5}}), 1.0f);
    }
    void levelsOnColourWorkInTheChosenSpace() {
        Step s = levels({{"in-white", 0.5}, {"works-in", std::string("encoded")}});
        const float x = srgbToLinear(0.25f);
        QVERIFY(near(evaluate(colourThrough({x, x, x}, s))[0], srgbToLinear(0.5f), 5e-6f));
    }
    void invertTurnsGlossIntoRoughness() {
        QVERIFY(near(evaluate(valueThrough(0.8, step("t", "invert", {{"from", std::string("gloss")}})))[0],
                     0.2f));
        const float grey = srgbToLinear(0.3f);
        QVERIFY(near(evaluate(colourThrough({grey, 0, 1}, step("t", "invert"))), {srgbToLinear(0.7f), 1, 0},
                     1e-5f));
        const Step s = step("t", "invert", {{"from", std::string("gloss")}});
        const StepSpec& spec = *shippedSteps().find("invert");
        QCOMPARE(QString::fromStdString(spec.telling(StepView(spec, s, Kind::Scalar))),
                 QStringLiteral("from gloss"));
    }
    void greyRampsAgreeWithThePlainRampEverywhere() {
        for (const RampInterpolation shape : kShapes) {
            const Ramp ramp = greyRamp(shape);
            const RampCurve curve = compileRamp(ramp);
            for (int i = -10; i <= 110; ++i) {
                const double x = i / 100.0;
                const float y = evaluate(valueThrough(x, step("t", "ramp-remap", {{"ramp", ramp}})))[0];
                QVERIFY2(near(y, rampAt(curve, static_cast<float>(x)).x, 2e-6f), nameOf(shape));
            }
        }
    }
    void colourRampsAgreeWithThePlainRampEverywhere() {
        for (const RampInterpolation shape : kShapes)
            for (const RampMixing mixing : kMixings) {
                const Ramp ramp = colourRamp(shape, mixing);
                const RampCurve curve = compileRamp(ramp);
                for (int i = 0; i <= 40; ++i) {
                    const float x = static_cast<float>(i) / 40;
                    const auto y =
                        evaluate(colourThrough({x, 0, 0}, step("t", "ramp-remap",
                                                               {{"ramp", ramp},
                                                                {"reads", std::string("red")},
                                                                {"scale", std::string("linear")}})));
                    QVERIFY2(near(y, rampAt(curve, x), 2e-5f),
                             (std::string(nameOf(shape)) + " " + nameOf(mixing) + " " + words(y)).c_str());
                }
            }
    }
    void rampsReadWhatTheyAreTold() {
        Ramp ramp;  // black to white
        const auto read = [&](const char* what, const char* scale) {
            return evaluate(colourThrough(
                {0.5f, 0.25f, 0.125f},
                step("t", "ramp-remap",
                     {{"ramp", ramp}, {"reads", std::string(what)}, {"scale", std::string(scale)}})))[0];
        };
        QVERIFY(near(read("red", "linear"), 0.5f));
        QVERIFY(near(read("green", "linear"), 0.25f));
        QVERIFY(near(read("blue", "linear"), 0.125f));
        QVERIFY(near(read("maximum", "linear"), 0.5f));
        QVERIFY(near(read("luminance", "linear"), 0.2126f * 0.5f + 0.7152f * 0.25f + 0.0722f * 0.125f));
        QVERIFY(near(read("alpha", "linear"), 1));
        QVERIFY(near(read("red", "encoded"), linearToSrgb(0.5f), 5e-6f));
    }
    void rampsMixByAmountAndMask() {
        Step s = step("t", "ramp-remap", {{"ramp", greyRamp(RampInterpolation::Linear)}, {"amount", 0.5}});
        QVERIFY(near(evaluate(valueThrough(0.6, s))[0], 0.7f));
        s.feeds["mask"] = constantFeed(0.5);
        QVERIFY(near(evaluate(valueThrough(0.6, s))[0], 0.65f));
        s.controls["amount"] = 0.0;
        QCOMPARE(evaluate(valueThrough(0.6, s))[0], 0.6f);
    }
    void infiniteInputMeetsTheEnds() {
        Project p =
            valueThrough(0.5, step("t", "ramp-remap", {{"ramp", greyRamp(RampInterpolation::Spline)}}));
        p.lines[0].edit().steps[0].edit().controls["value"] = 1e38;
        QCOMPARE(evaluate(p)[0], 1.0f);
        p.lines[0].edit().steps[0].edit().controls["value"] = -1e38;
        QCOMPARE(evaluate(p)[0], 0.0f);
    }
    void sourcesGiveTheirConstants() {
        const auto out = evaluate(colourThrough({0.1f, 0.2f, 0.3f}, step("t", "levels")));
        QVERIFY(near(out, {0.1f, 0.2f, 0.3f}, 1e-6f));  // limited, so it is encoded and decoded
        QCOMPARE(evaluate(colourThrough({0.1f, 0.2f, 0.3f}, step("t", "levels")))[3], 1.0f);
        QCOMPARE(evaluate(valueThrough(3.5, levels({{"limit", false}})))[0], 3.5f);
    }
    void everyStepDeclaresItselfFully() {
        for (const StepSpec& spec : shippedSteps()) {
            QVERIFY(!spec.name.empty() && !spec.purpose.empty() && !spec.kinds.empty());
            QVERIFY2(spec.emit && spec.telling, spec.type.c_str());
            QVERIFY(spec.purpose.back() == '.');
            for (const ControlSpec& c : spec.controls) {
                QVERIFY2(!c.tip.empty() && !c.name.empty(), (spec.type + "." + c.id).c_str());
                QVERIFY2(!checkControl(c, c.standard), (spec.type + "." + c.id).c_str());
                if (c.type == ControlType::Number) QVERIFY(c.low < c.high);
            }
            for (const FeedSpec& f : spec.feeds) QVERIFY(!f.tip.empty());
            QCOMPARE(shippedSteps().find(spec.type), &spec);
        }
    }
    void controlsOfTheWrongTypeFallBackToTheDefault() {
        const Step s = step("t", "hsv-shift",
                            {{"hue", std::string("red")},
                             {"saturation", std::nan("")},
                             {"works-in", std::string("sideways")}});
        const StepView v(*shippedSteps().find("hsv-shift"), s, Kind::Colour);
        QCOMPARE(v[NumberHandle{"hue"}], 0.0);
        QCOMPARE(v[NumberHandle{"saturation"}], 1.0);
        QCOMPARE(v[TextHandle{"works-in"}], std::string("encoded"));
        QCOMPARE(QString::fromStdString(*checkControl(
                     *shippedSteps().find("hsv-shift")->findControl("works-in"), std::string("sideways"))),
                 QStringLiteral("should be one of linear, encoded"));
    }
};

QTEST_APPLESS_MAIN(GreyStepsTest)
#include "grey_steps_test.moc"
