// Differences of pictures: the published pairs, agreement with the plain formula, figures that can be told in
// advance.
#include <QtTest>
#include <cmath>
#include <random>

#include "core/analysis/picture_difference.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

using namespace kettle;

namespace {

double vectored(const std::array<double, 6>& labs) {
    alignas(64) float planes[6][16], out[16];
    for (std::size_t k = 0; k < 6; ++k)
        for (float& v : planes[k]) v = static_cast<float>(labs[k]);
    const float *one[3]{planes[0], planes[1], planes[2]}, *two[3]{planes[3], planes[4], planes[5]};
    ciede2000Of(one, two, 16, out);
    return static_cast<double>(out[0]);
}

std::uint32_t grey(std::uint32_t code) {
    return 0xFF000000u | code << 16 | code << 8 | code;
}

}  // namespace

class PictureDifferenceTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void thePublishedPairs() {
        // Sharma, Wu, Dalal 2005, table 1: L1 a1 b1 L2 a2 b2 dE.
        const std::array<std::array<double, 7>, 14> pairs{{
            {50.0000, 2.6772, -79.7751, 50.0000, 0.0000, -82.7485, 2.0425},
            {50.0000, 3.1571, -77.2803, 50.0000, 0.0000, -82.7485, 2.8615},
            {50.0000, 2.8361, -74.0200, 50.0000, 0.0000, -82.7485, 3.4412},
            {50.0000, -1.3802, -84.2814, 50.0000, 0.0000, -82.7485, 1.0000},
            {50.0000, 0.0000, 0.0000, 50.0000, -1.0000, 2.0000, 2.3669},
            {50.0000, -1.0000, 2.0000, 50.0000, 0.0000, 0.0000, 2.3669},
            {50.0000, 2.5000, 0.0000, 73.0000, 25.0000, -18.0000, 27.1492},
            {50.0000, 2.5000, 0.0000, 61.0000, -5.0000, 29.0000, 22.8977},
            {50.0000, 2.5000, 0.0000, 56.0000, -27.0000, -3.0000, 31.9030},
            {60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644},
            {22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373},
            {90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441},
            {6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377},
            {2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082},
        }};
        for (const auto& p : pairs) {
            const double got = vectored({p[0], p[1], p[2], p[3], p[4], p[5]});
            QVERIFY2(std::fabs(got - p[6]) < 2e-3, qPrintable(QStringLiteral("%1 %2").arg(got).arg(p[6])));
        }
    }
    void itAgreesWithThePlainFormula() {
        std::mt19937 random(5);
        std::uniform_real_distribution<double> light(0, 100), axis(-90, 90);
        double worst = 0;
        for (int i = 0; i < 4000; ++i) {
            const std::array<double, 6> l{light(random), axis(random), axis(random),
                                          light(random), axis(random), axis(random)};
            // Nearly opposite hues have two mean hues; the sides may choose either.
            const double turn =
                std::fabs(std::remainder(std::atan2(l[2], l[1]) - std::atan2(l[5], l[4]), 2 * M_PI));
            if (turn > 3.1) continue;
            const auto vec = [&](std::size_t k) {
                return Vec3{static_cast<float>(l[k]), static_cast<float>(l[k + 1]),
                            static_cast<float>(l[k + 2])};
            };
            worst = std::max(worst, std::fabs(vectored(l) - ciede2000(vec(0), vec(3))));
        }
        QVERIFY2(worst < 5e-3, qPrintable(QString::number(worst)));
    }
    void equalPicturesHaveNone() {
        const std::vector<std::uint32_t> a(1000, grey(90));
        const PictureDifference d = differenceOfPictures(a.data(), a.data(), a.size());
        QCOMPARE(d.mean, 0.0);
        QCOMPARE(d.percentile95, 0.0);
        QCOMPARE(d.largest, 0.0);
        QCOMPARE(d.counted, std::size_t{1000});
        QCOMPARE(d.heat, std::vector<std::uint32_t>(1000, heatColour(0)));
    }
    void figuresAreThoseOfThePixels() {
        // A tenth of the pixels differs, by what the plain formula says; one of them by more.
        std::vector<std::uint32_t> a(2000, grey(120)), b = a;
        for (std::size_t i = 0; i < 200; ++i) b[i * 10] = 0xFF8C7878;
        b[730] = 0xFFFF0000;
        const auto between = [](std::uint32_t p, std::uint32_t q) {
            const auto lab = [](std::uint32_t v) {
                const auto& t = srgbTable();
                return cieLabOf({t[v >> 16 & 255], t[v >> 8 & 255], t[v & 255]});
            };
            return ciede2000(lab(p), lab(q));
        };
        const double one = between(a[0], b[0]), most = between(a[730], b[730]);
        const PictureDifference d = differenceOfPictures(a.data(), b.data(), a.size());
        QVERIFY(std::fabs(d.mean - (199 * one + most) / 2000) < 2e-3);
        QVERIFY(std::fabs(d.percentile95 - one) < 0.04);
        QVERIFY(std::fabs(d.largest - most) < 5e-3);
        QCOMPARE(d.largestAt, std::size_t{730});
        QCOMPARE(d.heat[1], heatColour(0));
        QVERIFY(d.heat[0] != heatColour(0));
    }
    void onlyWhatIsCoveredCounts() {
        std::vector<std::uint32_t> a(600, grey(50)), b(600, grey(200));
        std::vector<std::uint8_t> covered(600, 0);
        QCOMPARE(differenceOfPictures(a.data(), b.data(), 600, covered.data()).counted, std::size_t{0});
        std::copy_n(b.begin(), 300, a.begin());
        std::fill_n(covered.begin(), 300, std::uint8_t{1});
        const PictureDifference d = differenceOfPictures(a.data(), b.data(), 600, covered.data());
        QCOMPARE(d.counted, std::size_t{300});
        QCOMPARE(d.largest, 0.0);
        QVERIFY(d.heat[599] != heatColour(0));  // it is shown all the same
    }
    void theScaleEndsAtItsEnd() {
        QCOMPARE(heatColour(kHeatEnd), heatColour(1000));
        QCOMPARE(heatColour(-1), heatColour(0));
        QCOMPARE(heatColour(std::nan("")), heatColour(0));
        QVERIFY(heatColour(3) != heatColour(6));
    }
};

QTEST_GUILESS_MAIN(PictureDifferenceTest)
#include "picture_difference_test.moc"
