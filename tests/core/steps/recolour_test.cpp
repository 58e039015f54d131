#include <QtTest>
#include <limits>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

/// The recolour and channel steps that have no test of their own: numbers worked by hand.
class RecolourTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void toneInItsOrder() {
        // (0.3 + 0.1) * 2 * 2^1 = 1.6; (1.6 - 0.5) * 0.5 + 0.5 = 1.05; 1.05^(1/2).
        const auto out = evaluate(valueThrough(0.3, step("t", "tone",
                                                         {{"offset", 0.1},
                                                          {"gain", 2.0},
                                                          {"exposure", 1.0},
                                                          {"contrast", 0.5},
                                                          {"pivot", 0.5},
                                                          {"gamma", 2.0}})));
        QVERIFY2(near(out[0], std::sqrt(1.05f), 5e-6f), words(out).c_str());
        // Contrast leaves its pivot alone.
        QVERIFY(near(evaluate(valueThrough(0.18, step("t", "tone", {{"contrast", 2.5}})))[0], 0.18f));
    }
    void desaturateByEachMeasure() {
        const Colour c{0.5f, 0.25f, 0.1f};
        const auto grey = [&](const char* weights) {
            return evaluate(
                colourThrough(c, step("d", "desaturate", {{"weights", std::string(weights)}})))[1];
        };
        QVERIFY(near(grey("luminance"), 0.2126f * 0.5f + 0.7152f * 0.25f + 0.0722f * 0.1f));
        QVERIFY(near(grey("average"), 0.85f / 3));
        QVERIFY(near(grey("maximum"), 0.5f));
        QVERIFY(near(grey("lightness"), 0.3f));
        // Rec.601 weighs what a display shows: encoded 0.735357, 0.537099, 0.349190.
        QVERIFY(near(grey("rec601"), 0.2901f, 2e-4f));
        const auto half = evaluate(colourThrough(
            c, step("d", "desaturate", {{"weights", std::string("maximum")}, {"amount", 0.5}})));
        QVERIFY(near(half, {0.5f, 0.375f, 0.3f}));
    }
    void tintKeepsTheLuminance() {
        const std::string linear = "linear";
        const Step tint = step("t", "tint", {{"colour", Colour{0.6f, 0.25f, 0.08f}}, {"works-in", linear}});
        for (const float grey : {0.0f, 0.1f, 0.3f, 0.7f, 1.0f}) {
            const auto out = evaluate(colourThrough({grey, grey, grey}, tint));
            QVERIFY2(near(luminance({out[0], out[1], out[2]}), grey, 1e-5f), words(out).c_str());
        }
        const auto multiplied =
            evaluate(colourThrough({0.5f, 0.5f, 0.5f}, step("t", "tint",
                                                            {{"colour", Colour{0.6f, 0.2f, 0.1f}},
                                                             {"mode", std::string("multiply")},
                                                             {"works-in", linear}})));
        QVERIFY(near(multiplied, {0.3f, 0.1f, 0.05f}));
    }
    void curvesBendAndGoOnBeyondTheirEnds() {
        Ramp curve;
        curve.stops = {{0, {0, 0, 0}}, {0.5f, {0.8f, 0.8f, 0.8f}}, {1, {1, 1, 1}}};
        const auto through = [&](double x) {
            return evaluate(valueThrough(x, step("c", "curves", {{"all", curve}})))[0];
        };
        QVERIFY(near(through(0.25), 0.4f));
        QVERIFY(near(through(0.75), 0.9f));
        QVERIFY(near(through(3), 3));
        QVERIFY(near(through(-0.5), -0.5f));
        // One component of HSV alone: the saturation halved.
        Ramp half;
        half.stops = {{0, {0, 0, 0}}, {1, {0.5f, 0.5f, 0.5f}}};
        const auto light = [](float shown) { return srgbToLinear(shown); };
        const auto out =
            evaluate(colourThrough({light(0.8f), light(0.4f), light(0.4f)},
                                   step("c", "curves", {{"model", std::string("hsv")}, {"second", half}})));
        QVERIFY2(near(out, {light(0.8f), light(0.6f), light(0.6f)}, 5e-6f), words(out).c_str());
    }
    void aimLandsTheMeanOnTheWantedColour() {
        const Colour from{0.45f, 0.06f, 0.04f}, to{0.1f, 0.3f, 0.28f};
        for (const char* by : {"hsv", "gain"}) {
            const auto out = evaluate(
                colourThrough(from, step("a", "aim", {{"from", from}, {"to", to}, {"by", std::string(by)}})));
            QVERIFY2(near(out, {to.r, to.g, to.b}, 1e-5f), words(out).c_str());
        }
    }
    void colourMatchMovesMeanAndSpread() {
        const Vec3 lab = oklabOf({0.3f, 0.2f, 0.1f});
        const Colour mean{lab.x, lab.y, lab.z}, wanted{0.7f, -0.05f, 0.02f};
        const auto out =
            evaluate(colourThrough({0.3f, 0.2f, 0.1f}, step("m", "colour-match",
                                                            {{"from-mean", mean},
                                                             {"to-mean", wanted},
                                                             {"from-spread", Colour{0.1f, 0.1f, 0.1f}},
                                                             {"to-spread", Colour{0.3f, 0.05f, 0.1f}}})));
        const Vec3 right = linearOfOklab({0.7f, -0.05f, 0.02f});
        QVERIFY2(near(out, right, 2e-5f), words(out).c_str());
    }
    void aComponentWithoutSpreadOnlyMoves() {
        // A plain colour matched to a plain colour, whatever the reference spreads: there is nothing to
        // widen.
        const Vec3 lab = oklabOf({0.3f, 0.2f, 0.1f}), wanted{0.7f, -0.05f, 0.02f};
        const Controls measured{{"from-mean", Colour{lab.x - 0.1f, lab.y, lab.z}},
                                {"from-spread", Colour{0, 0, 0}},
                                {"to-mean", Colour{wanted.x, wanted.y, wanted.z}},
                                {"to-spread", Colour{0.3f, 0.2f, 0.1f}}};
        const auto out = evaluate(colourThrough({0.3f, 0.2f, 0.1f}, step("m", "colour-match", measured)));
        QVERIFY2(near(out, linearOfOklab(wanted + Vec3{0.1f, 0, 0}), 2e-5f), words(out).c_str());
    }
    void allCurvesAndSingleOnesTogether() {
        // All first, then the component's own: 0.4 becomes 0.8 by all, and red of that 0.4 by its own half.
        Ramp twice, half;
        twice.stops = {{0, {0, 0, 0}}, {0.5f, {1, 1, 1}}, {1, {1, 1, 1}}};
        half.stops = {{0, {0, 0, 0}}, {1, {0.5f, 0.5f, 0.5f}}};
        const auto out = evaluate(colourThrough(
            {0.4f, 0.2f, 0.1f},
            step("c", "curves", {{"model", std::string("rgb")}, {"all", twice}, {"first", half}})));
        QVERIFY2(near(out, {0.4f, 0.4f, 0.2f}, 5e-6f), words(out).c_str());
    }
    void gainsAndConstantsInTheWiderSpace() {
        // A gain in ACEScg, by its published matrix: what enters linear Rec.709, is multiplied there, comes
        // back.
        const Colour c{0.6f, 0.2f, 0.1f}, brought{0.1f, 0.5f, 0.3f};
        const WorkingSpace space = workingSpaceOf("ACEScg");
        const Vec3 in = space.fromLinear({c.r, c.g, c.b}),
                   other = space.fromLinear({brought.r, brought.g, brought.b});
        Project p = colourThrough(c, step("t", "tone", {{"gain", 2.0}, {"offset", 0.25}}));
        p.colour.workingSpace = "ACEScg";
        const Vec3 offset{0.25f, 0.25f, 0.25f};
        const Vec3 toned = space.toLinear((in + offset) * 2);
        QVERIFY2(near(evaluate(p), toned, 5e-6f), words(evaluate(p)).c_str());
        // A colour joined as a constant enters the space too, and a product of two is another one there.
        Project product = colourThrough(
            c, step("b", "blend", {{"mode", std::string("multiply")}, {"space", std::string("linear")}},
                    {{"over", constantFeed(brought)}}));
        product.colour.workingSpace = "ACEScg";
        QVERIFY2(near(evaluate(product), space.toLinear(in * other), 5e-6f),
                 words(evaluate(product)).c_str());
        QVERIFY(!near(evaluate(product), Vec3{c.r * brought.r, c.g * brought.g, c.b * brought.b}, 1e-3f));
    }
    void aimingAGreyTurnsNoHues() {
        // A grey has no hue to turn from: only the value is scaled, by 0.3 / 0.5.
        const auto out = evaluate(colourThrough(
            {0.6f, 0.2f, 0.1f},
            step("a", "aim", {{"from", Colour{0.5f, 0.5f, 0.5f}}, {"to", Colour{0.1f, 0.3f, 0.28f}}})));
        QVERIFY2(near(out, {0.36f, 0.12f, 0.06f}, 2e-6f), words(out).c_str());
    }
    void aimByGainsNeedsNoTrims() {
        const StepSpec& aim = *shippedSteps().find("aim");
        for (const auto& [by, trimmed] : {std::pair{"hsv", true}, {"gain", false}}) {
            const Step s = step("a", "aim", {{"by", std::string(by)}});
            QCOMPARE(aim.aim->isTrimmed(StepView(aim, s, Kind::Colour)), trimmed);
        }
    }
    void hueBandByHand() {
        const auto weight = [](Colour c, Controls controls) {
            Project p = colourThrough(c, step("n", "clamp", {{"high", 10.0}}));
            p.lines.emplace_back(line("mask", Kind::Scalar, "",
                                      {step("b", "hue-band", std::move(controls), {{"of", feed("base")}})}));
            return evaluate(p, "mask")[0];
        };
        const Controls red{
            {"centre", 0.0}, {"width", 60.0}, {"softness", 30.0}, {"works-in", std::string("linear")}};
        QCOMPARE(weight({1, 0, 0}, red), 1.0f);
        QVERIFY(near(weight({1, 0.5f, 0}, red), 1));             // 30 degrees: the edge
        QVERIFY(near(weight({1, 0.75f, 0}, red), 0.5f, 1e-5f));  // 45 degrees: the middle of the fall
        QVERIFY(near(weight({1, 1, 0}, red), 0));
        QVERIFY(near(weight({1, 0, 0.25f}, red), 1));     // 345 degrees: the short way round
        QCOMPARE(weight({0.5f, 0.5f, 0.5f}, red), 0.0f);  // a grey has no hue
        Controls other = red;
        other["invert"] = true;
        QCOMPARE(weight({1, 0, 0}, other), 0.0f);
        QCOMPARE(weight({0, 1, 0}, other), 1.0f);
    }
    void theBandLimitsTheShift() {
        const Controls controls{{"hue", 120.0},
                                {"band", true},
                                {"band-centre", 0.0},
                                {"band-width", 60.0},
                                {"band-softness", 10.0}};
        QVERIFY(near(evaluate(colourThrough({0.8f, 0.1f, 0.1f}, step("s", "hsv-shift", controls))),
                     {0.1f, 0.8f, 0.1f}));
        const auto kept = evaluate(colourThrough({0.1f, 0.7f, 0.3f}, step("s", "hsv-shift", controls)));
        QCOMPARE(kept[0], 0.1f);
        QCOMPARE(kept[1], 0.7f);
    }
    void gradientsAcrossTheSquare() {
        const auto at = [](Controls controls, float u, float v) {
            Project p;
            p.lines.emplace_back(
                line("base", Kind::Scalar, "", {step("g", "gradient", std::move(controls))}));
            return evaluate(p, "base", "", u, v)[0];
        };
        QVERIFY(near(at({}, 0.3f, 0.9f), 0.3f));
        QVERIFY(near(at({{"rotation", 90.0}}, 0.3f, 0.9f), 0.9f));
        QVERIFY(near(at({{"shape", std::string("radial")}}, 0.5f, 0.75f), 0.5f));
        QVERIFY(near(at({{"shape", std::string("boxed")}}, 0.6f, 0.75f), 0.5f));
        QVERIFY(near(at({{"shape", std::string("angular")}}, 0.5f, 0.75f), 0.25f));
        QVERIFY(near(at({{"shape", std::string("angular")}}, 0.25f, 0.5f), 0.5f));
        QVERIFY(near(at({{"scale", 0.5}}, 0.4f, 0), 0.3f));
        QVERIFY(near(at({{"scale", 0.25}, {"beyond", std::string("repeat")}}, 0.8f, 0), 0.7f, 1e-5f));  // 1.7
        QVERIFY(near(at({{"scale", 0.25}, {"beyond", std::string("mirror")}}, 0.8f, 0), 0.3f, 1e-5f));
        QVERIFY(near(at({{"offset-u", 0.2}}, 0.5f, 0), 0.3f));
    }
    void rangeAndClamp() {
        const auto range = [](double x, bool limit) {
            return evaluate(valueThrough(x, step("r", "range",
                                                 {{"in-low", 0.2},
                                                  {"in-high", 0.6},
                                                  {"out-low", 1.0},
                                                  {"out-high", 0.0},
                                                  {"limit", limit}})))[0];
        };
        QVERIFY(near(range(0.3, false), 0.75f));
        QVERIFY(near(range(0.8, false), -0.5f));
        QVERIFY(near(range(0.8, true), 0));
        QCOMPARE(evaluate(valueThrough(3, step("c", "clamp", {{"low", 0.1}, {"high", 0.9}})))[0], 0.9f);
    }
    void aScalarBecomesColoursThroughARamp() {
        Project p =
            colourThrough({0, 0, 0}, step("r", "ramp-remap", {}, {{"reads-from", constantFeed(0.25)}}));
        const float shown = srgbToLinear(0.25f);  // the grey that is displayed as 0.25
        QVERIFY(near(evaluate(p), {shown, shown, shown}));
    }
    void theWorkingSpaceChangesMixingAndNothingElse() {
        // Hue turns by 120 degrees exchange components; in ACEScg they are other components.
        const Colour c{0.6f, 0.2f, 0.1f};
        Project p = colourThrough(c, step("n", "clamp", {{"low", -10.0}, {"high", 10.0}}));
        p.colour.workingSpace = "ACEScg";
        QVERIFY2(near(evaluate(p), {c.r, c.g, c.b}, 2e-6f), words(evaluate(p)).c_str());
        // A grey stays a grey and its luminance is the same in both.
        p = colourThrough(c, step("d", "desaturate"));
        const float rec709 = evaluate(p)[0];
        p.colour.workingSpace = "ACEScg";
        const auto aces = evaluate(p);
        QVERIFY(near(aces[0], aces[1], 2e-4f) && near(aces[0], rec709, 2e-3f));
        // The ACEScg red, as linear Rec.709: the first column of the published matrix.
        WorkingSpace space = workingSpaceOf("ACEScg");
        const Vec3 red = space.toLinear({1, 0, 0});
        QVERIFY(near(red.x, 1.70505f, 1e-4f) && near(red.y, -0.13026f, 1e-4f) &&
                near(red.z, -0.02400f, 1e-4f));
        const Vec3 back = space.fromLinear(space.toLinear({0.2f, 0.4f, 0.7f}));
        QVERIFY(near(back.x, 0.2f) && near(back.y, 0.4f) && near(back.z, 0.7f));
    }
    void colourSpacesAreTheLibrarysOwn() {
        for (const auto& [from, to] : {std::pair<const char*, const char*>{"ACEScg", "linear Rec.709"},
                                       {"Display P3", "linear Rec.709"},
                                       {"linear Rec.709", "Rec.2020"},
                                       {"gamma 2.2", "sRGB"}}) {
            std::array<float, 3> right{0.31f, 0.62f, 0.07f};
            QVERIFY(ColourManagement::shipped().convert(right.data(), 1, from, to).has_value());
            const auto out = evaluate(colourThrough(
                {0.31f, 0.62f, 0.07f},
                step("c", "colour-space", {{"from", std::string(from)}, {"to", std::string(to)}})));
            QVERIFY2(near(out, {right[0], right[1], right[2]}, 1e-6f), words(out).c_str());
        }
        QCOMPARE(evaluate(colourThrough({0.3f, 0.2f, 0.1f},
                                        step("c", "colour-space", {{"from", std::string("raw")}})))[0],
                 0.3f);
    }
    void everyStepStaysFiniteOnExtremeColours() {
        for (const StepSpec& spec : shippedSteps()) {
            if (spec.source || !spec.fits(Kind::Colour)) continue;
            for (const float x : {-65504.0f, -1.0f, 0.0f, 1e-30f, 65504.0f}) {
                Step s = step("s", spec.type, spec.example);
                for (const FeedSpec& f : spec.feeds)
                    if (f.id != "mask" && f.kind != Kind::Scalar)
                        s.feeds[f.id] = constantFeed(Colour{x, 0.5f, 1});
                const auto out = evaluate(colourThrough({x, 1, 0.2f}, s));
                for (const float y : out)
                    QVERIFY2(std::isfinite(y),
                             (spec.type + " at " + std::to_string(x) + ": " + words(out)).c_str());
            }
        }
    }
};

QTEST_APPLESS_MAIN(RecolourTest)
#include "recolour_test.moc"
