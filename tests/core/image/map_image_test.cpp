#include "core/image/map_image.h"

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>

#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/image/image_store.h"
#include "core/threads/parallel.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

float lookUp(const MapImage& map, float u, float v, unsigned component = 0, float footprint = 0) {
    float result = -1;
    float* out[4] = {&result, &result, &result, &result};
    map.sample({&u, &v, &footprint, 1}, 1u << component, out);
    return result;
}

}  // namespace

class MapImageTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    ColourManagement m_colours = ColourManagement::shipped();
    std::filesystem::path path() const { return m_folder.path().toStdString(); }
    std::shared_ptr<const MapImage> load(const char* name, const char* encoding = encoding::kRaw) {
        auto map = MapImage::load(path() / name, encoding, m_colours);
        return map ? *map : nullptr;
    }

private Q_SLOTS:
    void everyFormatComesBackAsItWasWritten_data() {
        QTest::addColumn<QString>("format");
        QTest::addColumn<double>("tolerance");
        QTest::newRow("png8") << QStringLiteral("png8") << 0.5 / 255;
        QTest::newRow("png16") << QStringLiteral("png16") << 0.5 / 65535;
        QTest::newRow("tiff16") << QStringLiteral("tiff16") << 0.5 / 65535;
        QTest::newRow("exr-half") << QStringLiteral("exr-half") << 0.0005;
        QTest::newRow("exr-float") << QStringLiteral("exr-float") << 0.0;
        QTest::newRow("jpeg") << QStringLiteral("jpeg") << 0.02;
    }
    void everyFormatComesBackAsItWasWritten() {
        QFETCH(QString, format);
        QFETCH(double, tolerance);
        FileFormat f{};
        QVERIFY(fileFormatOf(format.toStdString(), f));
        PixelBuffer p = PixelBuffer::make(16, 8, 3, storageOf(f));
        const auto value = [](int i) { return static_cast<float>(i) / 400; };
        for (int i = 0; i < 16 * 8 * 3; ++i) {
            if (p.depth == Depth::U8) reinterpret_cast<std::uint8_t*>(p.bytes.data())[i] = toByte(value(i));
            if (p.depth == Depth::U16)
                reinterpret_cast<std::uint16_t*>(p.bytes.data())[i] =
                    static_cast<std::uint16_t>(value(i) * 65535 + 0.5f);
            if (p.depth == Depth::Float) reinterpret_cast<float*>(p.bytes.data())[i] = value(i);
        }
        const auto file = path() / ("round" + std::string(extensionOf(f)));
        QVERIFY(writeImage(file, p, f, "").has_value());
        const auto back = readImage(file);
        QVERIFY(back.has_value());
        QCOMPARE(back->width, 16);
        for (int i = 0; i < 16 * 8 * 3; ++i) {
            const float read =
                back->depth == Depth::U8    ? static_cast<float>(back->row<std::uint8_t>(0)[i]) / 255
                : back->depth == Depth::U16 ? static_cast<float>(back->row<std::uint16_t>(0)[i]) / 65535
                                            : back->row<float>(0)[i];
            QVERIFY(std::fabs(static_cast<double>(read - value(i))) <= tolerance + 1e-6);
        }
    }
    void badFilesAreSentences() {
        std::ofstream(path() / "words.png") << "this is no picture";
        const auto words = readImage(path() / "words.png");
        QVERIFY(!words && words.error().kind == ErrorKind::Unreadable);
        QVERIFY(QString::fromStdString(words.error().sentence)
                    .contains(QStringLiteral("words.png: it is not a picture this program knows.")));

        QVERIFY(writePicture(path() / "whole.png", 64, 64, 3, [](int x, int y, int c) {
                    return (x * y * (c + 3)) % 251;
                }).has_value());
        const std::string bytes = *readFile(path() / "whole.png");
        std::ofstream(path() / "cut.png", std::ios::binary) << bytes.substr(0, bytes.size() / 2);
        const auto cut = readImage(path() / "cut.png");
        QVERIFY(!cut);
        QVERIFY(QString::fromStdString(cut.error().sentence)
                    .contains(QStringLiteral(
                        "cut.png: it is damaged or ends too early. Copy or export it again.")));

        QCOMPARE(readImage(path() / "none.png").error().kind, ErrorKind::Missing);
        QVERIFY(!inspectImage(path() / "words.png"));
        std::ofstream(path() / "empty.exr").close();
        QVERIFY(!readImage(path() / "empty.exr"));
    }
    void writingNeverLeavesAHalf() {
        PixelBuffer p = PixelBuffer::make(4, 4, 1, Depth::U8);
        QVERIFY(!writeImage("/nowhere/x.png", p, FileFormat::Png8, ""));
        QVERIFY(writeImage(path() / "a.png", p, FileFormat::Png8, "").has_value());
        for (const auto& entry : std::filesystem::directory_iterator(path()))
            QVERIFY(entry.path().string().find(".part") == std::string::npos);
    }
    void aBufferTakesAnotherFormAndKeepsItsMemory() {
        PixelBuffer p = PixelBuffer::make(16, 8, 3, Depth::U16);
        const std::byte* memory = p.bytes.data();
        p.reshape(16, 8, 1, Depth::U8);
        QCOMPARE(p.bytes.size(), std::size_t{16 * 8});
        QCOMPARE(p.rowBytes(), std::size_t{16});
        QCOMPARE(p.bytes.data(), memory);
        p.reshape(4, 4, 3, Depth::U16);
        QCOMPARE(p.bytes.data(), memory);
        p.reshape(64, 64, 3, Depth::Float);
        QCOMPARE(p.bytes.size(), std::size_t{64 * 64 * 3 * 4});
        QCOMPARE(p.row<float>(1) - p.row<float>(0), std::ptrdiff_t{64 * 3});
    }
    void lookupsMeetPixelCentresAndMeansBetween() {
        QVERIFY(
            writePicture(path() / "two.png", 2, 1, 1, [](int x, int, int) { return x * 255; }).has_value());
        const auto map = load("two.png");
        QCOMPARE(lookUp(*map, 0.25f, 0.5f), 0.0f);
        QCOMPARE(lookUp(*map, 0.75f, 0.5f), 1.0f);
        QCOMPARE(lookUp(*map, 0.5f, 0.5f), 0.5f);
        QCOMPARE(lookUp(*map, 0.0f, 0.5f), 0.5f);    // it repeats: half from the other end
        QCOMPARE(lookUp(*map, 7.25f, -3.5f), 0.0f);  // anywhere on the plane
    }
    void theTopRowIsAtTheTop() {
        QVERIFY(
            writePicture(path() / "rows.png", 4, 4, 1, [](int, int y, int) { return y * 60; }).has_value());
        QVERIFY(std::fabs(lookUp(*load("rows.png"), 0.5f, 0.875f) - 0.0f) < 1e-6f);
        QVERIFY(std::fabs(lookUp(*load("rows.png"), 0.5f, 0.125f) - 180.0f / 255) < 1e-6f);
    }
    void greyAndAlphaAreFilledIn() {
        QVERIFY(writePicture(path() / "rgba.png", 2, 2, 4, [](int, int, int c) {
                    return c == 3 ? 51 : 255;
                }).has_value());
        QVERIFY(std::fabs(lookUp(*load("rgba.png"), 0.5f, 0.5f, 3) - 0.2f) < 1e-6f);
        QCOMPARE(lookUp(*load("rgba.png"), 0.5f, 0.5f, 1), 1.0f);
        QVERIFY(writePicture(path() / "grey.png", 2, 2, 1, [](int, int, int) { return 102; }).has_value());
        for (const unsigned c : {0u, 1u, 2u})
            QVERIFY(std::fabs(lookUp(*load("grey.png"), 0.5f, 0.5f, c) - 0.4f) < 1e-6f);
        QCOMPARE(lookUp(*load("grey.png"), 0.5f, 0.5f, 3), 1.0f);
    }
    void srgbIsDecodedBeforeItIsMixed() {
        QVERIFY(
            writePicture(path() / "bw.png", 2, 2, 3, [](int x, int, int) { return x * 255; }).has_value());
        QCOMPARE(lookUp(*load("bw.png", encoding::kSrgb), 0.5f, 0.5f), 0.5f);
        // From far away the whole map is half the light, whose code is 188 and not 128.
        QVERIFY(std::fabs(lookUp(*load("bw.png", encoding::kSrgb), 0.3f, 0.3f, 0, 10) - 0.5f) < 0.004f);
    }
    void otherSpacesGoThroughTheConfiguration() {
        QVERIFY(writePicture(path() / "g.png", 2, 2, 3, [](int, int, int) { return 128; }).has_value());
        QVERIFY(std::fabs(lookUp(*load("g.png", "gamma 2.2"), 0.5f, 0.5f) - std::pow(128 / 255.0f, 2.2f)) <
                1e-4f);
        QVERIFY(!MapImage::load(path() / "g.png", "sepia", m_colours));
    }
    void udimTilesAreOneMap() {
        for (const int tile : {1001, 1003})
            QVERIFY(
                writePicture(path() / ("t." + std::to_string(tile) + ".png"), 4, 4, 1, [&](int, int, int) {
                    return tile == 1001 ? 51 : 204;
                }).has_value());
        const auto map = load("t.<UDIM>.png");
        QVERIFY(map && map->isTiled());
        QCOMPARE(map->tiles(), (std::vector<int>{1001, 1003}));
        QVERIFY(std::fabs(lookUp(*map, 0.99f, 0.5f) - 0.2f) < 1e-6f);  // ends at its edge, does not repeat
        QVERIFY(std::fabs(lookUp(*map, 2.5f, 0.5f) - 0.8f) < 1e-6f);
        QCOMPARE(lookUp(*map, 1.5f, 0.5f), 0.0f);  // a tile that is not there
        QVERIFY(!MapImage::load(path() / "none.<UDIM>.png", "raw", m_colours));
    }
    void levelsAreBlendedByTheFootprint() {
        // Columns of white and black: sharp in level 0, mid grey in level 1; in between by the footprint's
        // logarithm.
        QVERIFY(writePicture(path() / "columns.png", 8, 8, 1, [](int x, int, int) {
                    return x % 2 == 0 ? 255 : 0;
                }).has_value());
        const auto map = load("columns.png");
        QVERIFY(map != nullptr);
        const float grey = 128 / 255.0f;  // the rounded mean of two codes
        for (const float lod : {0.0f, 0.25f, 0.5f, 0.75f, 1.0f}) {
            const float got = lookUp(*map, 0.5f / 8, 0.5f / 8, 0, std::exp2(lod) / 8);
            QVERIFY2(std::fabs(got - (1 + (grey - 1) * lod)) < 2e-3f, std::to_string(got).c_str());
        }
    }
    void aTileEndsAtItsEdgesAndAPlainMapGoesOn() {
        // White at its left edge, black at its right and top to bottom alike: what repeats mixes both at its
        // edges.
        for (const char* name : {"edge.1001.png", "edge.png"})
            QVERIFY(writePicture(path() / name, 4, 4, 1, [](int x, int, int) {
                        return x == 0 ? 255 : 0;
                    }).has_value());
        const auto tiled = load("edge.<UDIM>.png"), plain = load("edge.png");
        QVERIFY(tiled && plain);
        QVERIFY(std::fabs(lookUp(*tiled, 0.0f, 0.5f) - 1) < 1e-6f);
        QVERIFY(std::fabs(lookUp(*tiled, 0.9999f, 0.5f)) < 1e-6f);
        QVERIFY(std::fabs(lookUp(*plain, 0.0f, 0.5f) - 0.5f) < 1e-6f);
        QVERIFY(std::fabs(lookUp(*plain, 0.9999f, 0.5f) - 0.5f) < 1e-3f);
    }
    void automaticEncodingFollowsContentAndDepth() {
        const ImageInfo eight{4, 4, 3, Depth::U8, {}}, sixteen{4, 4, 3, Depth::U16, {}},
            half{4, 4, 3, Depth::Half, {}}, tagged{4, 4, 3, Depth::U8, encoding::kLinear};
        QCOMPARE(automaticEncoding(true, eight), std::string("sRGB"));
        QCOMPARE(automaticEncoding(true, sixteen), std::string("sRGB"));
        QCOMPARE(automaticEncoding(true, half), std::string("linear Rec.709"));
        QCOMPARE(automaticEncoding(true, tagged), std::string("linear Rec.709"));
        QCOMPARE(automaticEncoding(true, eight), std::string("sRGB"));
        QCOMPARE(automaticEncoding(false, tagged), std::string("raw"));
    }
    void theStoreKeepsWithinItsBoundsAndSeesChanges() {
        for (int i = 0; i < 6; ++i)
            QVERIFY(writePicture(path() / ("s" + std::to_string(i) + ".png"), 64, 64, 1, [i](int, int, int) {
                        return i * 40;
                    }).has_value());
        ImageStore store(3 * 64 * 64 * 4 / 3);
        for (int i = 0; i < 6; ++i)
            QVERIFY(store.get(path() / ("s" + std::to_string(i) + ".png"), "raw", m_colours).has_value());
        QVERIFY(store.bytesInUse() <= 3 * 64 * 64 * 4 / 3);
        const auto first = *store.get(path() / "s5.png", "raw", m_colours);
        QCOMPARE(store.get(path() / "s5.png", "raw", m_colours)->get(), first.get());
        QVERIFY(writePicture(path() / "s5.png", 32, 32, 1, [](int, int, int) { return 255; }).has_value());
        QCOMPARE((*store.get(path() / "s5.png", "raw", m_colours))->width(), 32);
        QVERIFY(!store.get(path() / "missing.png", "raw", m_colours));
    }
    void outsideTheRowsOfTenIsNothing() {
        for (const int tile : {1001, 1010, 1011})
            QVERIFY(writePicture(path() / ("row." + std::to_string(tile) + ".png"), 2, 2, 1,
                                 [tile](int, int, int) { return tile - 1000; })
                        .has_value());
        const auto map = load("row.<UDIM>.png");
        QCOMPARE(map->tiles(), (std::vector<int>{1001, 1010, 1011}));
        const auto at = [&](float u, float v) { return std::lround(lookUp(*map, u, v) * 255); };
        QCOMPARE(at(0.5f, 0.5f), 1L);
        QCOMPARE(at(9.5f, 0.5f), 10L);
        QCOMPARE(at(0.5f, 1.5f), 11L);
        QCOMPARE(at(10.5f, 0.5f), 0L);  // not 1011
        QCOMPARE(at(-0.5f, 1.5f), 0L);  // not 1010
        QCOMPARE(at(1e20f, 0.5f), 0L);
        QCOMPARE(at(0.5f, -0.5f), 0L);
        QCOMPARE(at(std::nanf(""), 0.5f), 0L);
    }
    void askedTwiceAtOnceAMapIsReadOnce() {
        QVERIFY(
            writePicture(path() / "once.png", 512, 512, 3, [](int x, int y, int c) { return x ^ y ^ c; }));
        ImageStore store;
        std::vector<std::shared_ptr<const MapImage>> got(8);
        parallelFor(got.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i)
                got[i] = *store.get(path() / "once.png", encoding::kRaw, m_colours);
        });
        for (const auto& map : got) QCOMPARE(map.get(), got[0].get());
        QCOMPARE(store.bytesInUse(), got[0]->byteSize());
    }
};

QTEST_APPLESS_MAIN(MapImageTest)
#include "map_image_test.moc"
