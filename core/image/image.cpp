#include "core/image/image.h"

#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/files.h"
#include "core/colour/encoding.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::size_t bytesPerComponent(Depth depth) {
    return depth == Depth::U8 ? 1 : depth == Depth::U16 ? 2 : 4;
}

OIIO::TypeDesc typeOf(Depth depth) {
    return depth == Depth::U8    ? OIIO::TypeDesc::UINT8
           : depth == Depth::U16 ? OIIO::TypeDesc::UINT16
                                 : OIIO::TypeDesc::FLOAT;
}

Depth depthOf(const OIIO::ImageSpec& spec) {
    switch (spec.format.basetype) {
        case OIIO::TypeDesc::UINT8:
            return Depth::U8;
        case OIIO::TypeDesc::UINT16:
            return Depth::U16;
        case OIIO::TypeDesc::HALF:
            return Depth::Half;
        default:
            return Depth::Float;
    }
}

std::string tagOf(const OIIO::ImageSpec& spec) {
    // The library names sRGB for every 8-bit file; only what stands in the file itself counts.
    if (spec.find_attribute("png:sRGB") != nullptr || spec.find_attribute("ICCProfile") != nullptr)
        return encoding::kSrgb;
    if (spec.find_attribute("chromaticities") != nullptr) return encoding::kLinear;
    return {};
}

Result<std::unique_ptr<OIIO::ImageInput>> open(const fs::path& file) {
    std::error_code code;
    if (!fs::exists(file, code))
        return fail(
            ErrorKind::Missing,
            fmt::format("Cannot find {}. Put it back, or choose another file for this map.", file.string()));
    // Maps hold their alpha apart; the library would multiply it into the colours on the way.
    OIIO::ImageSpec asIs;
    asIs.attribute("oiio:UnassociatedAlpha", 1);
    auto input = OIIO::ImageInput::open(file.string(), &asIs);
    if (input) return input;
    return fail(ErrorKind::Unreadable,
                fmt::format("Cannot read {}: it is not a picture this program knows. Save it again as PNG, "
                            "TIFF, EXR or JPEG.",
                            file.string()),
                OIIO::geterror());
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

Result<ImageInfo> inspectImage(const fs::path& file) {
    auto input = open(file);
    if (!input) return fail(input.error());
    const OIIO::ImageSpec& spec = (*input)->spec();
    return ImageInfo{spec.width, spec.height, spec.nchannels, depthOf(spec), tagOf(spec)};
}

Result<PixelBuffer> readImage(const fs::path& file) {
    auto input = open(file);
    if (!input) return fail(input.error());
    const OIIO::ImageSpec spec = (*input)->spec();
    constexpr int kLargest = 65536;
    if (spec.width < 1 || spec.height < 1 || spec.width > kLargest || spec.height > kLargest)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read {}: its size {} x {} makes no sense. Save it again.",
                                file.string(), spec.width, spec.height));
    Depth depth = depthOf(spec);
    if (depth == Depth::Half) depth = Depth::Float;
    try {
        const int channels = std::min(spec.nchannels, 4);
        PixelBuffer pixels = PixelBuffer::make(spec.width, spec.height, channels, depth);
        if (!(*input)->read_image(0, 0, 0, channels, typeOf(depth), pixels.bytes.data()))
            return fail(
                ErrorKind::Unreadable,
                fmt::format("Cannot read {}: it is damaged or ends too early. Copy or export it again.",
                            file.string()),
                (*input)->geterror());
        return pixels;
    } catch (const std::bad_alloc&) {
        return fail(ErrorKind::Unreadable, fmt::format("Cannot read {}: there is not enough memory for {} x "
                                                       "{} pixels. Close other programs, or use a "
                                                       "smaller map.",
                                                       file.string(), spec.width, spec.height));
    }
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

Result<void> writeImage(const fs::path& file, const PixelBuffer& pixels, FileFormat format,
                        const std::string& tag) {
    return replaceAtomically(file, [&](const fs::path& temporary) -> Result<void> {
        const auto cannot = [&](const std::string& detail) {
            return fail(
                ErrorKind::Write,
                fmt::format("Cannot write {}. Check that the folder exists and has room.", file.string()),
                detail);
        };
        auto output = OIIO::ImageOutput::create(temporary.string());
        if (!output) return cannot(OIIO::geterror());
        const bool half = format == FileFormat::ExrHalf;
        OIIO::ImageSpec spec(pixels.width, pixels.height, pixels.channels,
                             half ? OIIO::TypeDesc(OIIO::TypeDesc::HALF) : typeOf(pixels.depth));
        // Unassociated alpha is what texture maps hold; the library would multiply it in otherwise.
        if (pixels.channels == 4) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (tag == encoding::kSrgb) spec.attribute("oiio:ColorSpace", "sRGB");
        spec.attribute("png:compressionLevel", 4);
        if (format == FileFormat::Tiff16) spec.attribute("compression", "zip");
        if (isFloat(format)) spec.attribute("compression", "zip");
        if (format == FileFormat::Jpeg) spec.attribute("CompressionQuality", 95);
        if (!output->open(temporary.string(), spec)) return cannot(output->geterror());
        const bool written = output->write_image(typeOf(pixels.depth), pixels.bytes.data());
        const std::string detail = written ? "" : output->geterror();
        if (!output->close() || !written) return cannot(detail);
        return {};
    });
}

}  // namespace kettle
