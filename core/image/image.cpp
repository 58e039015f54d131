#include "core/image/image.h"

#include <fmt/format.h>

#include <array>

namespace kettle {
namespace {

std::size_t bytesPerComponent(Depth depth) {
    return depth == Depth::U8 ? 1 : depth == Depth::U16 ? 2 : 4;
}

}  // namespace

const char* nameOf(Depth depth) {
    switch (depth) {
        case Depth::U8:
            return "8 bit";
        case Depth::U16:
            return "16 bit";
        case Depth::Half:
            return "half float";
        case Depth::Float:
            return "float";
    }
    return "8 bit";
}

std::size_t PixelBuffer::rowBytes() const {
    return static_cast<std::size_t>(width) * static_cast<std::size_t>(channels) * bytesPerComponent(depth);
}

PixelBuffer PixelBuffer::make(int width, int height, int channels, Depth depth) {
    PixelBuffer b;
    b.reshape(width, height, channels, depth);
    return b;
}

void PixelBuffer::reshape(int newWidth, int newHeight, int newChannels, Depth newDepth) {
    width = newWidth, height = newHeight, channels = newChannels, depth = newDepth;
    const std::size_t size = rowBytes() * static_cast<std::size_t>(height);
    if (size > bytes.capacity()) bytes = {};  // or the old pixels would be carried over
    bytes.resize(size);
}

namespace {
struct FormatRow {
    FileFormat format;
    const char* name;
    const char* extension;
    Depth storage;
};
constexpr std::array<FormatRow, 6> kFormats{{
    {FileFormat::Png8, "png8", ".png", Depth::U8},
    {FileFormat::Png16, "png16", ".png", Depth::U16},
    {FileFormat::Tiff16, "tiff16", ".tif", Depth::U16},
    {FileFormat::ExrHalf, "exr-half", ".exr", Depth::Float},
    {FileFormat::ExrFloat, "exr-float", ".exr", Depth::Float},
    {FileFormat::Jpeg, "jpeg", ".jpg", Depth::U8},
}};
const FormatRow& rowOf(FileFormat format) {
    return kFormats[static_cast<std::size_t>(format)];
}
}  // namespace

const char* nameOf(FileFormat format) {
    return rowOf(format).name;
}
const char* extensionOf(FileFormat format) {
    return rowOf(format).extension;
}
Depth storageOf(FileFormat format) {
    return rowOf(format).storage;
}
bool fileFormatOf(const std::string& name, FileFormat& out) {
    for (const FormatRow& row : kFormats)
        if (name == row.name) return out = row.format, true;
    return false;
}

bool compressionOf(const std::string& name, Compression& out) {
    constexpr std::pair<const char*, Compression> kCompressions[] = {
        {"fast", Compression::Fast}, {"small", Compression::Small}, {"none", Compression::None}};
    for (const auto& [known, compression] : kCompressions)
        if (name == known) return out = compression, true;
    return false;
}

Result<void> fitsMemory(const std::filesystem::path& file, int width, int height, int channels, Depth depth) {
    const auto bytes = static_cast<std::uint64_t>(width) * static_cast<std::uint64_t>(height) *
                       static_cast<std::uint64_t>(channels) *
                       (depth == Depth::U8    ? 1
                        : depth == Depth::U16 ? 2
                                              : 4);
    return needMemory(bytes, fmt::format("read {} ({} x {} pixels)", file.string(), width, height),
                      "Close other programs, or use a smaller map.");
}

}  // namespace kettle
