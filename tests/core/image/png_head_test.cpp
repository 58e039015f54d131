// What a PNG says before its pixels, and that plain ones are read without the image library, which takes a
// third of a second to load.
#include "core/image/png_head.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/image/deflate.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

namespace fs = std::filesystem;

std::string numberOf(std::uint32_t n) {
    std::string text;
    for (int shift = 24; shift >= 0; shift -= 8) text += static_cast<char>(n >> shift);
    return text;
}
std::string chunk(const std::string& type, const std::string& data) {
    const std::string named = type + data;
    return numberOf(static_cast<std::uint32_t>(data.size())) + named +
           numberOf(crc32(0, named.data(), named.size()));
}
/// A head of these bits, colour type and interlacing, with chunks behind it.
std::string png(char bits, char colours, char interlaced, const std::string& chunks) {
    return "\x89PNG\r\n\x1a\n" +
           chunk("IHDR", numberOf(7) + numberOf(5) + bits + colours + std::string(2, '\0') + interlaced) +
           chunks + chunk("IDAT", "");
}

bool isLoaded(const char* name) {
    const auto maps = [] {
        std::ifstream in("/proc/self/maps");
        return std::string(std::istreambuf_iterator<char>(in), {});
    }();
    return maps.find(name) != std::string::npos;
}

}  // namespace

class PngHeadTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    fs::path at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)).toStdString(); }
    std::optional<PngHead> headOf(const std::string& bytes) {
        std::ofstream(at("head.png"), std::ios::binary) << bytes;
        return pngHeadOf(at("head.png"));
    }

private Q_SLOTS:
    /// First, before anything else has loaded it.
    void plainOnesNeedNoLibrary() {
        QVERIFY(writePicture(at("plain.png"), 9, 4, 3, [](int x, int y, int c) { return 10 * x + y + c; }));
        QVERIFY(!isLoaded("libOpenImageIO"));
        const auto info = inspectImage(at("plain.png"));
        QVERIFY(info && info->width == 9 && info->height == 4 && info->channels == 3);
        const auto pixels = readImage(at("plain.png"));
        QVERIFY(pixels);
        QCOMPARE(static_cast<int>(pixels->row<std::uint8_t>(3)[8 * 3 + 2]), 85);
        QVERIFY(!isLoaded("libOpenImageIO"));
        // Others are read all the same, by the library.
        PixelBuffer light = PixelBuffer::make(2, 2, 1, Depth::Float);
        for (int i = 0; i < 4; ++i) light.row<float>(0)[i] = 0.25f * static_cast<float>(i);
        QVERIFY(writeImage(at("light.exr"), light, FileFormat::ExrFloat, ""));
        const auto back = readImage(at("light.exr"));
        QVERIFY(back);
        QCOMPARE(back->row<float>(1)[1], 0.75f);
        QVERIFY(isLoaded("libOpenImageIO"));
    }

    void headsAreUnderstood() {
        const auto grey = headOf(png(16, 0, 0, ""));
        QVERIFY(grey && grey->isPlain && grey->width == 7 && grey->height == 5);
        QVERIFY(grey->channels == 1 && grey->depth == Depth::U16);
        const int channels[] = {1, 0, 3, 0, 2, 0, 4};
        for (const char type : {'\0', '\2', '\4', '\6'})
            QCOMPARE(headOf(png(8, type, 0, ""))->channels, channels[static_cast<std::size_t>(type)]);
        const auto told =
            headOf(png(8, 2, 0, chunk("sRGB", std::string(1, '\0')) + chunk("gAMA", numberOf(45455))));
        QVERIFY(told->srgb && told->isPlain);
        QCOMPARE(*told->gamma, 0.45455);
        std::string corners;
        for (const std::uint32_t n : {31270u, 32900u, 64000u, 33000u, 30000u, 60000u, 15000u, 6000u})
            corners += numberOf(n);
        const auto primaries = headOf(png(8, 2, 0, chunk("cHRM", corners)))->primaries;
        QVERIFY(primaries);
        QCOMPARE((*primaries)[0], 0.64);
        QCOMPARE((*primaries)[7], 0.329);
        const auto codes = headOf(png(8, 2, 0, chunk("cICP", std::string("\x0C\x0D\x00\x01", 4))))->codes;
        QVERIFY(codes && (*codes)[0] == 12 && (*codes)[1] == 13);
    }

    void whatIsNotPlainIsLeftToTheLibrary() {
        QVERIFY(!headOf(png(8, 2, 1, ""))->isPlain);  // interlaced
        QVERIFY(!headOf(png(4, 0, 0, ""))->isPlain);  // four bits
        QVERIFY(!headOf(png(8, 3, 0, chunk("PLTE", std::string(6, 'x'))))->isPlain);
        for (const char* type : {"tRNS", "iCCP", "eXIf", "PLTE"})
            QVERIFY2(!headOf(png(8, 2, 0, chunk(type, std::string(6, 'x'))))->isPlain, type);
        // What ends before its pixels, begins otherwise, or is none at all.
        const std::string whole = png(8, 2, 0, "");
        for (const std::size_t size : {0u, 7u, 8u, 20u, 33u, 40u}) QVERIFY(!headOf(whole.substr(0, size)));
        QVERIFY(!headOf("\x89PNG\r\n\x1a\n" + chunk("sRGB", "x") + chunk("IDAT", "")));
        QVERIFY(!headOf("GIF89a and so on, for a good while"));
        QVERIFY(!pngHeadOf(at("gone.png")));
        // A chunk that names more bytes than there are.
        QVERIFY(!headOf(whole.substr(0, 33) + numberOf(0x7FFFFFFF) + "teXt"));
    }
};

QTEST_GUILESS_MAIN(PngHeadTest)
#include "png_head_test.moc"
