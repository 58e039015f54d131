// Combine masks, Blend by height and Shadow colour by their formulas.
#include <QtTest>

#include "core/colour/models.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

float combined(const std::string& way, double a, double b, double amount = 1) {
    return evaluate(valueThrough(
        a, step("c", "combine-masks", {{"way", way}, {"amount", amount}}, {{"with", constantFeed(b)}})))[0];
}

double smooth(double low, double high, double x) {
    const double t = std::clamp((x - low) / (high - low), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

}  // namespace

class MasksTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void masksCombine() {
        QVERIFY(near(combined("union", 0.3, 0.8), 0.8f));
        QVERIFY(near(combined("intersection", 0.3, 0.8), 0.3f));
        QVERIFY(near(combined("subtraction", 0.6, 0.7), 0.3f));
        QVERIFY(near(combined("subtraction", 0.1, 0.7), 0.1f));
        QVERIFY(near(combined("difference", 0.3, 0.8), 0.5f));
        QVERIFY(near(combined("sum", 0.3, 0.8), 1.1f));
        QVERIFY(near(combined("product", 0.3, 0.8), 0.24f));
        QVERIFY(near(combined("union", 0.3, 0.8, 0.5), 0.55f));
        QCOMPARE(evaluate(valueThrough(0.3, step("c", "combine-masks")))[0], 0.3f);
    }

    void theHigherLiesAbove() {
        for (const double under : {0.2, 0.5, 0.9})
            for (const double over : {0.1, 0.5, 0.7})
                for (const double mask : {0.0, 0.4, 1.0}) {
                    const double k = 1.5, s = 0.3 / 2;
                    const double m = smooth(0.5 - s, 0.5 + s, mask + (over - under) * k);
                    const float got = evaluate(valueThrough(
                        under, step("b", "blend-by-height", {{"contrast", k}, {"softness", 0.3}},
                                    {{"over", constantFeed(over)}, {"mask", constantFeed(mask)}})))[0];
                    QVERIFY(near(got, static_cast<float>(under + m * (over - under)), 2e-5f));
                }
    }

    void coloursAreLaidByHeightsOfTheirOwn() {
        const auto laid = [](double here, double there) {
            return evaluate(colourThrough({1, 0, 0}, step("b", "blend-by-height", {},
                                                          {{"over", constantFeed(Colour{0, 1, 0})},
                                                           {"height-under", constantFeed(here)},
                                                           {"height-over", constantFeed(there)}})));
        };
        QVERIFY(near(laid(0.9, 0.1), {1, 0, 0}));
        QVERIFY(near(laid(0.1, 0.9), {0, 1, 0}));
        QVERIFY(near(laid(0.5, 0.5), {0.5f, 0.5f, 0}, 1e-5f));
    }

    void shadeIsTheColourItselfDarkerAndRicher() {
        const Vec3 colour{0.6f, 0.3f, 0.2f};
        const auto shade = evaluate(
            colourThrough({colour.x, colour.y, colour.z},
                          step("s", "shadow-colour", {{"darkness", 0.4}, {"saturation", 1.2}, {"hue", 15.0}},
                               {{"mask", constantFeed(1.0)}})));
        Hsv hsv = hsvOf(colour);
        hsv.hue += 15, hsv.saturation = std::min(1.0f, hsv.saturation * 1.2f), hsv.value *= 0.6f;
        const Vec3 wanted = rgbOf(hsv);
        QVERIFY2(near(shade, wanted, 5e-6f), words(shade).c_str());
        const auto half = evaluate(colourThrough(
            {colour.x, colour.y, colour.z},
            step("s", "shadow-colour", {{"darkness", 0.4}, {"saturation", 1.0}, {"amount", 0.5}},
                 {{"mask", constantFeed(0.5)}})));
        QVERIFY(near(half, colour * 0.9f, 5e-6f));
        // Without a mask and without a model nothing is hidden.
        QCOMPARE(evaluate(colourThrough({0.6f, 0.3f, 0.2f}, step("s", "shadow-colour")))[0], 0.6f);
    }
};

QTEST_GUILESS_MAIN(MasksTest)
#include "masks_test.moc"
