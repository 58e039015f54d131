// Shapes by their areas, edges and distances, which are known.
#include <QtTest>
#include <numbers>
#include <set>

#include "tests/support/evaluate.h"
#include "tests/support/pattern_grid.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Controls figure(const std::string& name, double repeats, Controls more = {}) {
    more["figure"] = name, more["repeats"] = repeats;
    return more;
}

struct Known {
    const char* figure;
    Controls controls;
    double area;
};

std::vector<Known> knownAreas() {
    constexpr double kPi = std::numbers::pi;
    return {
        {"disc", {{"fills", 0.6}}, kPi * 0.09},
        {"dots", {{"fills", 0.5}}, kPi / 16},
        {"ring", {{"fills", 0.8}, {"inner", 0.5}}, kPi * 0.16 * 0.75},
        {"rectangle", {{"fills", 0.8}, {"height", 0.5}, {"round", 0.0}}, 0.32},
        // A corner of radius r leaves (1 - pi/4) r^2 out; r is half of the shorter side here.
        {"rectangle", {{"fills", 0.8}, {"height", 0.5}, {"round", 1.0}}, 0.32 - (4 - kPi) * 0.04},
        // A regular polygon of n corners on a circle of radius R: n/2 R^2 sin(2 pi / n).
        {"polygon", {{"fills", 0.9}, {"corners", 3.0}}, 1.5 * 0.2025 * std::sin(2 * kPi / 3)},
        {"polygon", {{"fills", 0.9}, {"corners", 6.0}}, 3 * 0.2025 * std::sin(kPi / 3)},
        // A star: 2 n triangles of sides R and r with the angle pi/n between.
        {"star", {{"fills", 0.9}, {"corners", 5.0}, {"inner", 0.4}}, 5 * 0.45 * 0.18 * std::sin(kPi / 5)},
        {"stripes", {{"fills", 0.3}}, 0.3},
        {"checks", {}, 0.5},
        {"bricks", {{"joint", 0.05}, {"round", 0.0}}, 2 * 0.95 * 0.45},
    };
}

}  // namespace

class ShapeTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void figuresHaveTheirAreas() {
        for (const Known& k : knownAreas())
            // Pieces of 128 and of 16 points: edges count by what they cover, so the area stays.
            for (const double repeats : {4.0, 32.0}) {
                const double area =
                    meanOf(patternGrid("shape", figure(k.figure, repeats, k.controls), 512, 512));
                QVERIFY2(std::fabs(area - k.area) < (repeats > 4 ? 0.009 : 0.0025),
                         qPrintable(QString("%1 %2 %3").arg(k.figure).arg(area).arg(k.area)));
            }
        // Hexagons cover the plane but for their joints, one wide from side to side: (1 - joint)^2.
        const double hexagons =
            meanOf(patternGrid("shape", figure("hexagons", 16, {{"joint", 0.1}}), 1024, 1024));
        QVERIFY2(std::fabs(hexagons - 0.81) < 0.01, qPrintable(QString::number(hexagons)));
    }

    void fromAfarAPatternIsItsMean() {
        for (const Known& k : knownAreas())
            for (const float v : patternGrid("shape", figure(k.figure, 400, k.controls), 64, 64))
                QVERIFY2(std::fabs(static_cast<double>(v) - k.area) < 0.004, k.figure);
    }

    void cornersPointUp() {
        const Controls triangle = figure("polygon", 1, {{"fills", 0.9}, {"corners", 3.0}, {"single", true}});
        Project p;
        p.lines.emplace_back(line("base", Kind::Scalar, "", {step("s", "shape", triangle)}));
        QCOMPARE(evaluate(p, "base", {}, 0.5f, 0.94f)[0], 1.0f);
        QCOMPARE(evaluate(p, "base", {}, 0.5f, 0.96f)[0], 0.0f);
        // The side below lies half a radius under the middle.
        QCOMPARE(evaluate(p, "base", {}, 0.5f, 0.285f)[0], 1.0f);
        QCOMPARE(evaluate(p, "base", {}, 0.5f, 0.265f)[0], 0.0f);
        QCOMPARE(evaluate(p, "base", {}, 1.5f, 0.5f)[0], 0.0f);
    }

    void edgesAreAsSoftAsAsked() {
        Project p;
        p.lines.emplace_back(
            line("base", Kind::Scalar, "",
                 {step("s", "shape", figure("stripes", 1, {{"fills", 0.5}, {"soft", 0.2}}))}));
        // The stripe ends a quarter from the middle; its softness lies half on each side.
        QVERIFY(near(evaluate(p, "base", {}, 0.75f, 0.5f)[0], 0.5f, 1e-4f));
        QVERIFY(near(evaluate(p, "base", {}, 0.86f, 0.5f)[0], 0.0f));
        QVERIFY(near(evaluate(p, "base", {}, 0.64f, 0.5f)[0], 1.0f));
        const float quarter = 0.25f * 0.25f * (3 - 2 * 0.25f);  // 3 t^2 - 2 t^3
        QVERIFY(near(evaluate(p, "base", {}, 0.80f, 0.5f)[0], quarter, 1e-4f));
    }

    void piecesVaryByNumbersOfTheirOwn() {
        for (const char* name : {"bricks", "hexagons", "dots"}) {
            const auto all = patternGrid(
                "shape", figure(name, 32, {{"vary", 1.0}, {"joint", 0.0}, {"fills", 1.0}}), 1024, 1024);
            std::set<float> numbers;
            for (std::size_t i = 0; i < all.size(); i += 7) numbers.insert(std::round(all[i] * 4096));
            QVERIFY2(numbers.size() > 400, name);
        }
        const auto bricks = patternGrid(
            "shape", figure("bricks", 32, {{"vary", 1.0}, {"joint", 0.0}, {"round", 0.0}}), 1024, 1024);
        QVERIFY(std::fabs(meanOf(bricks) - 0.5) < 0.02);
    }

    void oddNumbersGiveFiniteFigures() {
        for (const Known& k : knownAreas())
            for (const char* control : {"repeats", "fills", "inner", "corners", "round", "soft", "joint"})
                for (const double odd : {0.0, -2.0, 1e9}) {
                    Project p;
                    p.lines.emplace_back(
                        line("base", Kind::Scalar, "",
                             {step("s", "shape", {{"figure", std::string(k.figure)}, {control, odd}})}));
                    const float v = evaluate(p, "base", {}, 0.37f, 0.61f)[0];
                    QVERIFY2(v >= 0 && v <= 1, k.figure);
                }
    }
};

QTEST_GUILESS_MAIN(ShapeTest)
#include "shape_test.moc"
