// What is told of a step: why it has no effect and what is wrong with it, by its controls and by its picture.
#include "app/pictures/step_words.h"

#include <QtTest>

#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class StepWordsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theControlsTellFirstAndTheNumbersThen() {
        CardPicture picture;
        picture.noEffect = "both inputs are equal";
        const Step neutral = step("s", "hsv-shift");
        QVERIFY(!noEffectOf(neutral, Kind::Colour, nullptr).isEmpty());
        QVERIFY(noEffectOf(neutral, Kind::Colour, &picture) != QStringLiteral("both inputs are equal"));
        const Step turned = step("s", "hsv-shift", {{"hue", 30.0}});
        QVERIFY(noEffectOf(turned, Kind::Colour, nullptr).isEmpty());
        QCOMPARE(noEffectOf(turned, Kind::Colour, &picture), QStringLiteral("both inputs are equal"));
    }
    void aBypassedStepIsNotBlamed() {
        Step neutral = step("s", "hsv-shift");
        neutral.bypass = true;
        QVERIFY(noEffectOf(neutral, Kind::Colour, nullptr).isEmpty());
    }
    void anUnknownStepIsNamed() {
        const Step unknown = step("s", "from-the-future");
        QVERIFY(noEffectOf(unknown, Kind::Colour, nullptr).isEmpty());
        QVERIFY(warningOf(unknown, Kind::Colour, nullptr).contains(QStringLiteral("does not know")));
    }
    void aMapsFileIsTheFirstThingToBeWrong() {
        CardPicture picture;
        picture.warning = "Cannot find pan.png. Put it back.";
        QCOMPARE(warningOf(mapStep("m", "base-colour"), Kind::Colour, &picture),
                 QStringLiteral("Cannot find pan.png. Put it back."));
        QVERIFY(warningOf(mapStep("m", "base-colour"), Kind::Colour, nullptr).isEmpty());
    }
    void aFormulasFaultIsToldWithItsPlace() {
        QVERIFY(warningOf(step("f", "formula", {{"formula", std::string("in * 2")}}), Kind::Colour, nullptr)
                    .isEmpty());
        QVERIFY(!warningOf(step("f", "formula", {{"formula", std::string("in * ")}}), Kind::Colour, nullptr)
                     .isEmpty());
    }
    void aContrastModeInLinearLightIsWarnedOf() {
        const auto blend = [](const char* mode, const char* space) {
            return step("b", "blend", {{"mode", std::string(mode)}, {"space", std::string(space)}});
        };
        QVERIFY(!warningOf(blend("overlay", "linear"), Kind::Colour, nullptr).isEmpty());
        QVERIFY(warningOf(blend("overlay", "auto"), Kind::Colour, nullptr).isEmpty());
        QVERIFY(warningOf(blend("overlay", "encoded"), Kind::Colour, nullptr).isEmpty());
        // Multiplying is at home in light, and a scalar has no display.
        QVERIFY(warningOf(blend("multiply", "linear"), Kind::Colour, nullptr).isEmpty());
        QVERIFY(warningOf(blend("overlay", "linear"), Kind::Scalar, nullptr).isEmpty());
    }
};

QTEST_GUILESS_MAIN(StepWordsTest)
#include "step_words_test.moc"
