#include "core/exchange/palette.h"

#include <QtTest>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
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
    void functionsAreFoundAsCssWritesThem() {
        // CSS Color level 4, section 4.1: numbers to 255, shares, blanks or commas, alpha left aside.
        const auto found =
            coloursIn("a{color:rgb(255, 128, 0)} b: RGBA(0 64 255 / 0.5); c: rgb(100%,50%,0%) rgb(300 -5 0)");
        QCOMPARE(found.size(), std::size_t{4});
        QCOMPARE(QString::fromStdString(hexOfLinear(found[0].x, found[0].y, found[0].z)),
                 QStringLiteral("#FF8000"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[1].x, found[1].y, found[1].z)),
                 QStringLiteral("#0040FF"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[2].x, found[2].y, found[2].z)),
                 QStringLiteral("#FF8000"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[3].x, found[3].y, found[3].z)),
                 QStringLiteral("#FF0000"));
        QVERIFY(coloursIn("rgb(1, 2) and rgb() and rgb(a, b, c) and rgb(1 2 3").empty());
    }
    void namesAreReadWhereNothingElseIs() {
        const auto found = coloursIn("Rebeccapurple and oldlace, then DarkSlateGrey.");
        QCOMPARE(found.size(), std::size_t{3});
        QCOMPARE(QString::fromStdString(hexOfLinear(found[0].x, found[0].y, found[0].z)),
                 QStringLiteral("#663399"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[1].x, found[1].y, found[1].z)),
                 QStringLiteral("#FDF5E6"));
        QCOMPARE(QString::fromStdString(hexOfLinear(found[2].x, found[2].y, found[2].z)),
                 QStringLiteral("#2F4F4F"));
        // Prose with a colour in numbers means the numbers.
        QCOMPARE(coloursIn("a tan kettle, #8DB8A6").size(), std::size_t{1});
        // And prose that speaks of a colour is no palette.
        QVERIFY(coloursIn("The kettle is red where nobody touched it.").empty());
    }
    void numbersAndWordsAreNoColours() {
        QVERIFY(coloursIn("Order 123456 of 20261124, a defaced facade, #12345 and #1234567").empty());
        QVERIFY(coloursIn("").empty());
    }
    void paletteFilesAreReadLineByLine() {
        const auto found = coloursIn(
            "Palette\nName: River\nColumns: 2\n#\n 10  20  40\tNight\n255 255 255 White\n300 0 0 no\n");
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
    void harmoniesTurnTheHueAndKeepTheLightness() {
        const Vec3 own{0.30f, 0.12f, 0.08f};
        const auto hueOf = [](Vec3 c) {
            const Vec3 lab = oklabOf(c);
            return std::atan2(lab.z, lab.y) * 57.29578f;
        };
        const auto opposite = harmonyOf(own, Harmony::Opposite);
        QCOMPARE(opposite.size(), std::size_t{2});
        QCOMPARE(opposite[0].x, own.x);
        QVERIFY(std::fabs(std::fabs(std::remainder(hueOf(opposite[1]) - hueOf(own), 360.0f)) - 180) < 2);
        for (const Vec3& c : harmonyOf(own, Harmony::ThreeAround))
            QVERIFY(std::fabs(oklabOf(c).x - oklabOf(own).x) < 0.01f);
        QCOMPARE(harmonyOf(own, Harmony::Neighbours).size(), std::size_t{5});
        const auto steps = harmonyOf(own, Harmony::Lightness);
        for (std::size_t i = 1; i < steps.size(); ++i) QVERIFY(oklabOf(steps[i]).x > oklabOf(steps[i - 1]).x);
        QVERIFY(
            std::any_of(steps.begin(), steps.end(), [&](Vec3 c) { return c.x == own.x && c.z == own.z; }));
    }
    void harmoniesStayWithinWhatADisplayShows() {
        for (const Vec3 own : {Vec3{1, 0, 0}, Vec3{0, 0, 1}, Vec3{1, 1, 0}, Vec3{0, 0, 0}, Vec3{4, 3, 0}})
            for (const Harmony h :
                 {Harmony::Opposite, Harmony::Neighbours, Harmony::ThreeAround, Harmony::Lightness})
                for (const Vec3& c : harmonyOf(own, h)) {
                    if (c.x == own.x && c.y == own.y && c.z == own.z) continue;
                    QVERIFY(c.x >= 0 && c.y >= 0 && c.z >= 0 && c.x <= 1 && c.y <= 1 && c.z <= 1);
                }
        for (const Vec3& c : harmonyOf({0.2f, 0.2f, 0.2f}, Harmony::ThreeAround))
            QVERIFY(std::fabs(c.x - c.y) < 1e-3f && std::fabs(c.y - c.z) < 1e-3f);
    }
    void aProjectsColoursAreCollectedOnce() {
        Project p = twoLines();
        p.lines[0].edit().steps.emplace_back(
            step("blend", "blend", {}, {{"over", constantFeed(Colour{0.5f, 0.25f, 0.1f})}}));
        Ramp ramp;
        ramp.stops = {{0, {0, 0, 0}}, {1, {0.2f, 0.1f, 0.4f}}};
        p.lines[0].edit().steps.emplace_back(step("ramp", "ramp-remap", {{"ramp", ramp}}));
        p.looks[0].edit().changes["source.colour"] = Colour{0, 1, 0};
        const auto found = coloursOf(p);
        QCOMPARE(found.size(), std::size_t{3});
        QCOMPARE(found[0].x, 0.5f);
        QCOMPARE(found[1].z, 0.4f);
        QCOMPARE(found[2].y, 1.0f);
        QVERIFY(coloursOf(Project{}).empty());
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
