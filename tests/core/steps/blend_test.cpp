#include <QtTest>
#include <cmath>
#include <limits>

#include "core/colour/encoding.h"
#include "core/document/blend_modes.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Step blend(const char* mode, ControlValue over, double amount = 1) {
    return step("mix", "blend", {{"mode", std::string(mode)}, {"amount", amount}},
                {{"over", constantFeed(std::move(over))}});
}

float scalar(const char* mode, double under, double over, double amount = 1) {
    return evaluate(valueThrough(under, blend(mode, over, amount)))[0];
}

}  // namespace

class BlendTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void formulasWorkedByHand_data() {
        QTest::addColumn<QString>("mode");
        QTest::addColumn<double>("under");
        QTest::addColumn<double>("over");
        QTest::addColumn<double>("result");
        const auto row = [](const char* mode, double u, double o, double r) {
            QTest::newRow(qPrintable(QStringLiteral("%1 %2 %3").arg(QString::fromUtf8(mode)).arg(u).arg(o)))
                << QString::fromUtf8(mode) << u << o << r;
        };
        // W3C Compositing and Blending level 1, 10.1: B(cb, cs) at greys, ends and beyond.
        row("normal", 0.2, 0.7, 0.7);
        row("multiply", 0.5, 0.5, 0.25);
        row("multiply", 1, 0.3, 0.3);
        row("multiply", 0, 0.3, 0);
        row("screen", 0.5, 0.5, 0.75);
        row("screen", 0, 0.3, 0.3);
        row("screen", 1, 0.3, 1);
        row("overlay", 0.25, 0.5, 0.25);
        row("overlay", 0.75, 0.5, 0.75);
        row("overlay", 0.25, 1, 0.5);
        row("overlay", 0.75, 0, 0.5);
        row("overlay", 0.5, 0.2, 0.2);
        row("overlay", 0, 0.9, 0);
        row("overlay", 1, 0.1, 1);
        row("darken", 0.3, 0.6, 0.3);
        row("lighten", 0.3, 0.6, 0.6);
        row("colour-burn", 0.8, 0.5, 0.6);  // 1 - 0.2 / 0.5
        row("colour-burn", 0.3, 0.5, 0);    // 1 - min(1, 1.4)
        row("colour-burn", 1, 0, 1);
        row("colour-burn", 0.5, 0, 0);
        row("colour-dodge", 0.2, 0.5, 0.4);  // 0.2 / 0.5
        row("colour-dodge", 0.7, 0.5, 1);
        row("colour-dodge", 0, 1, 0);
        row("colour-dodge", 0.5, 1, 1);
        row("hard-light", 0.4, 0.25, 0.2);  // multiply by 0.5
        row("hard-light", 0.4, 0.75, 0.7);  // screen with 0.5
        row("hard-light", 0.3, 0.5, 0.3);
        row("soft-light", 0.2, 0.25, 0.12);    // 0.2 - 0.5 * 0.2 * 0.8
        row("soft-light", 0.64, 0.75, 0.72);   // 0.64 + 0.5 (0.8 - 0.64)
        row("soft-light", 0.25, 1, 0.5);       // the cubic meets the root at a quarter
        row("soft-light", 0.125, 1, 0.34375);  // ((16/8 - 12)/8 + 4)/8
        row("soft-light", 0.3, 0.5, 0.3);
        row("difference", 0.3, 0.8, 0.5);
        row("exclusion", 0.25, 0.5, 0.5);  // 0.25 + 0.5 - 0.25
        row("add", 0.7, 0.6, 1.3);
        row("subtract", 0.3, 0.5, -0.2);
        row("divide", 0.3, 0.6, 0.5);
        row("divide", 0.3, 0, 0.3);
        row("average", 0.2, 0.6, 0.4);
        row("linear-burn", 0.7, 0.6, 0.3);
        row("linear-light", 0.5, 0.7, 0.9);
        row("linear-light", 0.4, 0.5, 0.4);
        row("vivid-light", 0.8, 0.25, 0.6);  // burn with 0.5
        row("vivid-light", 0.2, 0.75, 0.4);  // dodge with 0.5
        row("vivid-light", 0.4, 0.5, 0.4);
        row("pin-light", 0.4, 0.1, 0.2);
        row("pin-light", 0.4, 0.9, 0.8);
        row("pin-light", 0.4, 0.6, 0.4);
    }
    void everyContrastModeIsNeutralAtMidGreyOnBothKinds() {
        const float mid = srgbToLinear(0.5f);
        for (const BlendModeInfo& m : kBlendModes) {
            if (m.group != BlendGroup::Contrast) continue;
            for (const float under : {0.03f, 0.3f, 0.8f}) {
                const auto out =
                    evaluate(colourThrough({under, under / 3, 0.5f}, blend(m.id, Colour{mid, mid, mid})));
                QVERIFY2(near(out, {under, under / 3, 0.5f}, 1e-5f), m.id);
                QVERIFY2(near(scalar(m.id, under, 0.5), under), m.id);
            }
        }
    }
    void componentModesAsTheStandardWritesThem() {
        const auto by = [](const char* mode, Colour u, Colour o, const char* components) {
            Step s = blend(mode, o);
            s.controls["components"] = std::string(components);
            return evaluate(colourThrough(u, s));
        };
        const Colour under{0.2f, 0.4f, 0.6f}, over{0.6f, 0.5f, 0.1f};
        // Luma of under: 0.3 * 0.2 + 0.59 * 0.4 + 0.11 * 0.6 = 0.362; of over 0.486.
        // luminosity: under + (0.486 - 0.362), nothing to clip.
        auto out = by("luminosity", under, over, "luma");
        QVERIFY2(near(out, {0.324f, 0.524f, 0.724f}), words(out).c_str());
        // colour: over + (0.362 - 0.486) = (0.476, 0.376, -0.024), clipped by 0.362 / 0.386 towards 0.362.
        out = by("colour", under, over, "luma");
        const float k = 0.362f / 0.386f;
        QVERIFY2(near(out, {0.362f + 0.114f * k, 0.362f + 0.014f * k, 0}), words(out).c_str());
        // saturation: under with the range 0.5 in place of 0.4: (0, 0.25, 0.5), luma 0.2025, so + 0.1595.
        out = by("saturation", under, over, "luma");
        QVERIFY2(near(out, {0.1595f, 0.4095f, 0.6595f}), words(out).c_str());
        // hue: over with the range 0.4: (0.4, 0.32, 0), luma 0.3088, so + 0.0532.
        out = by("hue", under, over, "luma");
        QVERIFY2(near(out, {0.4532f, 0.3732f, 0.0532f}), words(out).c_str());
        // HSV: under 210 degrees, 2/3, 0.6; over 48 degrees, 5/6, 0.6.
        out = by("hue", under, over, "hsv");
        QVERIFY2(near(out, {0.6f, 0.52f, 0.2f}), words(out).c_str());
        out = by("luminosity", under, {0.3f, 0.3f, 0.3f}, "hsv");
        QVERIFY2(near(out, {0.1f, 0.2f, 0.3f}), words(out).c_str());
        // A grey over gives no colour in the standard's sense, and no hue in HSV.
        out = by("colour", under, {0.5f, 0.5f, 0.5f}, "luma");
        QVERIFY2(near(out, {0.362f, 0.362f, 0.362f}), words(out).c_str());
        QVERIFY(near(by("hue", under, {0.5f, 0.5f, 0.5f}, "hsv"), {0.2f, 0.4f, 0.6f}));
    }
    void swapLaysTheLineOver() {
        Step s = blend("subtract", 0.7);
        s.controls["swap"] = true;
        QVERIFY(near(evaluate(valueThrough(0.2, s))[0], 0.5f));
        s.controls["amount"] = 0.0;
        QVERIFY(near(evaluate(valueThrough(0.2, s))[0], 0.7f));
    }
    void formulasWorkedByHand() {
        QFETCH(QString, mode);
        QFETCH(double, under);
        QFETCH(double, over);
        QFETCH(double, result);
        QVERIFY(near(scalar(mode.toUtf8().constData(), under, over), static_cast<float>(result)));
    }
    void amountMixesTowardsTheMode() {
        QVERIFY(near(scalar("multiply", 0.8, 0.5, 0.35), 0.8f + 0.35f * (0.4f - 0.8f)));
    }

    void amountZeroIsUnderBitForBitInEveryMode() {
        for (const Choice& mode : shippedSteps().find("blend")->findControl("mode")->choices)
            for (const float under : {0.1f, -3.5f, 0.333333f, 1e20f}) {
                Project p =
                    colourThrough({under, under, under}, blend(mode.id.c_str(), Colour{0.7f, 0.1f, 2}, 0));
                QCOMPARE(evaluate(p)[0], under);
                p = colourThrough({under, under, under}, blend(mode.id.c_str(), Colour{0.7f, 0.1f, 2}, 1));
                p.lines[0].edit().steps[1].edit().feeds["mask"] = constantFeed(0.0);
                QCOMPARE(evaluate(p)[1], under);
            }
    }
    void midGreyIsNeutralInOverlay() {
        // Display-encoded 0.5 on a colour line, 0.5 on a grey line.
        const float mid = srgbToLinear(0.5f);
        for (const float under : {0.02f, 0.2f, 0.6f, 0.95f}) {
            const auto out =
                evaluate(colourThrough({under, under / 2, 0.5f}, blend("overlay", Colour{mid, mid, mid})));
            QVERIFY2(near(out, {under, under / 2, 0.5f}, 1e-5f), words(out).c_str());
            QVERIFY(near(scalar("overlay", under, 0.5), under));
        }
    }
    void aGreyLineOverAColourLineIsNeutralAtAHalfToo() {
        Project p = colourThrough({0.3f, 0.1f, 0.7f}, step("mix", "blend", {{"mode", std::string("overlay")}},
                                                           {{"over", feed("grain")}}));
        p.lines.emplace_back(line("grain", Kind::Scalar, "", {step("g", "value", {{"value", 0.5}})}));
        const auto out = evaluate(p);
        QVERIFY2(near(out, {0.3f, 0.1f, 0.7f}, 1e-5f), words(out).c_str());
    }
    void theSpaceIsChosenByModeAndKindAndTold() {
        const StepSpec& spec = *shippedSteps().find("blend");
        const Step over = blend("overlay", 0.5), multiply = blend("multiply", 0.5);
        Step fixed = over;
        fixed.controls["space"] = std::string("linear");
        const auto reason = [&](const Step& s, Kind kind) {
            return QString::fromStdString(blendSpaceReason(StepView(spec, s, kind)));
        };
        QCOMPARE(reason(over, Kind::Colour),
                 QStringLiteral("display-encoded: contrast mode on a colour line"));
        QCOMPARE(reason(multiply, Kind::Colour), QStringLiteral("linear light: light adds up so"));
        QCOMPARE(reason(over, Kind::Scalar), QStringLiteral("raw numbers: not a colour line"));
        QCOMPARE(reason(fixed, Kind::Colour), QStringLiteral("linear light: chosen"));
    }
    void encodedNormalIsAMixOfCodes() {
        Step s = blend("normal", Colour{1, 1, 1}, 0.5);
        s.controls["space"] = std::string("encoded");
        QVERIFY(near(evaluate(colourThrough({0, 0, 0}, s))[0], srgbToLinear(0.5f), 5e-6f));
    }
    void limitKeepsTheResultBetweenZeroAndOne() {
        Step s = blend("screen", Colour{-4, 3, 0.5f});
        s.controls["limit"] = true;
        const auto out = evaluate(colourThrough({0.5f, 0.5f, 0.5f}, s));
        QVERIFY(out[0] == 0 && out[1] == 1);
        QVERIFY(near(out[2], 0.75f));
    }
    void farOutsideZeroToOneStaysFinite() {
        for (const Choice& mode : shippedSteps().find("blend")->findControl("mode")->choices)
            for (const double u : {-65504.0, -1.0, 0.0, 0.5, 1.0, 50.0, 65504.0})
                for (const double o : {-65504.0, 0.0, 1e-30, 1.0, 65504.0}) {
                    QVERIFY2(std::isfinite(scalar(mode.id.c_str(), u, o)), mode.id.c_str());
                    const auto f = [](double x) { return static_cast<float>(x); };
                    const auto out = evaluate(
                        colourThrough({f(u), 0.5f, 2}, blend(mode.id.c_str(), Colour{f(o), 1, f(u)})));
                    QVERIFY2(std::isfinite(out[0]) && std::isfinite(out[1]) && std::isfinite(out[2]),
                             mode.id.c_str());
                }
    }
    void aboveOneEveryModeIsContinuous() {
        for (const BlendModeInfo& mode : kBlendModes)
            for (const double u : {1.0, 1.7, 50.0, 1e4})
                for (const double o : {0.2, 0.5, 0.8, 3.0}) {
                    const float y = scalar(mode.id, u, o), next = scalar(mode.id, u * 1.0001, o);
                    // No mode is steeper than a product of both or a quotient by the smallest over here.
                    QVERIFY2(std::fabs(next - y) <= 0.0002 * u * std::max(u, 10.0) + 1e-5, mode.id);
                }
    }
    void ownTransparencyJoinsTheMask() {
        // Alpha only comes with maps; a colour has alpha 1, so the switch changes nothing there.
        Step s = blend("normal", Colour{1, 0, 0});
        s.controls["own-transparency"] = true;
        QVERIFY(near(evaluate(colourThrough({0, 0, 1}, s)), {1, 0, 0}));
    }
    void nothingJoinedChangesNothingAndSaysSo() {
        const StepSpec& spec = *shippedSteps().find("blend");
        const Step s = step("mix", "blend");
        QCOMPARE(QString::fromStdString(spec.noEffect(StepView(spec, s, Kind::Colour))),
                 QStringLiteral("nothing is joined to over"));
        QVERIFY(near(evaluate(colourThrough({0.1f, 0.2f, 0.3f}, s)), {0.1f, 0.2f, 0.3f}, 0));
        QCOMPARE(QString::fromStdString(spec.telling(StepView(spec, s, Kind::Colour))),
                 QStringLiteral("normal 1.00"));
    }
};

QTEST_APPLESS_MAIN(BlendTest)
#include "blend_test.moc"
