// From one level of a map to the next: the mean of four texels in light, beside the same in doubles by the
// published curve, for every kind of code, every number of components and odd sizes.
#include <QtTest>
#include <cmath>
#include <random>

#include "core/image/halving.h"

using namespace kettle;

namespace {

/// IEC 61966-2-1, both ways.
double toLight(double s) {
    return s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
}
double toCode(double l) {
    return l <= 0.0031308 ? l * 12.92 : 1.055 * std::pow(l, 1 / 2.4) - 0.055;
}

template <class T>
PixelBuffer noise(int width, int height, int channels, Depth depth, unsigned seed) {
    std::mt19937 random(seed);
    PixelBuffer p = PixelBuffer::make(width, height, channels, depth);
    for (int y = 0; y < height; ++y)
        for (int i = 0; i < width * channels; ++i)
            p.row<T>(y)[i] = static_cast<T>(random() >> (32 - 8 * sizeof(T)));
    return p;
}

/// The largest distance of a level's code from the mean in doubles, in codes.
template <class T>
double farthest(const PixelBuffer& from, const PixelBuffer& to, bool isSrgb) {
    const double top = std::numeric_limits<T>::max();
    double most = 0;
    for (int y = 0; y < to.height; ++y)
        for (int x = 0; x < to.width; ++x)
            for (int c = 0; c < from.channels; ++c) {
                const bool isCurved = isSrgb && c != 3 && !(from.channels == 2 && c == 1);
                double sum = 0;
                for (const int dy : {0, 1})
                    for (const int dx : {0, 1}) {
                        const int sx = std::min(2 * x + dx, from.width - 1),
                                  sy = std::min(2 * y + dy, from.height - 1);
                        const double v = from.row<T>(sy)[sx * from.channels + c] / top;
                        sum += isCurved ? toLight(v) : v;
                    }
                const double mean = (isCurved ? toCode(sum / 4) : sum / 4) * top;
                most = std::max(most, std::fabs(mean - to.row<T>(y)[x * to.channels + c]));
            }
    return most;
}

}  // namespace

class HalvingTest : public QObject {
    Q_OBJECT

    template <class T>
    void checkCodes(Depth depth, double accuracy) {
        // One texel, one row, one column, odd ones, and wider than a piece that is worked on at once.
        for (const auto& [width, height] :
             {std::pair{1, 1}, {2, 1}, {1, 7}, {9, 5}, {33, 64}, {2053, 3}, {2048, 6}})
            for (int channels = 1; channels <= 4; ++channels)
                for (const bool isSrgb : {false, true}) {
                    const PixelBuffer from = noise<T>(width, height, channels, depth, 7);
                    const PixelBuffer to = halved(from, isSrgb);
                    QCOMPARE(to.width, std::max(1, width / 2));
                    QCOMPARE(to.height, std::max(1, height / 2));
                    QCOMPARE(to.channels, channels);
                    QVERIFY(to.depth == depth);
                    const double away = farthest<T>(from, to, isSrgb);
                    QVERIFY2(away <= 0.5 + (isSrgb ? accuracy : 1e-9),
                             qPrintable(QStringLiteral("%1 x %2, %3 components, sRGB %4: %5")
                                            .arg(width)
                                            .arg(height)
                                            .arg(channels)
                                            .arg(isSrgb)
                                            .arg(away)));
                }
    }

private Q_SLOTS:
    void bytes() { checkCodes<std::uint8_t>(Depth::U8, 2e-5); }
    void words() { checkCodes<std::uint16_t>(Depth::U16, 0.05); }

    /// Black and white mix to 188, as light does; as plain numbers to 128.
    void blackAndWhite() {
        PixelBuffer p = PixelBuffer::make(2, 2, 3, Depth::U8);
        for (int y = 0; y < 2; ++y)
            for (int i = 0; i < 6; ++i) p.row<std::uint8_t>(y)[i] = (i / 3 + y) % 2 == 0 ? 0 : 255;
        QCOMPARE(int(halved(p, true).row<std::uint8_t>(0)[1]), 188);
        QCOMPARE(int(halved(p, false).row<std::uint8_t>(0)[1]), 128);
    }

    /// What is even stays as it is, in every code.
    void evenStaysEven() {
        for (const bool isSrgb : {false, true})
            for (int code = 0; code < 256; ++code) {
                PixelBuffer p = PixelBuffer::make(4, 4, 3, Depth::U8);
                std::fill(p.bytes.begin(), p.bytes.end(), static_cast<std::byte>(code));
                QCOMPARE(int(halved(p, isSrgb).row<std::uint8_t>(1)[4]), code);
            }
    }

    void floats() {
        PixelBuffer p = PixelBuffer::make(3, 2, 2, Depth::Float);
        const float rows[2][6]{{1, -8, 3, 0.5f, 99, 99}, {5, 100, 7, 0.25f, 99, 99}};
        for (int y = 0; y < 2; ++y) std::copy_n(rows[y], 6, p.row<float>(y));
        const PixelBuffer to = halved(p, true);  // floats are in light already
        QCOMPARE(to.row<float>(0)[0], 4.0f);
        QCOMPARE(to.row<float>(0)[1], 23.1875f);
    }
};

QTEST_GUILESS_MAIN(HalvingTest)
#include "halving_test.moc"
