#include "core/image/pixel_kernels.h"

#include <QtTest>
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/plane.h"
#include "core/colour/encoding.h"

using namespace kettle;

class PixelKernelsTest final : public QObject {
    Q_OBJECT

    /// Every code of pixels with 1 to 4 channels, some curved, beside the curve in doubles.
    template <class Code, class Decode>
    static void everyCodeIsDecoded(Decode decode) {
        const double top = std::numeric_limits<Code>::max();
        for (const int channels : {1, 2, 3, 4}) {
            // A count that no vector divides, so that the rest is met too.
            const std::size_t count = std::size_t{std::numeric_limits<Code>::max()} + 46,
                              n = static_cast<std::size_t>(channels);
            std::vector<Code> codes(count * n);
            for (std::size_t i = 0; i < codes.size(); ++i) codes[i] = static_cast<Code>(i / n + i % n * 7);
            std::vector<std::vector<float>> planes(n, std::vector<float>(count, -1));
            std::vector<float*> out;
            for (auto& p : planes) out.push_back(p.data());
            if (channels == 3) out[1] = nullptr;
            const unsigned curved = channels == 4 ? 7 : 1;
            decode(codes.data(), count, channels, curved, out.data());
            std::vector<std::vector<float>> first(2,
                                                  std::vector<float>(static_cast<std::size_t>(top) + 1, -1));
            for (std::size_t c = 0; c < n; ++c) {
                const bool isCurved = (curved & (1u << c)) != 0;
                for (std::size_t i = 0; i < count; ++i) {
                    const Code code = codes[i * n + c];
                    const double x = code / top;
                    const double wanted = out[c] == nullptr ? -1
                                          : !isCurved       ? x
                                          : x <= 0.04045    ? x / 12.92
                                                            : std::pow((x + 0.055) / 1.055, 2.4);
                    QVERIFY2(std::fabs(static_cast<double>(planes[c][i]) - wanted) <= 7e-7 * wanted + 1e-9 ||
                                 out[c] == nullptr,
                             qPrintable(QStringLiteral("code %1 of channel %2").arg(code).arg(c)));
                    QVERIFY(out[c] != nullptr || planes[c][i] == -1.0f);
                    // Wherever a code stands, its number has the same bits.
                    if (out[c] == nullptr) continue;
                    float& known = first[isCurved ? 1 : 0][code];
                    if (known < 0) known = planes[c][i];
                    QCOMPARE(planes[c][i], known);
                }
            }
            QCOMPARE(first[1].back(), 1.0f);
            QCOMPARE(first[1].front(), 0.0f);
        }
    }

private Q_SLOTS:
    void everyByteIsDecoded() { everyCodeIsDecoded<std::uint8_t>(decodeBytes); }
    void everyWordIsDecoded() { everyCodeIsDecoded<std::uint16_t>(decodeWords); }
    void floatsAreRoundedLimitedAndNeverNaN() {
        const std::size_t count = 337;
        std::vector<Plane> planes;
        for (int c = 0; c < 4; ++c) planes.emplace_back(count);
        const float odd[] = {-1,
                             -0.0f,
                             0,
                             0.5f / 255,
                             0.51f / 255,
                             0.5f,
                             0.999f,
                             1,
                             2,
                             std::numeric_limits<float>::infinity(),
                             -std::numeric_limits<float>::infinity(),
                             std::numeric_limits<float>::quiet_NaN()};
        for (std::size_t c = 0; c < 4; ++c)
            for (std::size_t i = 0; i < count; ++i) planes[c][i] = odd[(i + c) % std::size(odd)];
        for (const int components : {1, 3, 4}) {
            const float* in[4]{planes[0].data(), planes[1].data(), planes[2].data(), planes[3].data()};
            const auto n = static_cast<std::size_t>(components);
            std::vector<std::uint8_t> out(count * n + 1, 77);
            encodeBytes(in, components, count, 0, out.data());
            for (std::size_t i = 0; i < count; ++i)
                for (std::size_t c = 0; c < n; ++c) QCOMPARE(int{out[i * n + c]}, int{toByte(planes[c][i])});
            QCOMPARE(int{out.back()}, 77);  // nothing beyond the end
        }
    }
    /// Light to codes, beside the curve in doubles.
    void lightIsEncodedOnTheWay() {
        const std::size_t count = 65536 * 2 + 5;
        std::vector<Plane> planes;
        for (int c = 0; c < 4; ++c) planes.emplace_back(count);
        for (std::size_t i = 0; i < count; ++i) {
            planes[0][i] = static_cast<float>(i) / 131072;
            planes[1][i] = planes[0][i] * planes[0][i];
            planes[2][i] = planes[0][i] - 0.25f;
            planes[3][i] = planes[0][i];
        }
        const float* in[4]{planes[0].data(), planes[1].data(), planes[2].data(), planes[3].data()};
        const auto encoded = [](double x) {
            x = std::clamp(x, 0.0, 1.0);
            return x <= 0.0031308 ? 12.92 * x : 1.055 * std::pow(x, 1 / 2.4) - 0.055;
        };
        for (const int components : {1, 3, 4}) {
            const auto n = static_cast<std::size_t>(components);
            std::vector<std::uint8_t> bytes(count * n);
            std::vector<std::uint16_t> words(count * n);
            encodeBytes(in, components, count, 7, bytes.data());
            QCOMPARE(encodeWords(in, components, count, 7, words.data()), std::size_t{0});
            for (std::size_t i = 0; i < count; ++i)
                for (std::size_t c = 0; c < n; ++c) {
                    const double x = planes[c][i], wanted = c == 3 ? std::min(x, 1.0) : encoded(x);
                    QVERIFY(std::fabs(bytes[i * n + c] - 255 * wanted) <= 0.51);
                    QVERIFY2(std::fabs(words[i * n + c] - 65535 * wanted) <= 0.55,
                             qPrintable(QString::number(x, 'g', 9)));
                }
        }
    }
    void wordsCountWhatIsNoNumber() {
        Plane plane(37);
        for (std::size_t i = 0; i < 37; ++i) plane[i] = 0.5f;
        plane[3] = std::numeric_limits<float>::quiet_NaN();
        plane[36] = std::numeric_limits<float>::infinity();
        plane[20] = -std::numeric_limits<float>::infinity();
        const float* in[4]{plane.data(), plane.data(), plane.data(), nullptr};
        std::vector<std::uint16_t> out(37 * 3 + 1, 77);
        QCOMPARE(encodeWords(in, 1, 37, 0, out.data()), std::size_t{3});
        QCOMPARE(int{out[3]}, 0);
        QCOMPARE(int{out[20]}, 0);
        QCOMPARE(int{out[36]}, 65535);
        QCOMPARE(int{out[0]}, 32768);
        QCOMPARE(encodeWords(in, 3, 37, 0, out.data()), std::size_t{9});
        QCOMPARE(int{out.back()}, 77);
    }
};

QTEST_APPLESS_MAIN(PixelKernelsTest)
#include "pixel_kernels_test.moc"
