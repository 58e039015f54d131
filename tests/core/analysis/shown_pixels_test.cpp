// What is shown on the screen, against the plain curve.
#include "core/analysis/shown_pixels.h"

#include <QtTest>
#include <cmath>
#include <limits>
#include <random>

#include "core/analysis/tones.h"
#include "core/colour/encoding.h"

using namespace kettle;

namespace {

std::vector<float> randomValues(std::size_t count, float low, float high) {
    std::mt19937 random(7);
    std::uniform_real_distribution<float> values(low, high);
    std::vector<float> x(count);
    for (float& v : x) v = values(random);
    return x;
}

}  // namespace

class ShownPixelsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theCurveIsThePublishedOneAtAnyLength() {
        for (const std::size_t count : {1u, 15u, 16u, 17u, 500u}) {
            const auto x = randomValues(count, -0.5f, 2.0f);
            std::vector<float> y(count);
            encodeForDisplay(x.data(), count, y.data());
            for (std::size_t i = 0; i < count; ++i) QVERIFY(std::fabs(y[i] - linearToSrgb(x[i])) < 3e-6f);
        }
        float half = 0.21404114f;  // mid grey: 0.5 encoded (IEC 61966-2-1)
        encodeForDisplay(&half, 1, &half);
        QVERIFY(std::fabs(half - 0.5f) < 1e-6f);
    }
    void pixelsAreWithinOneCodeOfThePlainWay() {
        const auto r = randomValues(1001, -0.2f, 1.4f), g = randomValues(1001, 0, 1),
                   b = randomValues(1001, 0, 0.01f);
        std::vector<std::uint32_t> out(1001);
        for (const Kind kind : {Kind::Colour, Kind::Scalar, Kind::Normal}) {
            showPixels(kind, {r.data(), g.data(), b.data()}, 1001, out.data());
            for (std::size_t i = 0; i < out.size(); ++i) {
                const std::uint32_t plain = shownPixel(kind, r[i], g[i], b[i]);
                QCOMPARE(out[i] >> 24, 255u);
                for (const int shift : {0, 8, 16})
                    QVERIFY(std::abs(static_cast<int>(out[i] >> shift & 255) -
                                     static_cast<int>(plain >> shift & 255)) <= 1);
            }
        }
    }
    void everyCodeComesBack() {
        std::vector<float> x(256);
        for (std::size_t i = 0; i < 256; ++i) x[i] = srgbTable()[i];
        std::vector<std::uint32_t> out(256);
        showPixels(Kind::Colour, {x.data(), x.data(), x.data()}, 256, out.data());
        for (std::uint32_t i = 0; i < 256; ++i) QCOMPARE(out[i], 0xFF000000u | i * 0x010101u);
    }
    void oddNumbersAreBlackOrWhite() {
        const float inf = std::numeric_limits<float>::infinity();
        const std::vector<float> x{std::nanf(""), inf, -inf, -3, 9, 0.5f};
        std::vector<std::uint32_t> out(x.size());
        showPixels(Kind::Scalar, {x.data()}, x.size(), out.data());
        QCOMPARE(out, (std::vector<std::uint32_t>{0xFF000000u, 0xFFFFFFFFu, 0xFF000000u, 0xFF000000u,
                                                  0xFFFFFFFFu, 0xFF808080u}));
        showPixels(Kind::Colour, {x.data(), x.data(), x.data()}, 4, out.data());
        QCOMPARE(out[0], 0xFF000000u);
        QCOMPARE(out[2], 0xFF000000u);
    }
    void ribbonsFallFromLightToDarkWhateverTheOrder() {
        auto x = randomValues(6400, -1, 3);
        x[5] = std::nanf("");
        x[6] = -0.0f;
        const auto ribbon = toneRibbonOf(Kind::Scalar, {x.data()}, x.size(), 14);
        // The plain way: sort all, then the mean of each share.
        std::vector<float> sorted;
        for (const float v : x) sorted.push_back(std::isfinite(v) ? v : 0.0f);
        std::sort(sorted.begin(), sorted.end(), std::greater<>());
        for (std::size_t row = 0; row < 14; ++row) {
            double sum = 0;
            const std::size_t begin = row * 6400 / 14, end = (row + 1) * 6400 / 14;
            for (std::size_t i = begin; i < end; ++i) sum += static_cast<double>(sorted[i]);
            const auto mean = static_cast<float>(sum / static_cast<double>(end - begin));
            const int wanted = toByte(mean), got = static_cast<int>(ribbon[row] & 255);
            QVERIFY2(std::abs(wanted - got) <= 1, qPrintable(QString::number(row)));
        }
    }
    void equalTonesKeepTheOrderOfTheirPlaces() {
        // Red and blue of equal luminance: the first half of the list fills the first rows.
        const float blue = 0.2126f / 0.0722f;
        std::vector<float> r(100), g(100, 0.0f), b(100);
        for (std::size_t i = 0; i < 100; ++i) (i < 50 ? r : b)[i] = i < 50 ? 0.25f : 0.25f * blue;
        const auto ribbon = toneRibbonOf(Kind::Scalar, {r.data()}, 100, 2);
        QCOMPARE(ribbon[0], 0xFF404040u);
        QCOMPARE(ribbon[1], 0xFF000000u);
        const auto flat = toneRibbonOf(Kind::Scalar, {g.data()}, 100, 3);
        QCOMPARE(flat, (std::vector<std::uint32_t>(3, 0xFF000000u)));
    }
};

QTEST_APPLESS_MAIN(ShownPixelsTest)
#include "shown_pixels_test.moc"
