// Writing pictures: what is in the files, read back by other readers than our own.
#include "core/image/encode.h"

#include <OpenImageIO/imageio.h>
#include <libdeflate.h>
#include <zlib.h>

#include <QBuffer>
#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/colour/encoding.h"
#include "core/image/deflate.h"

using namespace kettle;

namespace {

/// A picture with smooth parts, noise and repeats, so that every filter has its rows.
PixelBuffer picture(int width, int height, int channels, Depth depth) {
    PixelBuffer p = PixelBuffer::make(width, height, channels, depth);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (int c = 0; c < channels; ++c) {
                const std::uint64_t noise = mixBits(static_cast<std::uint64_t>((y * width + x) * 4 + c));
                const auto v = static_cast<unsigned>(y < height / 3       ? (x + y + 40 * c) * 97
                                                     : y < 2 * height / 3 ? static_cast<int>(noise & 0xFFFF)
                                                                          : (x / 8 % 2) * 40000);
                if (depth == Depth::U8)
                    p.row<std::uint8_t>(y)[x * channels + c] = static_cast<std::uint8_t>(v >> 8);
                else if (depth == Depth::U16)
                    p.row<std::uint16_t>(y)[x * channels + c] = static_cast<std::uint16_t>(v);
                else
                    p.row<float>(y)[x * channels + c] = static_cast<float>(v & 0xFFFF) / 30000 + 0.01f;
            }
    return p;
}

std::uint32_t numberAt(const std::string& bytes, std::size_t at) {
    std::uint32_t n = 0;
    for (std::size_t i = 0; i < 4; ++i) n = n << 8 | static_cast<unsigned char>(bytes[at + i]);
    return n;
}

struct Chunk {
    std::string type, data;
};

/// The chunks of a PNG; empty if a length or a check number is wrong.
std::vector<Chunk> chunksOf(const std::string& png) {
    std::vector<Chunk> chunks;
    std::size_t at = 8;
    while (at + 12 <= png.size()) {
        const std::size_t size = numberAt(png, at);
        if (at + 12 + size > png.size()) return {};
        const std::string named = png.substr(at + 4, size + 4);
        // zlib's own check number, not the one that the writer uses.
        const uLong crc =
            ::crc32(0, reinterpret_cast<const Bytef*>(named.data()), static_cast<uInt>(named.size()));
        if (crc != numberAt(png, at + 8 + size)) return {};
        chunks.push_back({named.substr(0, 4), named.substr(4)});
        at += 12 + size;
    }
    return at == png.size() ? chunks : std::vector<Chunk>{};
}

}  // namespace

class EncodeTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path at(const std::string& name) const {
        return std::filesystem::path(m_folder.path().toStdString()) / name;
    }

