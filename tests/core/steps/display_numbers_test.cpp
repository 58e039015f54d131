// Steps on colour lines work on the numbers that a display has, and steps of earlier versions as they did.
#include <QtTest>

#include "core/colour/encoding.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

// The sRGB curve once more, in doubles: IEC 61966-2-1.
double lightOf(double shown) {
    return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
}
double shownOf(double light) {
    return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
}
float lightFloat(double shown) {
    return static_cast<float>(lightOf(shown));
}

constexpr double kGreys[]{0.02, 0.10, 0.25, 0.50, 0.75, 0.97};

/// What a grey, given and told as it is displayed, becomes.
double throughStep(double shown, const Step& tried) {
    const float light = lightFloat(shown);
    return shownOf(static_cast<double>(evaluate(colourThrough({light, light, light}, tried))[0]));
}

Step ofVersion(Step s, int version) {
    s.version = version;
    return s;
}

bool isClose(double a, double b, double tolerance = 2e-6) {
    if (std::fabs(a - b) <= tolerance) return true;
    qWarning("%.9f is not %.9f", a, b);
    return false;
}

std::size_t countOf(const Program& program, const std::string& op) {
    return static_cast<std::size_t>(std::count_if(program.code.begin(), program.code.end(),
                                                  [&](const Instruction& i) { return i.op->name == op; }));
}

}  // namespace

class DisplayNumbersTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void anUntouchedRampGivesEveryGreyBack() {
        for (const double grey : kGreys) QVERIFY(isClose(throughStep(grey, step("r", "ramp-remap")), grey));
    }
    void aRampOfVersion1StillLightens() {
        const double before[]{0.1517, 0.3492, 0.5371, 0.7354, 0.8808, 0.986695};
        for (std::size_t i = 0; i < std::size(kGreys); ++i)
            QVERIFY(isClose(throughStep(kGreys[i], ofVersion(step("r", "ramp-remap"), 1)), before[i], 1e-4));
    }
    void rampStopsAreMixedAsDisplayed() {
        Ramp red;
        red.mixing = RampMixing::Encoded;
        red.stops = {{0, {0, 0, 0}}, {1, {lightFloat(0.8), 0, 0}}};
        const float half = lightFloat(0.5);
        const auto out =
            evaluate(colourThrough({half, half, half}, step("r", "ramp-remap", {{"ramp", red}})));
        QVERIFY(isClose(shownOf(static_cast<double>(out[0])), 0.4));
        QCOMPARE(out[1], 0.0f);
    }
    void rampsReadComponentsAsDisplayed() {
        // Saturation of (0.8, 0.4, 0.4) as displayed is a half; in light it is more.
        const Colour c{lightFloat(0.8), lightFloat(0.4), lightFloat(0.4)};
        const auto read = [&](const char* component, int version) {
            const Step s = ofVersion(step("r", "ramp-remap", {{"reads", std::string(component)}}), version);
            return shownOf(static_cast<double>(evaluate(colourThrough(c, s))[0]));
        };
        QVERIFY(isClose(read("saturation", 2), 0.5));
        QVERIFY(isClose(read("average", 2), (0.8 + 0.4 + 0.4) / 3));
        QVERIFY(isClose(read("green", 2), 0.4));
        QVERIFY(!isClose(read("saturation", 1), 0.5, 0.05));
    }
    void levelsMovesWhatIsDisplayed() {
        const Step s = step("l", "levels", {{"in-black", 0.2}, {"in-white", 0.7}});
        QVERIFY(isClose(throughStep(0.45, s), 0.5));
        // Version 1 moves light.
        const double light = (lightOf(0.45) - 0.2) / 0.5;
        QVERIFY(isClose(throughStep(0.45, ofVersion(s, 1)), shownOf(std::clamp(light, 0.0, 1.0))));
    }
    void valueScalesWhatIsDisplayed() {
        const Step s = step("s", "hsv-shift", {{"value", 0.5}});
        QVERIFY(isClose(throughStep(0.8, s), 0.4));
        QVERIFY(isClose(throughStep(0.8, ofVersion(s, 1)), shownOf(lightOf(0.8) / 2)));
    }
    void aHueBandIsOfDisplayedHues() {
        // (0.9, 0.5, 0.1) as displayed has a hue of 30 degrees; its light has one of about 15.
        const Colour orange{lightFloat(0.9), lightFloat(0.5), lightFloat(0.1)};
        const Controls band{{"centre", 30.0}, {"width", 4.0}, {"softness", 1.0}};
        Project p = colourThrough(orange, step("s", "hsv-shift"));
        p.lines.emplace_back(
            line("m", Kind::Scalar, "", {step("b", "hue-band", band, {{"of", feed("base", "source")}})}));
        QCOMPARE(evaluate(p, "m")[0], 1.0f);
        p.lines[1].edit().steps[0].edit().version = 1;
        QCOMPARE(evaluate(p, "m")[0], 0.0f);
    }
    void tintKeepsBlackWhiteAndTheColourItself() {
        const Colour brown{lightFloat(0.6), lightFloat(0.4), lightFloat(0.3)};
        const double own = shownOf(0.2126 * lightOf(0.6) + 0.7152 * lightOf(0.4) + 0.0722 * lightOf(0.3));
        const Step s = step("t", "tint", {{"colour", brown}});
        QVERIFY(isClose(throughStep(0, s), 0));
        QVERIFY(isClose(throughStep(1, s), 1));
        QVERIFY(isClose(throughStep(own, s), 0.6));
        // Half way to the colour, and from there half way to white, as displayed.
        QVERIFY(isClose(throughStep(own / 2, s), 0.3));
        QVERIFY(isClose(throughStep((1 + own) / 2, s), 0.8));
    }
    void curvesOfHsvAreOfDisplayedNumbers() {
        Ramp half;
        half.interpolation = RampInterpolation::Linear;
        half.stops = {{0, {0, 0, 0}}, {1, {0.5f, 0.5f, 0.5f}}};
        const Step s = step("c", "curves", {{"model", std::string("hsv")}, {"third", half}});
        QVERIFY(isClose(throughStep(0.8, s), 0.4));
        QVERIFY(isClose(throughStep(0.8, ofVersion(s, 1)), shownOf(lightOf(0.8) / 2)));
    }
    void aComponentIsTheDisplayedOne() {
        const Colour c{lightFloat(0.8), lightFloat(0.2), lightFloat(0.2)};
        Project p = colourThrough(c, step("s", "hsv-shift"));
        const auto read = [&](Controls controls, int version) {
            Project q = p;
            q.lines.emplace_back(
                line("m", Kind::Scalar, "",
                     {ofVersion(step("k", "component", std::move(controls), {{"of", feed("base", "source")}}),
                                version)}));
            return static_cast<double>(evaluate(q, "m")[0]);
        };
        const double light = 0.2126 * lightOf(0.8) + (0.7152 + 0.0722) * lightOf(0.2);
        QVERIFY(isClose(read({}, 2), shownOf(light)));
        QVERIFY(isClose(read({}, 1), light));
        QVERIFY(isClose(read({{"component", std::string("saturation")}}, 2), 0.75));
        QVERIFY(isClose(read({{"component", std::string("red")}, {"encoded", false}}, 2), lightOf(0.8)));
    }
    void aMaskReadsTheDisplayedGrey() {
        // Black and white mixed by a mask of half grey gives half the light where the mask is read as
        // displayed.
        const float half = lightFloat(0.5);
        Project p = colourThrough(
            {0, 0, 0},
            step("b", "blend", {}, {{"over", constantFeed(Colour{1, 1, 1})}, {"mask", feed("m")}}));
        p.lines.emplace_back(
            line("m", Kind::Colour, "", {step("k", "colour", {{"colour", Colour{half, half, half}}})}));
        QVERIFY(isClose(static_cast<double>(evaluate(p)[0]), 0.5));
        p.lines[0].edit().steps[1].edit().version = 1;
        QVERIFY(isClose(static_cast<double>(evaluate(p)[0]), lightOf(0.5)));
    }
    void anotherWorkingSpaceShowsTheSameNumbers() {
        // In ACEScg the hue and value that are shown stay those of the display.
        Project p = colourThrough({lightFloat(0.9), lightFloat(0.5), lightFloat(0.1)},
                                  step("s", "hsv-shift", {{"hue", 120.0}}));
        p.colour.workingSpace = "ACEScg";
        const auto out = evaluate(p);
        QVERIFY(isClose(shownOf(static_cast<double>(out[0])), 0.1, 2e-5));
        QVERIFY(isClose(shownOf(static_cast<double>(out[1])), 0.9, 2e-5));
        QVERIFY(isClose(shownOf(static_cast<double>(out[2])), 0.5, 2e-5));
    }
    void whatIsEncodedAfterItWasDecodedCostsNothing() {
        Project p = colourThrough({0.2f, 0.3f, 0.4f}, step("first", "hsv-shift", {{"hue", 10.0}}));
        auto& steps = p.lines[0].edit().steps;
        // Not a constant, which would be computed while compiling.
        steps[0].edit() = step("source", "noise");
        p.lines[0].edit().kind = Kind::Colour;
        steps[0].edit() = step("source", "formula", {{"formula", std::string("rgb(u, v, u * v)")}});
        for (int i = 0; i < 9; ++i)
            steps.emplace_back(step("l" + std::to_string(i), "levels", {{"in-black", 0.01 * i + 0.01}}));
        const Program light = compile(p, nullptr, {{"base", "", 3}}).program;
        QCOMPARE(countOf(light, "encode"), 3u);
        QCOMPARE(countOf(light, "decode"), 3u);
        const Program shown = compile(p, nullptr, {{"base", "", 3, true}}).program;
        QCOMPARE(countOf(shown, "encode"), 3u);
        QCOMPARE(countOf(shown, "decode"), 0u);
        // Steps of version 1 keep every pair, and so every bit.
        for (auto& s : steps) s.edit().version = 1;
        for (auto& s : steps)
            if (s->type != "formula") s.edit().controls["works-in"] = std::string("encoded");
        QCOMPARE(countOf(compile(p, nullptr, {{"base", "", 3, true}}).program, "decode"), 30u);
    }
    void theNewVersionIsOfferedWhereItChangesSomething() {
        const Project p = colourThrough({}, step("s", "hsv-shift"));
        const auto isEarlier = [&](const Project& in, Step s) {
            return isEarlierVersion(in, *shippedSteps().find(s.type), s, Kind::Colour);
        };
        QVERIFY(isEarlier(p, ofVersion(step("x", "hsv-shift"), 1)));
        QVERIFY(!isEarlier(p, step("x", "hsv-shift")));
        QVERIFY(!isEarlier(p, ofVersion(step("x", "invert"), 1)));
        QVERIFY(!isEarlier(p, ofVersion(step("x", "blend", {}, {{"mask", constantFeed(0.5)}}), 1)));
        QVERIFY(isEarlier(p, ofVersion(step("x", "blend", {}, {{"mask", feed("base")}}), 1)));
        Project old = p;
        for (auto& s : old.lines[0].edit().steps) s.edit().version = 1;
        QCOMPARE(withNewestSteps(old), p);
    }
};

QTEST_GUILESS_MAIN(DisplayNumbersTest)
#include "display_numbers_test.moc"
