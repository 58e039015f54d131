// The quick way into PNG: files made here byte by byte, by the standard's own words for each filter, come
// back as they were; whatever is not plain, or broken, is left to the image library.
#include <zlib.h>

#include <QtTest>
#include <random>

#include "core/image/decode_png.h"

using namespace kettle;

namespace {

using Byte = std::uint8_t;

std::string bigEndian(std::uint32_t v) {
    return {static_cast<char>(v >> 24), static_cast<char>(v >> 16), static_cast<char>(v >> 8),
            static_cast<char>(v)};
}

std::string chunk(const std::string& name, const std::string& data) {
    const std::string body = name + data;
    const auto crc = ::crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size()));
    return bigEndian(static_cast<std::uint32_t>(data.size())) + body +
           bigEndian(static_cast<std::uint32_t>(crc));
}

std::string deflated(const std::string& bytes) {
    uLongf size = compressBound(static_cast<uLong>(bytes.size()));
    std::string out(size, '\0');
    compress(reinterpret_cast<Bytef*>(out.data()), &size, reinterpret_cast<const Bytef*>(bytes.data()),
             static_cast<uLong>(bytes.size()));
    out.resize(size);
    return out;
}

struct Form {
    int width = 7, height = 10, channels = 3, bits = 8;
    int type() const { return channels == 1 ? 0 : channels == 2 ? 4 : channels == 3 ? 2 : 6; }
    std::size_t pixel() const { return static_cast<std::size_t>(channels * bits / 8); }
    std::size_t row() const { return pixel() * static_cast<std::size_t>(width); }
    std::string header(int interlace = 0) const {
        return chunk("IHDR", bigEndian(static_cast<std::uint32_t>(width)) +
                                 bigEndian(static_cast<std::uint32_t>(height)) + static_cast<char>(bits) +
                                 static_cast<char>(type()) + std::string(2, '\0') +
                                 static_cast<char>(interlace));
    }
};

/// ISO/IEC 15948, 9.2: the predictor of a byte from the ones left (a), above (b) and left above (c).
int predicted(int filter, int a, int b, int c) {
    if (filter == 1) return a;
    if (filter == 2) return b;
    if (filter == 3) return (a + b) / 2;
    if (filter != 4) return 0;
    const int p = a + b - c, pa = std::abs(p - a), pb = std::abs(p - b), pc = std::abs(p - c);
    if (pa <= pb && pa <= pc) return a;
    return pb <= pc ? b : c;
}

/// Rows as they are compressed: filters 0 to 4 in turn.
std::string filtered(const Form& form, const std::vector<Byte>& bytes) {
    std::string out;
    for (int y = 0; y < form.height; ++y) {
        const int filter = y % 5;
        out += static_cast<char>(filter);
        for (std::size_t i = 0; i < form.row(); ++i) {
            const auto at = [&](int dy, bool left) -> int {
                if (y - dy < 0 || (left && i < form.pixel())) return 0;
                return bytes[static_cast<std::size_t>(y - dy) * form.row() + i - (left ? form.pixel() : 0)];
            };
            out +=
                static_cast<char>(at(0, false) - predicted(filter, at(0, true), at(1, false), at(1, true)));
        }
    }
    return out;
}

const std::string kSignature("\x89PNG\r\n\x1a\n", 8);

PixelBuffer bufferOf(const Form& form) {
    return PixelBuffer::make(form.width, form.height, form.channels, form.bits == 8 ? Depth::U8 : Depth::U16);
}

bool opens(const std::string& file, const Form& form = {}) {
    PixelBuffer pixels = bufferOf(form);
    return decodePlainPng(file, pixels);
}

}  // namespace

class DecodePngTest final : public QObject {
    Q_OBJECT

    Form m_form;
    std::string m_rows = filtered(m_form, std::vector<Byte>(m_form.row() * 10, 77));
    std::string m_end = chunk("IEND", "");

private Q_SLOTS:
    void everyFilterInEveryForm() {
        std::mt19937 random(7);
        for (const int bits : {8, 16})
            for (const int channels : {1, 2, 3, 4}) {
                const Form form{7, 10, channels, bits};
                std::vector<Byte> bytes(form.row() * static_cast<std::size_t>(form.height));
                for (Byte& b : bytes) b = static_cast<Byte>(random());
                const std::string rows = deflated(filtered(form, bytes));
                // In three pieces, one of them empty, among chunks that say nothing of the pixels.
                const std::string file = kSignature + form.header() + chunk("tEXt", "Title") +
                                         chunk("IDAT", rows.substr(0, 20)) + chunk("IDAT", "") +
                                         chunk("IDAT", rows.substr(20)) + m_end;
                PixelBuffer pixels = bufferOf(form);
                QVERIFY(decodePlainPng(file, pixels));
                for (int y = 0; y < form.height; ++y)
                    for (int i = 0; i < form.width * channels; ++i) {
                        const Byte* stored = bytes.data() + static_cast<std::size_t>(y) * form.row() +
                                             static_cast<std::size_t>(i * bits / 8);
                        const int wanted = bits == 8 ? stored[0] : stored[0] << 8 | stored[1];
                        const int got =
                            bits == 8 ? pixels.row<std::uint8_t>(y)[i] : pixels.row<std::uint16_t>(y)[i];
                        QCOMPARE(got, wanted);
                    }
            }
    }
    void whatIsNotPlainIsLeftToTheLibrary() {
        const std::string rows = chunk("IDAT", deflated(m_rows));
        QVERIFY(opens(kSignature + m_form.header() + rows + m_end));
        QVERIFY(!opens(kSignature + m_form.header(1) + rows + m_end));  // interlaced
        QVERIFY(!opens(kSignature + m_form.header() + chunk("tRNS", std::string(6, '\0')) + rows + m_end));
        QVERIFY(!opens(kSignature + m_form.header() + chunk("PLTE", "abc") + rows + m_end));
        QVERIFY(!opens(kSignature + Form{7, 10, 3, 16}.header() + rows + m_end));  // not what was asked for
        QVERIFY(!opens(kSignature + Form{7, 11, 3, 8}.header() + rows + m_end));
    }
    void whatIsBrokenIsLeftToTheLibrary() {
        const std::string rows = chunk("IDAT", deflated(m_rows));
        const std::string whole = kSignature + m_form.header() + rows + m_end;
        for (std::size_t length = 0; length < whole.size(); ++length)
            QVERIFY(!opens(whole.substr(0, length)));
        // Any one byte wrong: a check number tells, but for the names of chunks that nobody has to know.
        for (std::size_t at = 0; at < whole.size(); ++at) {
            std::string wrong = whole;
            wrong[at] = static_cast<char>(wrong[at] ^ 0x41);
            QVERIFY2(!opens(wrong), std::to_string(at).c_str());
        }
        std::string other = m_rows;
        other[0] = 5;  // there is no such filter
        QVERIFY(!opens(kSignature + m_form.header() + chunk("IDAT", deflated(other)) + m_end));
        for (const std::string& size : {m_rows + "x", m_rows.substr(1)})
            QVERIFY(!opens(kSignature + m_form.header() + chunk("IDAT", deflated(size)) + m_end));
        QVERIFY(!opens(kSignature + chunk("IHDR", "short") + rows + m_end));
        QVERIFY(!opens(kSignature + m_form.header() + m_end));
    }
};

QTEST_APPLESS_MAIN(DecodePngTest)
#include "decode_png_test.moc"
