// Maps that lie on a model as they are seen from its three sides.
#include <QtTest>
#include <cmath>
#include <utility>

#include "tests/support/placement_bench.h"

using namespace kettle;
using namespace kettle::test;

class SidesTest final : public QObject {
    Q_OBJECT
    PlacementBench m_bench;

private Q_SLOTS:
    void sidesShowTheMapUpright() {
        const Controls sides{{"lies", std::string("sides")}, {"size", 20.0}, {"seam", 0.0}};
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0})),
            right(square({5, 0, 0}, {0, 0, -1}, {0, 1, 0})), back(square({0, 0, 3}, {-1, 0, 0}, {0, 1, 0})),
            top(square({0, 7, 0}, {1, 0, 0}, {0, 0, -1}));
        for (OneModel* model : {&front, &right, &back, &top})
            QVERIFY(m_bench.reads(sides, 0.3, 0.2, 0.3, 0.2, model));
        Controls turned = sides;
        turned["size"] = 10.0, turned["rotation"] = 90.0;
        // At (6, 4) cm, turned back by a quarter: (4, -6), in tens.
        QVERIFY(m_bench.reads(turned, 0.3, 0.2, 0.4, -0.6, &front));
        // Without a model it is the same everywhere.
        const auto here = m_bench.at("base-colour", Kind::Colour, sides, 0.3f, 0.2f),
                   there = m_bench.at("base-colour", Kind::Colour, sides, 0.71f, 0.64f);
        for (std::size_t c = 0; c < 4; ++c) QVERIFY(near(here[c], there[c]));
    }

    /// Over a surface that turns from the front to the right, its sides share it by the powers of its normal,
    /// and what a side is not read for is nothing of it.
    void sidesShareWhatTurnsFromOneToTheOther() {
        Mesh bent = square({0, 0, 3}, {1, 0, 0}, {0, 1, 0});
        bent.normals[1] = bent.normals[2] = {1, 0, 0};
        OneModel model(bent);
        constexpr int kSide = 70;
        for (const auto& [seam, power] : {std::pair{0.0, 64}, std::pair{0.3, 32}, std::pair{1.0, 2}}) {
            const auto found =
                m_bench.redOn(model, "base-colour",
                              {{"lies", std::string("sides")}, {"size", 20.0}, {"seam", seam}}, kSide);
            QVERIFY(found[0] == found[1]);
            int shared = 0;
            for (int y = 0; y < kSide; ++y)
                for (int x = 0; x < kSide; ++x) {
                    const double u = (x + 0.5) / kSide, v = 1 - (y + 0.5) / kSide;
                    const double length = std::hypot(u, 1 - u);  // of a normal between the two
                    const double right = std::pow(u / length, power),
                                 front = std::pow((1 - u) / length, power);
                    const double least = (right + front) / 1024, rightMore = std::max(0.0, right - least),
                                 frontMore = std::max(0.0, front - least);
                    const double share = rightMore / (rightMore + frontMore);
                    // From the right across is -z, from the front x; up is y from both.
                    const double wanted = share * static_cast<double>(slopes(-0.15, v, 0)) +
                                          (1 - share) * static_cast<double>(slopes(u, v, 0));
                    const float got = found[0][static_cast<std::size_t>(y * kSide + x)];
                    QVERIFY2(std::fabs(static_cast<double>(got) - wanted) < 4e-3,
                             qPrintable(QStringLiteral("seam %1 at %2, %3: %4 and not %5")
                                            .arg(seam)
                                            .arg(u)
                                            .arg(v)
                                            .arg(static_cast<double>(got))
                                            .arg(wanted)));
                    shared += share > 0 && share < 1;
                }
            QVERIFY(shared > kSide && (seam == 1.0 || shared < kSide * kSide * 2 / 3));
        }
    }

    void normalsFromSidesAreThoseOfTheMap() {
        const Controls sides{{"lies", std::string("sides")}, {"size", 20.0}, {"seam", 0.0}};
        const auto plain = m_bench.at("normal", Kind::Normal, {}, 0.3f, 0.3f);
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0})),
            right(square({5, 0, 0}, {0, 0, -1}, {0, 1, 0})), top(square({0, 7, 0}, {1, 0, 0}, {0, 0, -1}));
        for (OneModel* model : {&front, &right, &top})
            QVERIFY(near(m_bench.at("normal", Kind::Normal, sides, 0.3f, 0.3f, model),
                         {plain[0], plain[1], plain[2]}, 1e-4f));
        // On a square that is unwrapped sideways the same relief has other coordinates.
        OneModel sideways(square({0, 0, 3}, {0, 1, 0}, {-1, 0, 0}));
        QVERIFY(near(m_bench.at("normal", Kind::Normal, sides, 0.3f, 0.3f, &sideways),
                     {plain[1], -plain[0], plain[2]}, 1e-4f));
    }
};

QTEST_GUILESS_MAIN(SidesTest)
#include "sides_test.moc"
