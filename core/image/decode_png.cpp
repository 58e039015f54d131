#include "core/image/decode_png.h"

#include <libdeflate.h>

#include <array>
#include <bit>
#include <cstring>
#include <memory>
#include <new>

#include "core/image/deflate.h"
#include "core/image/paeth.h"
#include "core/image/png_chunks.h"

namespace kettle {
namespace {

using Byte = std::uint8_t;
using Scratch = std::vector<std::byte, PixelAllocator<std::byte>>;

std::uint32_t bigEndian(const char* at) {
    std::uint32_t value = 0;
    for (int i = 0; i < 4; ++i) value = value << 8 | static_cast<Byte>(at[i]);
    return value;
}

/// What the chunks say; the compressed rows as they lie in the file, or joined if they lie in pieces.
struct Plain {
    std::string_view header, rows;
    std::string joined;
};

/// False where a chunk is broken or makes the picture another than a plain one.
bool takeApart(std::string_view file, Plain& plain) {
    constexpr std::string_view kSignature("\x89PNG\r\n\x1a\n", 8);
    if (!file.starts_with(kSignature)) return false;
    std::size_t at = kSignature.size();
    int pieces = 0;
    while (file.size() - at >= 12) {
        const std::size_t length = bigEndian(file.data() + at);
        if (length > file.size() - at - 12) return false;
        const std::string_view name = file.substr(at + 4, 4), data = file.substr(at + 8, length);
        if (crc32(0, name.data(), length + 4) != bigEndian(data.data() + length)) return false;
        at += length + 12;
        if (name == png_chunk::kHeader) plain.header = data;
        if (name == png_chunk::kPalette || name == png_chunk::kTransparency) return false;
        if (name == png_chunk::kPixels) {
            if (++pieces == 2) plain.joined = plain.rows;
            if (pieces >= 2) plain.joined += data;
            if (pieces == 1) plain.rows = data;
        }
        if (name == png_chunk::kEnd) {
            if (pieces >= 2) plain.rows = plain.joined;
            return pieces > 0 && plain.header.size() == 13;
        }
    }
    return false;
}

/// True if the header describes what `pixels` has the form of: its size, 1 to 4 components of its depth.
bool isOfForm(std::string_view header, const PixelBuffer& pixels) {
    constexpr std::array<int, 7> kChannels{1, 0, 3, 0, 2, 0, 4};  // by PNG's colour type; 0: none of ours
    const auto field = [&](std::size_t i) { return static_cast<Byte>(header[i]); };
    const int depth = pixels.depth == Depth::U8 ? 8 : pixels.depth == Depth::U16 ? 16 : 0;
    return bigEndian(header.data()) == static_cast<std::uint32_t>(pixels.width) &&
           bigEndian(header.data() + 4) == static_cast<std::uint32_t>(pixels.height) && field(8) == depth &&
           field(9) < kChannels.size() && kChannels[field(9)] == pixels.channels && field(10) == 0 &&
           field(11) == 0 && field(12) == 0;
}

/// One row without its filter; `up` is the row above it, or zeros. kPixel: bytes a pixel.
template <std::size_t kPixel>
bool unfilter(int filter, const Byte* from, const Byte* up, Byte* to, std::size_t count) {
    std::array<Byte, kPixel> left{}, corner{};
    switch (filter) {
        case 0:
            std::memcpy(to, from, count);
            return true;
        case 1:
            for (std::size_t i = 0; i < count; i += kPixel)
                for (std::size_t k = 0; k < kPixel; ++k)
                    to[i + k] = left[k] = static_cast<Byte>(from[i + k] + left[k]);
            return true;
        case 2:
            for (std::size_t i = 0; i < count; ++i) to[i] = static_cast<Byte>(from[i] + up[i]);
            return true;
        case 3:
            for (std::size_t i = 0; i < count; i += kPixel)
                for (std::size_t k = 0; k < kPixel; ++k)
                    to[i + k] = left[k] = static_cast<Byte>(from[i + k] + (left[k] + up[i + k]) / 2);
            return true;
        case 4:
            for (std::size_t i = 0; i < count; i += kPixel)
                for (std::size_t k = 0; k < kPixel; ++k) {
                    to[i + k] = left[k] =
                        static_cast<Byte>(from[i + k] + paeth(left[k], up[i + k], corner[k]));
                    corner[k] = up[i + k];
                }
            return true;
        default:
            return false;
    }
}

template <std::size_t kPixel>
bool unfilterAll(const Byte* rows, PixelBuffer& pixels) {
    const std::size_t count = pixels.rowBytes();
    const std::vector<Byte> zeros(count, 0);
    const Byte* up = zeros.data();
    for (int y = 0; y < pixels.height; ++y, rows += count + 1) {
        Byte* const to = pixels.row<Byte>(y);
        if (!unfilter<kPixel>(rows[0], rows + 1, up, to, count)) return false;
        up = to;
    }
    return true;
}

/// PNG stores the high byte first.
void toOwnOrder(PixelBuffer& pixels) {
    if constexpr (std::endian::native == std::endian::big) return;
    for (int y = 0; y < pixels.height; ++y) {
        auto* row = pixels.row<std::uint16_t>(y);
        for (int i = 0; i < pixels.width * pixels.channels; ++i)
            row[i] = static_cast<std::uint16_t>(row[i] << 8 | row[i] >> 8);
    }
}

}  // namespace

bool decodePlainPng(std::string_view file, PixelBuffer& pixels) {
    Plain plain;
    if (!takeApart(file, plain) || !isOfForm(plain.header, pixels)) return false;
    Scratch scratch((pixels.rowBytes() + 1) * static_cast<std::size_t>(pixels.height));
    const std::unique_ptr<libdeflate_decompressor, void (*)(libdeflate_decompressor*)> inflater(
        libdeflate_alloc_decompressor(), libdeflate_free_decompressor);
    if (!inflater) throw std::bad_alloc();
    // Without a place for the size it must be exactly this.
    if (libdeflate_zlib_decompress(inflater.get(), plain.rows.data(), plain.rows.size(), scratch.data(),
                                   scratch.size(), nullptr) != LIBDEFLATE_SUCCESS)
        return false;
    const auto* rows = reinterpret_cast<const Byte*>(scratch.data());
    const auto undo = [&] {
        switch (pixels.rowBytes() / static_cast<std::size_t>(pixels.width)) {
            case 1:
                return unfilterAll<1>(rows, pixels);
            case 2:
                return unfilterAll<2>(rows, pixels);
            case 3:
                return unfilterAll<3>(rows, pixels);
            case 4:
                return unfilterAll<4>(rows, pixels);
            case 6:
                return unfilterAll<6>(rows, pixels);
            default:
                return unfilterAll<8>(rows, pixels);
        }
    };
    if (!undo()) return false;
    if (pixels.depth == Depth::U16) toOwnOrder(pixels);
    return true;
}

}  // namespace kettle
