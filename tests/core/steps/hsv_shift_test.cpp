#include <QtTest>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// In linear light, where the numbers below were worked out.
Step shift(double hue, double saturation = 1, double value = 1, double amount = 1) {
    return step("shift", "hsv-shift",
                {{"hue", hue},
                 {"saturation", saturation},
                 {"value", value},
                 {"amount", amount},
                 {"works-in", std::string("linear")}});
}

#define VERIFY_NEAR(actual, expected) QVERIFY2(near(actual, expected), words(actual).c_str())

}  // namespace

class HsvShiftTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aThirdOfATurnTakesRedToGreen() {
        VERIFY_NEAR(evaluate(colourThrough({1, 0, 0}, shift(120))), (Vec3{0, 1, 0}));
    }
    void backwardsTakesRedToBlue() {
        VERIFY_NEAR(evaluate(colourThrough({1, 0, 0}, shift(-120))), (Vec3{0, 0, 1}));
    }
    void workedByHand() {
        // (0.8, 0.4, 0.2): h 20°, s 0.75, v 0.8. Turned by 40°: h 60° -> r = g = v, b = v (1 - s).
        VERIFY_NEAR(evaluate(colourThrough({0.8f, 0.4f, 0.2f}, shift(40))), (Vec3{0.8f, 0.8f, 0.2f}));
        // Saturation halved: s 0.375, v 0.8: b = 0.5, g at 20° = v - v s (1 - 1/3) = 0.6.
        VERIFY_NEAR(evaluate(colourThrough({0.8f, 0.4f, 0.2f}, shift(0, 0.5))), (Vec3{0.8f, 0.6f, 0.5f}));
        VERIFY_NEAR(evaluate(colourThrough({0.8f, 0.4f, 0.2f}, shift(0, 1, 0.5))), (Vec3{0.4f, 0.2f, 0.1f}));
    }
    void saturationIsLimitedToOne() {
        VERIFY_NEAR(evaluate(colourThrough({0.8f, 0.4f, 0.2f}, shift(0, 9))), (Vec3{0.8f, 0.8f / 3, 0}));
    }
    void greysKeepTheirPlace() {
        VERIFY_NEAR(evaluate(colourThrough({0.3f, 0.3f, 0.3f}, shift(77, 1.5))), (Vec3{0.3f, 0.3f, 0.3f}));
    }
    void aFullTurnChangesNothing() {
        VERIFY_NEAR(evaluate(colourThrough({0.2f, -0.1f, 0.9f}, shift(360))), (Vec3{0.2f, -0.1f, 0.9f}));
    }
    void amountMixesWithTheInput() {
        VERIFY_NEAR(evaluate(colourThrough({1, 0, 0}, shift(120, 1, 1, 0.25))), (Vec3{0.75f, 0.25f, 0}));
    }
    void amountZeroIsTheInputBitForBit() {
        const auto out = evaluate(colourThrough({0.123f, -0.4f, 7}, shift(50, 0.2, 3, 0)));
        QCOMPARE(out[0], 0.123f);
        QCOMPARE(out[1], -0.4f);
        QCOMPARE(out[2], 7.0f);
    }
    void theMaskLimitsIt() {
        Project p = colourThrough({1, 0, 0}, shift(120));
        p.lines[0].edit().steps[1].edit().feeds["mask"] = constantFeed(0.5);
        VERIFY_NEAR(evaluate(p), (Vec3{0.5f, 0.5f, 0}));
        p.lines[0].edit().steps[1].edit().feeds["mask"] = constantFeed(0.0);
        VERIFY_NEAR(evaluate(p), (Vec3{1, 0, 0}));
    }
    void aLineAsMaskReadsTheChosenComponent() {
        Project p = colourThrough({1, 0, 0}, shift(120));
        p.lines.emplace_back(
            line("m", Kind::Colour, "", {step("m1", "colour", {{"colour", Colour{0.25f, 1, 0}}})}));
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("m", "", "red");
        const float red = linearToSrgb(0.25f);  // as it is displayed
        VERIFY_NEAR(evaluate(p), (Vec3{1 - red, red, 0}));
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("m", "", "green");
        VERIFY_NEAR(evaluate(p), (Vec3{0, 1, 0}));
    }
    void displayEncodedWorksOnTheEncodedNumbers() {
        Step s = shift(0, 1, 0.5);
        s.controls["works-in"] = std::string("encoded");
        const float grey = srgbToLinear(0.8f);
        const auto out = evaluate(colourThrough({grey, grey, grey}, s));
        QVERIFY2(near(out[0], srgbToLinear(0.4f), 5e-6f), words(out).c_str());
    }
    void agreesWithThePlainModelEverywhere() {
        for (int i = 0; i < 400; ++i) {
            const auto part = [&](int prime) { return static_cast<float>((i * prime) % 101) / 50.0f; };
            const Vec3 c{part(37), part(53), part(71)};
            const double turn = (i * 17) % 720 - 360;
            Hsv hsv = hsvOf(c);
            hsv.hue += static_cast<float>(turn);
            hsv.saturation = std::min(hsv.saturation * 1.2f, 1.0f);
            hsv.value *= 0.9f;
            const auto out = evaluate(colourThrough({c.x, c.y, c.z}, shift(turn, 1.2, 0.9)));
            QVERIFY2(near(out, rgbOf(hsv), 6e-6f), words(out).c_str());
        }
    }
    void itSaysWhyNothingHappens() {
        const StepSpec& spec = *shippedSteps().find("hsv-shift");
        const auto why = [&](const Step& s) {
            return QString::fromStdString(spec.noEffect(StepView(spec, s, Kind::Colour)));
        };
        QCOMPARE(why(shift(0)), QStringLiteral("hue, saturation and value are neutral"));
        QCOMPARE(why(shift(30, 1, 1, 0)), QStringLiteral("the amount is 0"));
        Step masked = shift(30);
        masked.feeds["mask"] = constantFeed(0.0);
        QCOMPARE(why(masked), QStringLiteral("the mask is black everywhere"));
        QCOMPARE(why(shift(30)), QString());
    }
    void theCardTellsTheHue() {
        const StepSpec& spec = *shippedSteps().find("hsv-shift");
        const Step turned = shift(24), back = shift(-30);
        QCOMPARE(QString::fromStdString(spec.telling(StepView(spec, turned, Kind::Colour))),
                 QStringLiteral("+24°"));
        QCOMPARE(QString::fromStdString(spec.telling(StepView(spec, back, Kind::Colour))),
                 QStringLiteral("-30°"));
    }
};

QTEST_APPLESS_MAIN(HsvShiftTest)
#include "hsv_shift_test.moc"