private Q_SLOTS:
    void stripsJoinToOneStream_data() {
        QTest::addColumn<int>("level");
        QTest::addColumn<int>("kind");
        for (const int level : {0, 1, 6, 9})
            for (const int kind : {0, 1, 2, 3})
                QTest::addRow("level %d, bytes of kind %d", level, kind) << level << kind;
    }
    void stripsJoinToOneStream() {
        QFETCH(int, level);
        QFETCH(int, kind);
        // From a strip of one byte to strips of many blocks: plain, noise, text, halves of both.
        const std::array<std::size_t, 6> sizes{1, 70000, 3, 900000, 17, 300001};
        Bytes whole;
        std::vector<Bytes> raw;
        for (std::size_t s = 0; s < sizes.size(); ++s) {
            Bytes bytes(sizes[s]);
            for (std::size_t i = 0; i < bytes.size(); ++i) {
                const auto noise = static_cast<std::uint8_t>(mixBits(i + s));
                bytes[i] = kind == 0              ? 0
                           : kind == 1            ? noise
                           : kind == 2            ? static_cast<std::uint8_t>("ferry kettle "[i % 13])
                           : i < bytes.size() / 2 ? noise
                                                  : static_cast<std::uint8_t>(i / 1000);
            }
            whole.insert(whole.end(), bytes.begin(), bytes.end());
            raw.push_back(std::move(bytes));
        }
        const auto strips = joinedStrips({raw.size(), [&](std::size_t s) { return raw[s]; }, level});
        Bytes stream;
        for (const Bytes& s : strips) stream.insert(stream.end(), s.begin(), s.end());
        Bytes back(whole.size());
        uLongf size = back.size();
        QCOMPARE(uncompress(back.data(), &size, stream.data(), stream.size()), Z_OK);
        QCOMPARE(size, static_cast<uLongf>(whole.size()));
        QVERIFY(back == whole);
    }
    void pngIsReadAlikeByTwoOthers_data() {
        QTest::addColumn<int>("channels");
        QTest::addColumn<bool>("deep");
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        for (const int channels : {1, 2, 3, 4})
            for (const bool deep : {false, true})
                for (const auto& [w, h] : {std::pair{1, 1}, {7, 3}, {1, 300}, {300, 1}, {1500, 900}})
                    QTest::addRow("%d components, %d bit, %d x %d", channels, deep ? 16 : 8, w, h)
                        << channels << deep << w << h;
    }
    void pngIsReadAlikeByTwoOthers() {
        QFETCH(int, channels);
        QFETCH(bool, deep);
        QFETCH(int, width);
        QFETCH(int, height);
        const PixelBuffer p = picture(width, height, channels, deep ? Depth::U16 : Depth::U8);
        for (const Compression compression : {Compression::Fast, Compression::Small, Compression::None}) {
            const auto bytes = encodeImage(p, deep ? FileFormat::Png16 : FileFormat::Png8, {compression, 95},
                                           encoding::kSrgb, "p.png");
            QVERIFY(bytes.has_value());
            const auto chunks = chunksOf(*bytes);
            QVERIFY(chunks.size() >= 4);
            QCOMPARE(chunks.front().type, std::string("IHDR"));
            QCOMPARE(chunks[1].type, std::string("sRGB"));
            QCOMPARE(chunks.back().type, std::string("IEND"));
            // The image library, number by number.
            QVERIFY(writeFileAtomically(at("p.png"), *bytes));
            auto input = OIIO::ImageInput::open(at("p.png").string());
            QVERIFY(input != nullptr);
            QCOMPARE(input->spec().nchannels, channels);
            PixelBuffer back = PixelBuffer::make(width, height, channels, p.depth);
            OIIO::ImageSpec asIs;
            asIs.attribute("oiio:UnassociatedAlpha", 1);
            input = OIIO::ImageInput::open(at("p.png").string(), &asIs);
            QVERIFY(input->read_image(
                0, 0, 0, channels, deep ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8, back.bytes.data()));
            QVERIFY(back.bytes == p.bytes);
            // Qt's reader, at the corners.
            QImage seen;
            QVERIFY(seen.loadFromData(reinterpret_cast<const uchar*>(bytes->data()),
                                      static_cast<int>(bytes->size()), "PNG"));
            QCOMPARE(seen.size(), QSize(width, height));
            for (const auto& [x, y] :
                 {std::pair{0, 0}, {width - 1, 0}, {width / 2, height / 2}, {width - 1, height - 1}}) {
                const auto stored = [&](int c) {
                    return deep ? p.row<std::uint16_t>(y)[x * channels + c] >> 8
                                : p.row<std::uint8_t>(y)[x * channels + c];
                };
                const QColor colour = seen.pixelColor(x, y);
                if (channels % 2 == 0 && colour.alpha() == 0) continue;  // Qt may drop what is not seen
                QVERIFY(std::abs(colour.red() - stored(0)) <= 1);
                QVERIFY(std::abs(colour.blue() - stored(channels >= 3 ? 2 : 0)) <= 1);
                if (channels % 2 == 0) QVERIFY(std::abs(colour.alpha() - stored(channels - 1)) <= 1);
            }
        }
    }
    void tiffComesBackNumberByNumber() {
        for (const int channels : {1, 2, 3, 4})
            for (const Compression compression : {Compression::Fast, Compression::Small, Compression::None})
                for (const auto& [w, h] : {std::pair{1, 1}, {5, 700}, {1400, 400}}) {
                    const PixelBuffer p = picture(w, h, channels, Depth::U16);
                    QVERIFY(
                        writeImage(at("t.tif"), p, FileFormat::Tiff16, "", {compression, 95}).has_value());
                    const auto back = readImage(at("t.tif"));
                    QVERIFY2(back.has_value(), back ? "" : back.error().detail.c_str());
                    QCOMPARE(back->channels, channels);
                    QVERIFY(back->bytes == p.bytes);
                    auto input = OIIO::ImageInput::open(at("t.tif").string());
                    QCOMPARE(input->spec().nchannels, channels);
                    if (compression == Compression::Fast)
                        QCOMPARE(std::string(input->spec().get_string_attribute("compression")),
                                 std::string("zip"));
                }
    }
    void noiseIsPackedByTheQuickerLevelAndNothingElse() {
        Bytes noise(std::size_t{1} << 20), rows(noise.size());
        for (std::size_t i = 0; i < noise.size(); ++i) {
            noise[i] = static_cast<std::uint8_t>(mixBits(i) & 0x3F);
            // What comes again after a row is found by looking longer.
            rows[i] = static_cast<std::uint8_t>(mixBits(i % 24000) ^ (mixBits(i) % 16 == 0 ? 1 : 0));
        }
        const auto packed = [](const Bytes& strip, int level, int forNoise) {
            return zlibStrips({1, [&](std::size_t) { return strip; }, level, forNoise}).front();
        };
        QVERIFY(packed(noise, 1, 0) != packed(noise, 6, 0));
        QVERIFY(packed(noise, 6, 1) == packed(noise, 1, 0));
        QVERIFY(packed(noise, 6, 1).size() <= packed(noise, 6, 0).size() * 1003 / 1000);
        QVERIFY(packed(rows, 6, 0).size() < packed(rows, 1, 0).size());
        QVERIFY(packed(rows, 6, 1) == packed(rows, 6, 0));
        // And what is too short to tell by a part of it.
        const Bytes brief(noise.begin(), noise.begin() + 100000);
        QVERIFY(packed(brief, 6, 1) == packed(brief, 6, 0));
    }
    void exrKeepsHalvesFloatsAndAlpha() {
        for (const FileFormat format : {FileFormat::ExrHalf, FileFormat::ExrFloat})
            for (const int channels : {1, 2, 3, 4})
                for (const Compression compression :
                     {Compression::Fast, Compression::Small, Compression::None}) {
                    const PixelBuffer p = picture(61, 45, channels, Depth::Float);
                    QVERIFY(writeImage(at("e.exr"), p, format, "", {compression, 95}).has_value());
                    const auto back = readImage(at("e.exr"));
                    QVERIFY(back.has_value());
                    QCOMPARE(back->channels, channels);
                    const float tolerance = format == FileFormat::ExrHalf ? 0.002f : 1e-6f;
                    for (int y = 0; y < 45; ++y)
                        for (int i = 0; i < 61 * channels; ++i) {
                            const float wanted = p.row<float>(y)[i];
                            QVERIFY(std::fabs(back->row<float>(y)[i] - wanted) <= tolerance * (1 + wanted));
                        }
                }
    }
    void jpegSaysWhatItCannotHold() {
        const auto alpha = encodeImage(picture(8, 8, 4, Depth::U8), FileFormat::Jpeg, {}, "", "k.jpg");
        QCOMPARE(alpha.error().sentence,
                 std::string("Cannot write k.jpg: JPEG holds no alpha. Choose PNG, TIFF or EXR."));
        PixelBuffer wide = PixelBuffer::make(65501, 1, 1, Depth::U8);
        std::fill(wide.bytes.begin(), wide.bytes.end(), std::byte{0});
        QVERIFY(encodeImage(wide, FileFormat::Jpeg, {}, "", "k.jpg").error().sentence.find("65500") !=
                std::string::npos);
        const auto small =
            encodeImage(picture(64, 64, 3, Depth::U8), FileFormat::Jpeg, {Compression::Fast, 30}, "", "k");
        const auto large =
            encodeImage(picture(64, 64, 3, Depth::U8), FileFormat::Jpeg, {Compression::Fast, 95}, "", "k");
        QVERIFY(small && large && small->size() * 3 < large->size() * 2);
    }
};

QTEST_GUILESS_MAIN(EncodeTest)
#include "encode_test.moc"
