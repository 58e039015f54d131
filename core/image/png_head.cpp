#include "core/image/png_head.h"
#include "core/image/png_chunks.h"

#include <cstring>
#include <fstream>
#include <string>

namespace kettle {
namespace {

std::uint32_t number(const std::uint8_t* p) {
    return std::uint32_t{p[0]} << 24 | std::uint32_t{p[1]} << 16 | std::uint32_t{p[2]} << 8 | p[3];
}

void takeHeader(const std::uint8_t* data, PngHead& head) {
    head.width = static_cast<int>(number(data) & 0x7FFFFFFFu);
    head.height = static_cast<int>(number(data + 4) & 0x7FFFFFFFu);
    const int bits = data[8], colours = data[9], interlaced = data[12];
    constexpr std::array<int, 7> kChannels{1, 0, 3, 0, 2, 0, 4};
    head.channels = colours < 7 ? kChannels[static_cast<std::size_t>(colours)] : 0;
    head.depth = bits == 16 ? Depth::U16 : Depth::U8;
    head.isPlain =
        head.channels > 0 && (bits == 8 || bits == 16) && interlaced == 0 && data[10] == 0 && data[11] == 0;
}

void takeChunk(const std::string& type, const std::uint8_t* data, std::uint32_t size, PngHead& head) {
    if (type == png_chunk::kPalette || type == png_chunk::kTransparency || type == png_chunk::kProfile ||
        type == png_chunk::kExif)
        head.isPlain = false;
    if (type == png_chunk::kSrgb) head.srgb = true;
    if (type == png_chunk::kGamma && size == 4 && number(data) > 0) head.gamma = number(data) / 100000.0;
    if (type == png_chunk::kCodePoints && size == 4) head.codes = {data[0], data[1], data[2], data[3]};
    if (type == png_chunk::kPrimaries && size == 32) {
        // White comes first in the file.
        std::array<double, 8> xy{};
        for (std::size_t i = 0; i < 8; ++i) xy[(i + 6) % 8] = number(data + 4 * i) / 100000.0;
        head.primaries = xy;
    }
}

}  // namespace

std::optional<PngHead> pngHeadOf(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    char signature[8];
    if (!in.read(signature, 8) || std::memcmp(signature, "\x89PNG\r\n\x1a\n", 8) != 0) return std::nullopt;
    PngHead head;
    std::uint8_t start[8];
    for (int chunk = 0; chunk < 1000 && in.read(reinterpret_cast<char*>(start), 8); ++chunk) {
        const std::uint32_t size = number(start);
        const std::string type(reinterpret_cast<const char*>(start) + 4, 4);
        if (chunk == 0 && (type != png_chunk::kHeader || size != 13)) return std::nullopt;
        if (type == png_chunk::kPixels) return head;
        if (type == png_chunk::kEnd) break;
        std::uint8_t data[32] = {};
        const std::uint32_t taken = std::min<std::uint32_t>(size, sizeof data);
        if (!in.read(reinterpret_cast<char*>(data), taken)) break;
        if (chunk == 0) takeHeader(data, head);
        takeChunk(type, data, size, head);
        in.seekg(static_cast<std::streamoff>(size - taken) + 4, std::ios::cur);
    }
    return std::nullopt;
}

}  // namespace kettle
