#include "core/colour/models.h"

#include <QtTest>
#include <array>
#include <cmath>

#include "core/colour/encoding.h"

using namespace kettle;

namespace {
bool close(Vec3 a, Vec3 b, float tolerance) {
    return std::fabs(a.x - b.x) <= tolerance && std::fabs(a.y - b.y) <= tolerance &&
           std::fabs(a.z - b.z) <= tolerance;
}
}  // namespace

class ModelsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void hsvOfTheCorners_data() {
        QTest::addColumn<float>("r");
        QTest::addColumn<float>("g");
        QTest::addColumn<float>("b");
        QTest::addColumn<float>("hue");
        QTest::addColumn<float>("saturation");
        QTest::addColumn<float>("value");
        QTest::newRow("red") << 1.f << 0.f << 0.f << 0.f << 1.f << 1.f;
        QTest::newRow("yellow") << 1.f << 1.f << 0.f << 60.f << 1.f << 1.f;
        QTest::newRow("green") << 0.f << 1.f << 0.f << 120.f << 1.f << 1.f;
        QTest::newRow("cyan") << 0.f << 1.f << 1.f << 180.f << 1.f << 1.f;
        QTest::newRow("blue") << 0.f << 0.f << 1.f << 240.f << 1.f << 1.f;
        QTest::newRow("magenta") << 1.f << 0.f << 1.f << 300.f << 1.f << 1.f;
        QTest::newRow("grey has no hue") << .5f << .5f << .5f << 0.f << 0.f << .5f;
        QTest::newRow("black") << 0.f << 0.f << 0.f << 0.f << 0.f << 0.f;
        QTest::newRow("brighter than white") << 3.f << 1.5f << 1.5f << 0.f << .5f << 3.f;
        QTest::newRow("negative counts as 0") << 1.f << -1.f << 0.f << 0.f << 1.f << 1.f;
    }
    void hsvOfTheCorners() {
        QFETCH(float, r);
        QFETCH(float, g);
        QFETCH(float, b);
        const Hsv hsv = hsvOf({r, g, b});
        QTEST(hsv.hue, "hue");
        QTEST(hsv.saturation, "saturation");
        QTEST(hsv.value, "value");
        QVERIFY(close(rgbOf(hsv), {std::max(r, 0.f), std::max(g, 0.f), std::max(b, 0.f)}, 1e-6f));
    }
    void hueTurnsRoundFromBelowZero() { QVERIFY(close(rgbOf({-120, 1, 1}), {0, 0, 1}, 1e-6f)); }

    void oklabOfPublishedColours() {
        // B. Ottosson 2020, the table of XYZ pairs, with the XYZ turned to linear Rec.709; white and the red
        // primary.
        QVERIFY(close(oklabOf({1, 1, 1}), {1, 0, 0}, 1e-4f));
        QVERIFY(close(oklabOf({1, 0, 0}), {0.62796f, 0.22486f, 0.12585f}, 1e-4f));
        QVERIFY(close(oklabOf({0, 1, 0}), {0.86644f, -0.23389f, 0.17950f}, 1e-4f));
        QVERIFY(close(oklabOf({0, 0, 1}), {0.45201f, -0.03246f, -0.31153f}, 1e-4f));
        QVERIFY(close(linearOfOklab(oklabOf({0.2f, 0.5f, 0.7f})), {0.2f, 0.5f, 0.7f}, 1e-5f));
    }
    void cieLabOfWhiteAndRed() {
        QVERIFY(close(cieLabOf({1, 1, 1}), {100, 0, 0}, 0.02f));
        QVERIFY(close(cieLabOf({1, 0, 0}), {53.24f, 80.09f, 67.20f}, 0.05f));
    }
    void ciede2000OfThePublishedPairs() {
        // Sharma, Wu, Dalal 2005, table 1: L1 a1 b1 L2 a2 b2 dE.
        const std::array<std::array<double, 7>, 12> pairs{{
            {50.0000, 2.6772, -79.7751, 50.0000, 0.0000, -82.7485, 2.0425},
            {50.0000, 3.1571, -77.2803, 50.0000, 0.0000, -82.7485, 2.8615},
            {50.0000, -1.3802, -84.2814, 50.0000, 0.0000, -82.7485, 1.0000},
            {50.0000, 0.0000, 0.0000, 50.0000, -1.0000, 2.0000, 2.3669},
            {50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0009, 7.1792},
            {50.0000, 2.4900, -0.0010, 50.0000, -2.4900, 0.0011, 7.2195},
            {50.0000, 2.5000, 0.0000, 73.0000, 25.0000, -18.0000, 27.1492},
            {50.0000, 2.5000, 0.0000, 56.0000, -27.0000, -3.0000, 31.9030},
            {60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644},
            {22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373},
            {90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441},
            {2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082},
        }};
        for (const auto& p : pairs) {
            const auto lab = [&](std::size_t i) {
                return Vec3{static_cast<float>(p[i]), static_cast<float>(p[i + 1]),
                            static_cast<float>(p[i + 2])};
            };
            QVERIFY2(std::fabs(ciede2000(lab(0), lab(3)) - p[6]) < 2e-4, qPrintable(QString::number(p[6])));
            QVERIFY(std::fabs(ciede2000(lab(3), lab(0)) - p[6]) < 2e-4);
        }
    }
    void luminanceWeightsAreRec709() {
        QCOMPARE(luminance({1, 0, 0}), 0.2126f);
        QCOMPARE(luminance({0, 1, 0}), 0.7152f);
        QVERIFY(std::fabs(luminance({1, 1, 1}) - 1) < 1e-6f);
    }
};

QTEST_APPLESS_MAIN(ModelsTest)
#include "models_test.moc"
