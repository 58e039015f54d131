// PNG (ISO/IEC 15948): a few chunks around one zlib stream, whose strips are filtered and compressed on all
// cores. Reading is left to the image library.
#include <array>
#include <bit>
#include <cstring>
#include <initializer_list>
#include <string>
#include <string_view>

#include "core/colour/encoding.h"
#include "core/image/deflate.h"
#include "core/image/encode.h"
#include "core/image/paeth.h"
#include "core/image/png_chunks.h"

namespace kettle {
namespace {

void putNumber(std::string& out, std::uint32_t n) {
    for (int shift = 24; shift >= 0; shift -= 8) out.push_back(static_cast<char>(n >> shift));
}

void putChunk(std::string& out, std::string_view type, std::string_view data) {
    putNumber(out, static_cast<std::uint32_t>(data.size()));
    out += type;
    out += data;
    putNumber(out, crc32(crc32(0, type.data(), type.size()), data.data(), data.size()));
}

/// Filters of ISO/IEC 15948, 9.2: what a row is compared with. `before`: the row above, null at the top.
enum Filter : std::uint8_t { None, Left, Up, Paeth };
constexpr std::array<std::uint8_t, 4> kFilterNumbers{0, 1, 2, 4};

void filterRow(Filter filter, const std::uint8_t* row, const std::uint8_t* before, std::size_t bytes,
               std::size_t pixel, std::uint8_t* out) {
    *out++ = kFilterNumbers[filter];
    const auto minus = [](int a, int b) { return static_cast<std::uint8_t>(a - b); };
    if (filter == None || (filter == Up && before == nullptr)) {
        std::memcpy(out, row, bytes);
    } else if (filter == Up) {
        for (std::size_t i = 0; i < bytes; ++i) out[i] = minus(row[i], before[i]);
    } else if (filter == Left || before == nullptr) {
        // Beside the picture is 0; without a row above, Paeth's choice is the left one.
        std::memcpy(out, row, std::min(pixel, bytes));
        for (std::size_t i = pixel; i < bytes; ++i) out[i] = minus(row[i], row[i - pixel]);
    } else {
        for (std::size_t i = 0; i < std::min(pixel, bytes); ++i) out[i] = minus(row[i], before[i]);
        for (std::size_t i = pixel; i < bytes; ++i)
            out[i] = minus(row[i], paeth(row[i - pixel], before[i], before[i - pixel]));
    }
}

/// Rows as PNG stores them: 16-bit numbers with the high byte first.
class Rows {
public:
    explicit Rows(const PixelBuffer& pixels) : m_pixels(pixels), m_swap(pixels.depth == Depth::U16) {}
    std::size_t bytes() const { return m_pixels.rowBytes(); }
    const std::uint8_t* row(int y, Bytes& room) const {
        const auto* stored = m_pixels.row<std::uint8_t>(y);
        if (!m_swap || std::endian::native == std::endian::big) return stored;
        room.resize(bytes());
        for (std::size_t i = 0; i < room.size(); i += 2) room[i] = stored[i + 1], room[i + 1] = stored[i];
        return room.data();
    }
    Bytes filtered(Filter filter, int first, int last) const {
        const std::size_t pixel = bytes() / static_cast<std::size_t>(m_pixels.width);
        Bytes out((bytes() + 1) * static_cast<std::size_t>(last - first));
        Bytes rooms[2];
        const std::uint8_t* before = first > 0 ? row(first - 1, rooms[(first + 1) & 1]) : nullptr;
        std::uint8_t* to = out.data();
        for (int y = first; y < last; ++y, to += bytes() + 1) {
            const std::uint8_t* const here = row(y, rooms[y & 1]);
            filterRow(filter, here, before, bytes(), pixel, to);
            before = here;
        }
        return out;
    }

private:
    const PixelBuffer& m_pixels;
    bool m_swap;
};

/// The filter that makes some of the rows smallest. Tried, since the usual guess by sums of differences
/// misses what repeats: on the demo's maps it was 3 to 30 % larger.
Filter bestFilter(const Rows& rows, int first, int last, int level) {
    constexpr int kSample = 4;
    const int middle = (first + last) / 2, from = std::max(first, middle - kSample / 2),
              to = std::min(last, from + kSample);
    Filter best = None;
    std::size_t smallest = SIZE_MAX;
    for (const Filter f : {Left, Up, Paeth, None})
        if (const std::size_t size = deflatedSize(rows.filtered(f, from, to), level); size < smallest)
            smallest = size, best = f;
    return best;
}

/// What a PNG says of its colours. Sources: PNG (ISO/IEC 15948) 11.3.3; ITU-T H.273 for the code points;
/// SMPTE S-2014-004 for ACEScg's primaries.
void putColours(std::string& out, const std::string& tag) {
    const auto putNumbers = [&](const char* type, std::initializer_list<std::uint32_t> numbers) {
        std::string data;
        for (const std::uint32_t n : numbers) putNumber(data, n);
        putChunk(out, type, data);
    };
    if (tag == encoding::kSrgb) putChunk(out, png_chunk::kSrgb, std::string(1, '\0'));
    if (tag == encoding::kDisplayP3)
        putChunk(out, png_chunk::kCodePoints, std::string("\x0C\x0D\x00\x01", 4));
    if (tag == encoding::kLinear || tag == encoding::kAcescg) putNumbers(png_chunk::kGamma, {100000});
    if (tag == encoding::kAcescg)
        putNumbers(png_chunk::kPrimaries, {32168, 33767, 71300, 29300, 16500, 83000, 12800, 4400});
}

}  // namespace

std::string encodePng(const PixelBuffer& pixels, Compression compression, const std::string& tag) {
    constexpr std::array<char, 4> kColourTypes{0, 4, 2, 6};  // grey, grey and alpha, RGB, RGB and alpha
    const Rows rows(pixels);
    const int level = compression == Compression::Small ? 9 : compression == Compression::None ? 0 : 1;
    // Strips of about 3 MB: enough of them for all cores, and the compressor begins anew seldom.
    constexpr std::size_t kStripBytes = std::size_t{3} << 20;
    const int rowsPerStrip = static_cast<int>(std::max<std::size_t>(1, kStripBytes / (rows.bytes() + 1)));
    StripJob job;
    job.count = static_cast<std::size_t>((pixels.height + rowsPerStrip - 1) / rowsPerStrip);
    job.level = level;
    job.fill = [&](std::size_t strip) {
        const int first = static_cast<int>(strip) * rowsPerStrip,
                  last = std::min(pixels.height, first + rowsPerStrip);
        return rows.filtered(level == 0 ? None : bestFilter(rows, first, last, level), first, last);
    };
    const std::vector<Bytes> strips = joinedStrips(job);

    std::string out;
    std::size_t size = 200;
    for (const Bytes& s : strips) size += s.size() + 12;
    out.reserve(size);
    out += "\x89PNG\r\n\x1a\n";
    std::string header;
    putNumber(header, static_cast<std::uint32_t>(pixels.width));
    putNumber(header, static_cast<std::uint32_t>(pixels.height));
    header += pixels.depth == Depth::U16 ? '\x10' : '\x08';
    header += kColourTypes[static_cast<std::size_t>(pixels.channels - 1)];
    header += std::string(3, '\0');  // deflate, the five filters, not interlaced
    putChunk(out, png_chunk::kHeader, header);
    putColours(out, tag);
    for (const Bytes& s : strips)
        putChunk(out, png_chunk::kPixels, {reinterpret_cast<const char*>(s.data()), s.size()});
    putChunk(out, png_chunk::kEnd, {});
    return out;
}

}  // namespace kettle
