// What pixels say of a map: pictures made by formulas whose kind is known.
#include <QtTest>
#include <cmath>
#include <random>

#include "core/exchange/map_contents.h"

using namespace kettle;

namespace {

template <class F>
PixelBuffer picture(int channels, F value, int side = 64) {
    PixelBuffer p = PixelBuffer::make(side, side, channels, Depth::U8);
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x)
            for (int c = 0; c < channels; ++c)
                p.row<std::uint8_t>(y)[x * channels + c] = static_cast<std::uint8_t>(value(x, y, c));
    return p;
}

/// A field of small waves as unit vectors.
PixelBuffer waves() {
    return picture(3, [](int x, int y, int c) {
        const double dx = 0.4 * std::sin(x * 0.5), dy = 0.3 * std::cos(y * 0.4),
                     length = std::sqrt(dx * dx + dy * dy + 1);
        const double v[]{-dx / length, -dy / length, 1 / length};
        return std::lround((v[c] * 0.5 + 0.5) * 255);
    });
}

PixelBuffer three() {
    return picture(3, [](int x, int y, int c) {
        return c == 0 ? x * 4 : c == 1 ? y * 4 : (x * 37 + y * 91) % 251;
    });
}

PixelBuffer paint() {
    // A colour whose components go together, as those of pictures do.
    return picture(3, [](int x, int y, int c) { return 40 + (x + y) + c * 15 + (x * 7) % 5; });
}

MapName named(const char* file) {
    return readMapNames({file}).front();
}

}  // namespace

class MapContentsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void normalsAreKnown() {
        QVERIFY(contentsOf(waves()).isNormal);
        QVERIFY(contentsOf(picture(3, [](int, int, int c) { return c == 2 ? 255 : 128; })).isNormal);
        QVERIFY(!contentsOf(paint()).isNormal);
        QVERIFY(!contentsOf(three()).isNormal);
        QVERIFY(!contentsOf(picture(1, [](int, int, int) { return 128; })).isNormal);
        const MapContents m = contentsOf(waves());
        QVERIFY(std::fabs(m.mean[0] - 0.5) < 0.03 && m.mean[2] > 0.9 && !m.isPacked && !m.isGrey);
    }
    void greysAndColours() {
        QVERIFY(contentsOf(picture(3, [](int x, int, int) { return x * 4; })).isGrey);
        QVERIFY(contentsOf(picture(1, [](int x, int, int) { return x; })).isGrey);
        QVERIFY(!contentsOf(paint()).isGrey);
        QVERIFY(contentsOf(picture(3, [](int, int, int) { return 9; })).isPlain);
        QVERIFY(!contentsOf(paint()).isPlain);
    }
    void packedMapsAreThreePictures() {
        QVERIFY(contentsOf(three()).isPacked);
        QVERIFY(!contentsOf(paint()).isPacked);
        // Two of them alike are none.
        QVERIFY(!contentsOf(picture(3, [](int x, int y, int c) { return c == 2 ? y * 4 : x * 4; })).isPacked);
    }
    void alphaThatSaysSomething() {
        const auto withAlpha = [](auto alpha) {
            return contentsOf(picture(4, [&](int x, int, int c) { return c == 3 ? alpha(x) : 100; }))
                .alphaSays;
        };
        QVERIFY(withAlpha([](int x) { return x * 4; }));
        QVERIFY(!withAlpha([](int) { return 255; }));
        QVERIFY(!contentsOf(paint()).alphaSays);
    }
    void namesThatContentsContradict() {
        const auto told = [](const char* file, const PixelBuffer& p) {
            return QString::fromStdString(contradictionOf(named(file), contentsOf(p)));
        };
        QVERIFY(told("oar_normal.png", waves()).isEmpty());
        QVERIFY(told("oar_normal.png", picture(1, [](int x, int, int) { return x * 4; }))
                    .contains(QStringLiteral("height map")));
        QVERIFY(told("oar_normal.png", paint()).contains(QStringLiteral("no directions")));
        QVERIFY(told("oar_basecolor.png", waves())
                    .contains(QStringLiteral("looks like a normal map: its mean is 12")));
        QVERIFY(told("oar_roughness.png", three()).contains(QStringLiteral("three pictures")));
        QVERIFY(told("oar_roughness.png", three())
                    .startsWith(QStringLiteral("oar_roughness.png is called roughness,")));
        QVERIFY(told("oar_basecolor.png", three()).isEmpty());
        QVERIFY(told("oar_orm.png", three()).isEmpty());
        QVERIFY(told("oar_MetalRough.png", three()).isEmpty());
        QVERIFY(told("oar_stain.png", waves()).isEmpty());  // nothing is said of it
    }
    void onlyNumbersOfLargePictures() {
        // Looked at in a grid, in every depth, and what is no number counts as 0.
        PixelBuffer p = PixelBuffer::make(1024, 8, 1, Depth::Float);
        for (int y = 0; y < 8; ++y)
            for (int x = 0; x < 1024; ++x) p.row<float>(y)[x] = x < 512 ? 1.0f : std::nanf("");
        const MapContents m = contentsOf(p);
        QCOMPARE(m.mean[0], 0.5);
        QCOMPARE(m.deviation[0], 0.5);
    }
};

QTEST_APPLESS_MAIN(MapContentsTest)
#include "map_contents_test.moc"
