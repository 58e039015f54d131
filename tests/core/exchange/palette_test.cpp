#include "core/exchange/palette.h"

#include <QtTest>

#include "core/colour/encoding.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class PaletteTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void hexColoursAreFoundInAnyText() {
        const auto found = coloursIn("Celadon #8DB8A6, then #1f3b36; body{color:#ABCDEF} and C0FFEE alone");
        QCOMPARE(found.size(), std::size_t{4});
        QCOMPARE(QString::fromStdString(hexOfLinear(found[0].x, found[0].y, found[0].z)),
                 QStringLiteral("#8DB8A6"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[3].x, found[3].y, found[3].z)),
                 QStringLiteral("#C0FFEE"));
    }
    void numbersAndWordsAreNoColours() {
        QVERIFY(coloursIn("Order 123456 of 20261124, a defaced facade, #12345 and #1234567").empty());
        QVERIFY(coloursIn("").empty());
    }
    void paletteFilesAreReadLineByLine() {
        const auto found = coloursIn(
            "GIMP Palette\nName: River\nColumns: 2\n#\n 10  20  40\tNight\n255 255 255 White\n300 0 0 no\n");
        QCOMPARE(found.size(), std::size_t{2});
        QCOMPARE(found[1].x, 1.0f);
        QCOMPARE(found[0].y, srgbTable()[20]);
    }
    void aRampGoesThroughTheColours() {
        const Ramp ramp = rampOfColours(coloursIn("#000000 #808080 #FFFFFF"));
        QCOMPARE(ramp.stops.size(), std::size_t{3});
        QCOMPARE(ramp.stops[1].position, 0.5f);
        QCOMPARE(rampOfColours({{0.2f, 0.3f, 0.4f}}).stops.size(), std::size_t{1});
    }
    void everyPresetIsAnOrderedRamp() {
        for (const bool grey : {false, true})
            for (const RampPreset& preset : rampPresets(grey)) {
                QVERIFY(!preset.name.empty() && preset.ramp.stops.size() >= 2);
                for (std::size_t i = 1; i < preset.ramp.stops.size(); ++i)
                    QVERIFY(preset.ramp.stops[i].position >= preset.ramp.stops[i - 1].position);
            }
    }
    void numbersAreComputed() {
        QCOMPARE(numberOf("12 * 1.5").value(), 18.0);
        QCOMPARE(numberOf("-(2 + 3)").value(), -5.0);
        QCOMPARE(numberOf("sqrt(16)").value(), 4.0);
        for (const char* none : {"", "twelve", "in", "u * 2", "a", "1 +", "rgb(1, 2, 3)"})
            QVERIFY2(!numberOf(none), none);
    }
};

QTEST_APPLESS_MAIN(PaletteTest)
#include "palette_test.moc"
