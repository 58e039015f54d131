#include <QtTest>
#include <cmath>
#include <limits>

#include "core/colour/encoding.h"
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
        for (const Choice& mode : findStepSpec("blend")->findControl("mode")->choices)
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
        const StepSpec& spec = *findStepSpec("blend");
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
    void farOutsideZeroToOneStaysFiniteAndContinuous() {
        for (const Choice& mode : findStepSpec("blend")->findControl("mode")->choices)
            for (const double u : {-1e4, -1.0, 0.0, 0.5, 1.0, 50.0, 1e4})
                for (const double o : {-1e4, 0.0, 1.0, 1e4}) {
                    const float y = scalar(mode.id.c_str(), u, o),
                                next = scalar(mode.id.c_str(), u + 1e-3 * std::max(1.0, std::fabs(u)), o);
                    QVERIFY2(std::isfinite(y), mode.id.c_str());
                    QVERIFY(std::fabs(next - y) <=
                            0.01f * (std::fabs(y) +
                                     static_cast<float>(std::fabs(o)) *
                                         static_cast<float>(std::max(1.0, std::fabs(u))) +
                                     1));
                }
    }
    void ownTransparencyJoinsTheMask() {
        // Alpha only comes with maps; a colour has alpha 1, so the switch changes nothing there.
        Step s = blend("normal", Colour{1, 0, 0});
        s.controls["own-transparency"] = true;
        QVERIFY(near(evaluate(colourThrough({0, 0, 1}, s)), {1, 0, 0}));
    }
    void nothingJoinedChangesNothingAndSaysSo() {
        const StepSpec& spec = *findStepSpec("blend");
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
