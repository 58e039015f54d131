// Steps at numbers below 0 and above 1, as floats and exposures have them: each by its own formula, in
// doubles, on a whole vector and on what is left of one.
#include <QtTest>
#include <cmath>

#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

constexpr double kNumbers[]{-7.5, -1.0, -0.25, -0.001, 0.0, 0.3, 0.9999, 1.0, 1.0625, 2.5, 60.0};

double encoded(double x) {
    const double a = std::fabs(x);
    return std::copysign(a <= 0.0031308 ? 12.92 * a : 1.055 * std::pow(a, 1 / 2.4) - 0.055, x);
}
double decoded(double x) {
    const double a = std::fabs(x);
    return std::copysign(a <= 0.04045 ? a / 12.92 : std::pow((a + 0.055) / 1.055, 2.4), x);
}
bool isClose(double a, double b, double in) {
    if (std::fabs(a - b) <= 3e-6 * std::max(1.0, std::fabs(b))) return true;
    qWarning("of %g: %.9g is not %.9g", in, a, b);
    return false;
}
double throughGrey(double number, const Step& tried) {
    return static_cast<double>(evaluate(valueThrough(number, tried))[0]);
}
/// On a colour line, each component on its own; `works` of the step's input in a display's numbers.
bool isOnColours(const Step& tried, const std::function<double(double)>& works) {
    bool right = true;
    for (std::size_t i = 0; i + 2 < std::size(kNumbers); ++i) {
        const double in[3]{kNumbers[i], kNumbers[i + 1], kNumbers[i + 2]};
        const auto out = evaluate(colourThrough(
            {static_cast<float>(in[0]), static_cast<float>(in[1]), static_cast<float>(in[2])}, tried));
        for (std::size_t c = 0; c < 3; ++c)
            right = isClose(static_cast<double>(out[c]), decoded(works(encoded(in[c]))), in[c]) && right;
    }
    return right;
}

}  // namespace

class BeyondTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void invert() {
        for (const double x : kNumbers) QVERIFY(isClose(throughGrey(x, step("i", "invert")), 1 - x, x));
        QVERIFY(isOnColours(step("i", "invert"), [](double x) { return 1 - x; }));
    }
    void clamp() {
        const Step s = step("c", "clamp", {{"low", -0.5}, {"high", 1.5}});
        for (const double x : kNumbers) QVERIFY(isClose(throughGrey(x, s), std::clamp(x, -0.5, 1.5), x));
    }
    void levels() {
        // Beyond its points the curve goes on, mirrored below black.
        const Controls controls{{"in-black", 0.1},  {"in-white", 0.7},  {"gamma", 2.0},
                                {"out-black", 0.2}, {"out-white", 0.9}, {"limit", false}};
        const auto works = [](double x) {
            const double t = (x - 0.1) / 0.6;
            return 0.2 + 0.7 * std::copysign(std::sqrt(std::fabs(t)), t);
        };
        for (const double x : kNumbers)
            QVERIFY(isClose(throughGrey(x, step("l", "levels", controls)), works(x), x));
        QVERIFY(isOnColours(step("l", "levels", controls), works));
        Controls limited = controls;
        limited["limit"] = true;
        const auto within = [&](double x) { return works(std::clamp(x, 0.1, 0.7)); };
        for (const double x : kNumbers)
            QVERIFY(isClose(throughGrey(x, step("l", "levels", limited)), within(x), x));
    }
    void range() {
        const Controls controls{{"in-low", 0.2}, {"in-high", 0.6}, {"out-low", 1.0}, {"out-high", -1.0}};
        for (const bool limit : {false, true}) {
            Controls c = controls;
            c["limit"] = limit;
            for (const double x : kNumbers) {
                double t = (x - 0.2) / 0.4;
                if (limit) t = std::clamp(t, 0.0, 1.0);
                QVERIFY(isClose(throughGrey(x, step("r", "range", c)), 1 - 2 * t, x));
            }
        }
    }
    void exposure() {
        const Step s = step("t", "tone", {{"exposure", -1.5}});
        for (const double x : kNumbers) {
            const auto out = evaluate(colourThrough({static_cast<float>(x), 0.5f, 0.5f}, s));
            QVERIFY(isClose(static_cast<double>(out[0]), x * std::exp2(-1.5), x));
        }
    }
    void aRampEndsWithItsOuterColours() {
        Ramp ramp;
        ramp.stops = {{0.25f, {0.1f, 0.1f, 0.1f}}, {0.75f, {0.8f, 0.8f, 0.8f}}};
        for (const double x : kNumbers) {
            const double t = std::clamp((x - 0.25) / 0.5, 0.0, 1.0);
            const double out = throughGrey(x, step("r", "ramp-remap", {{"ramp", ramp}}));
            if (t == 0 || t == 1) QVERIFY(isClose(out, t == 0 ? 0.1 : 0.8, x));
        }
    }
    void aMaskWeighsAsItIs() {
        // Amount times mask times the difference, whatever the mask says.
        for (const double x : kNumbers) {
            Project p = valueThrough(0.25, step("m", "maths", {{"function", std::string("add")}, {"b", 0.5}},
                                                {{"mask", feed("mask")}}));
            p.lines.emplace_back(line("mask", Kind::Scalar, "", {step("v", "value", {{"value", x}})}));
            QVERIFY(isClose(static_cast<double>(evaluate(p)[0]), 0.25 + x * 0.5, x));
        }
    }
    void modes() {
        // W3C's formulas, which hold beyond 0..1 as they are written: multiply, screen, difference, darken,
        // lighten.
        const std::pair<const char*, double (*)(double, double)> modes[]{
            {"multiply", [](double a, double b) { return a * b; }},
            {"screen", [](double a, double b) { return a + b - a * b; }},
            {"difference", [](double a, double b) { return std::fabs(a - b); }},
            {"darken", [](double a, double b) { return std::min(a, b); }},
            {"lighten", [](double a, double b) { return std::max(a, b); }},
            {"add", [](double a, double b) { return a + b; }},
            {"subtract", [](double a, double b) { return a - b; }}};
        for (const auto& [mode, formula] : modes)
            for (const double under : kNumbers)
                for (const double over : {-0.5, 0.25, 1.75}) {
                    const Step s = step("b", "blend", {{"mode", std::string(mode)}, {"amount", 0.75}},
                                        {{"over", constantFeed(over)}});
                    const double wanted = under + 0.75 * (formula(under, over) - under);
                    QVERIFY2(isClose(throughGrey(under, s), wanted, under), mode);
                }
    }
    void hueOfWhatIsBrighterThanWhite() {
        // Twice as bright is the same hue and saturation: in light, where twice is twice.
        Controls controls{{"hue", 120.0}, {"works-in", std::string("linear")}};
        const auto out = evaluate(colourThrough({6.0f, 3.0f, 1.5f}, step("h", "hsv-shift", controls)));
        const auto half = evaluate(colourThrough({0.6f, 0.3f, 0.15f}, step("h", "hsv-shift", controls)));
        for (std::size_t c = 0; c < 3; ++c)
            QVERIFY(isClose(static_cast<double>(out[c]), 10 * static_cast<double>(half[c]), 6));
        QVERIFY(near(half, {0.15f, 0.6f, 0.3f}));
    }
};

QTEST_APPLESS_MAIN(BeyondTest)
#include "beyond_test.moc"
