#include "core/image/pixel_kernels.h"

#include <QtTest>
#include <cmath>
#include <limits>

#include "core/base/plane.h"
#include "core/colour/encoding.h"

using namespace kettle;

class PixelKernelsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyByteComesThroughTheTable() {
        for (const int channels : {1, 2, 3, 4}) {
            // A count that no vector divides, so that the rest is met too.
            const std::size_t count = 301, n = static_cast<std::size_t>(channels);
            std::vector<std::uint8_t> bytes(count * n);
            for (std::size_t i = 0; i < bytes.size(); ++i) bytes[i] = static_cast<std::uint8_t>(i * 7);
            std::vector<std::vector<float>> planes(n, std::vector<float>(count, -1));
            std::vector<float*> out;
            for (auto& p : planes) out.push_back(p.data());
            if (channels == 3) out[1] = nullptr;
            decodeBytes(bytes.data(), count, channels, srgbTable().data(), out.data());
            for (std::size_t i = 0; i < count; ++i)
                for (std::size_t c = 0; c < n; ++c)
                    QCOMPARE(planes[c][i], out[c] == nullptr ? -1.0f : srgbTable()[bytes[i * n + c]]);
        }
    }
    void floatsAreRoundedLimitedAndNeverNaN() {
        const std::size_t count = 37;
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
            encodeBytes(in, components, count, out.data());
            for (std::size_t i = 0; i < count; ++i)
                for (std::size_t c = 0; c < n; ++c) QCOMPARE(int{out[i * n + c]}, int{toByte(planes[c][i])});
            QCOMPARE(int{out.back()}, 77);  // nothing beyond the end
        }
    }
};

QTEST_APPLESS_MAIN(PixelKernelsTest)
#include "pixel_kernels_test.moc"
