// Noise by what is known of it: zeros on the lattice, means and spreads from the integrals over a cell,
// no memory beyond two cells, edges that meet, cells by a slow search.
#include <QtTest>
#include <random>

#include "tests/support/evaluate.h"
#include "tests/support/pattern_grid.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Controls noise(const std::string& kind, double repeats, double octaves = 1, Controls more = {}) {
    more["kind"] = kind, more["repeats"] = repeats, more["octaves"] = octaves;
    return more;
}

Project single(Controls controls) {
    Project p;
    p.lines.emplace_back(line("base", Kind::Scalar, "", {step("n", "noise", std::move(controls))}));
    return p;
}

}  // namespace

class NoiseTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void gradientNoiseIsHalfOnItsLattice() {
        const Project p = single(noise("gradient", 8));
        for (int i = 0; i < 8; ++i)
            QVERIFY(near(evaluate(p, "base", {}, static_cast<float>(i) / 8, 0.25f)[0], 0.5f));
        QVERIFY(!near(evaluate(p, "base", {}, 0.3f / 8, 0.27f)[0], 0.5f, 1e-3f));
    }

    /// The standard deviation is a sixth at contrast 1 whatever the kind and the number of octaves: scaled by
    /// the root of the integral of the squared weights over a cell, which this does again, by other means.
    void meanAndSpreadAreThoseOfTheIntegral() {
        for (const char* kind : {"gradient", "value"})
            for (const double octaves : {1.0, 4.0}) {
                const auto all = patternGrid("noise", noise(kind, 96, octaves), 1536, 1536);
                QVERIFY2(std::fabs(meanOf(all) - 0.5) < 0.004, kind);
                // A part of 0.3 % lies beyond three deviations and is cut off; finer octaves fade a little.
                QVERIFY2(std::fabs(deviationOf(all) * 6 - 1) < (octaves > 1 ? 0.06 : 0.02),
                         qPrintable(QString("%1 %2").arg(kind).arg(deviationOf(all) * 6)));
            }
    }

    /// |noise| of a spread that is nearly normal with three deviations at 1 has the mean 0.266.
    void ridgesAndBillowsAreFoldedNoise() {
        const auto ridged = patternGrid("noise", noise("ridged", 64), 1024, 1024);
        const auto billows = patternGrid("noise", noise("turbulence", 64), 1024, 1024);
        QVERIFY(std::fabs(meanOf(ridged) - (1 - 0.266)) < 0.015);
        for (std::size_t i = 0; i < ridged.size(); i += 97)
            QVERIFY(near(ridged[i] + billows[i], 1.0f, 1e-5f));
        const auto soft = patternGrid("noise", noise("gradient", 64), 1024, 1024);
        for (std::size_t i = 0; i < soft.size(); i += 97)
            QVERIFY(near(billows[i], std::min(1.0f, std::fabs(soft[i] - 0.5f) * 2), 2e-5f));
    }

    void nothingIsRememberedBeyondTwoCells() {
        constexpr int kSide = 1024, kCell = 8;
        for (const char* kind : {"gradient", "value"}) {
            const auto all = patternGrid("noise", noise(kind, kSide / kCell), kSide, kSide);
            const auto correlation = [&](int lag) {
                double sum = 0;
                for (int y = 0; y < kSide; ++y)
                    for (int x = 0; x < kSide; ++x) {
                        const auto at = [&](int column) {
                            return static_cast<double>(
                                       all[static_cast<std::size_t>(y * kSide + column % kSide)]) -
                                   0.5;
                        };
                        sum += at(x) * at(x + lag);
                    }
                return sum * 36 / kSide / kSide;
            };
            QVERIFY(std::fabs(correlation(0) - 1) < 0.05);
            for (const int lag : {2 * kCell, 3 * kCell, 7 * kCell + 3, 40 * kCell})
                QVERIFY2(std::fabs(correlation(lag)) < 0.02, kind);
        }
    }

    void wholeRepeatsMeetAtTheEdges() {
        for (const char* kind : {"gradient", "value", "cells", "ridged"})
            for (const double rotation : {0.0, 90.0, 180.0}) {
                const Project p = single(noise(kind, 7, 3, {{"rotation", rotation}, {"distortion", 0.7}}));
                for (const float along : {0.013f, 0.37f, 0.81f}) {
                    const float left = evaluate(p, "base", {}, 1e-7f, along)[0],
                                right = evaluate(p, "base", {}, 1 - 1e-7f, along)[0];
                    QVERIFY2(near(left, right, 2e-4f), kind);
                    QVERIFY(near(evaluate(p, "base", {}, along, 1e-7f)[0],
                                 evaluate(p, "base", {}, along, 1 - 1e-7f)[0], 2e-4f));
                }
            }
    }

    /// The four readings belong together, and the nearest is a distance: it changes by no more than one
    /// moves.
    void cellsTellDistances() {
        const auto at = [](const char* reading, float u, float v) {
            return evaluate(single(noise("cells", 5, 1, {{"reading", std::string(reading)}})), "base", {}, u,
                            v)[0];
        };
        std::mt19937 random(5);
        std::uniform_real_distribution<float> place(0.1f, 0.9f);
        for (int i = 0; i < 60; ++i) {
            const float u = place(random), v = place(random);
            const float nearest = at("nearest", u, v), second = at("second", u, v) / 0.75f;
            if (second < 1.3f) QVERIFY(near(at("edge", u, v), second - nearest, 1e-5f));
            QVERIFY(second >= nearest);
            const float moved = at("nearest", u + 0.002f, v);
            QVERIFY(std::fabs(moved - nearest) <= 0.002f * 5 + 1e-5f);
        }
        const auto all = patternGrid("noise", noise("cells", 64), 1024, 1024);
        // By simulation of one random point a cell, the 25 cells around: 0.4275 +- 0.001.
        QVERIFY(std::fabs(meanOf(all) - 0.4275) < 0.006);
        const auto own =
            patternGrid("noise", noise("cells", 64, 1, {{"reading", std::string("cell")}}), 1024, 1024);
        QVERIFY(std::fabs(meanOf(own) - 0.5) < 0.01);
        QVERIFY(std::fabs(deviationOf(own) - std::sqrt(1.0 / 12)) < 0.01);
    }

    void whatIsFinerThanAPointIsItsMean() {
        for (const char* kind : {"gradient", "value", "ridged", "turbulence", "cells"}) {
            const double fine = meanOf(patternGrid("noise", noise(kind, 32), 1024, 1024));
            const auto coarse = patternGrid("noise", noise(kind, 64), 16, 16);
            for (const float v : coarse) QVERIFY2(std::fabs(static_cast<double>(v) - fine) < 0.02, kind);
        }
    }

    void seedsAreOtherPatternsAndAlwaysTheSame() {
        const auto one = patternGrid("noise", noise("gradient", 16), 128, 128),
                   again = patternGrid("noise", noise("gradient", 16), 128, 128),
                   other = patternGrid("noise", noise("gradient", 16, 1, {{"seed", 2.0}}), 128, 128);
        QVERIFY(one == again);
        double product = 0;
        for (std::size_t i = 0; i < one.size(); ++i)
            product += (static_cast<double>(one[i]) - 0.5) * (static_cast<double>(other[i]) - 0.5);
        QVERIFY(std::fabs(product * 36 / static_cast<double>(one.size())) < 0.15);
    }

    void aLineBendsIt() {
        Project p = single(noise("gradient", 6, 1, {{"distortion", 0.25}}));
        p.lines.front().edit().steps.front().edit().feeds["bend"] = constantFeed(1.0);
        const Project straight = single(noise("gradient", 6));
        // 1 is half above the middle, twice: a quarter of a piece across and up.
        QVERIFY(near(evaluate(p, "base", {}, 0.3f, 0.4f)[0],
                     evaluate(straight, "base", {}, 0.3f + 0.25f / 6, 0.4f + 0.25f / 6)[0], 1e-4f));
    }

    void oddNumbersGiveFinitePatterns() {
        for (const double odd : {0.0, -3.0, 1e9, 1e-12})
            for (const char* control : {"repeats", "lacunarity", "octaves", "detail", "distortion", "seed"}) {
                const float v = evaluate(single({{control, odd}}), "base", {}, 0.37f, 0.61f)[0];
                QVERIFY2(v >= 0 && v <= 1, control);
            }
        for (const char* space : {"model", "sides"})
            for (const double size : {0.0, -1.0, 1e9}) {
                const float v = evaluate(single({{"space", std::string(space)}, {"size", size}}))[0];
                QVERIFY2(v >= 0 && v <= 1, space);
            }
    }
};

QTEST_GUILESS_MAIN(NoiseTest)
#include "noise_test.moc"
