#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/image/library/library.h"

namespace kettle::library {

/// EXR and JPEG by the image library, into memory. A wavelet keeps halves and floats exactly, in half the
/// time and two thirds of the size of deflate.
Result<std::string> encode(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                           const std::string& tag, const std::string& name) {
    const auto cannot = [&](const std::string& detail) {
        return fail(
            ErrorKind::Write,
            fmt::format("Cannot write {}: this picture does not fit its format. Choose another format.",
                        name),
            detail);
    };
    const bool isJpeg = format == FileFormat::Jpeg;
    auto output = OIIO::ImageOutput::create(isJpeg ? kJpeg : kOpenExr);
    if (!output) return cannot(OIIO::geterror());
    const OIIO::TypeDesc stored = isJpeg                          ? OIIO::TypeDesc::UINT8
                                  : format == FileFormat::ExrHalf ? OIIO::TypeDesc::HALF
                                                                  : OIIO::TypeDesc::FLOAT;
    OIIO::ImageSpec spec(pixels.width, pixels.height, pixels.channels, stored);
    if (pixels.channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
    if (tag == encoding::kSrgb) spec.attribute("oiio:ColorSpace", "sRGB");
    if (!isJpeg && tag == encoding::kAcescg) {
        // SMPTE S-2014-004.
        constexpr float kPrimaries[8] = {0.713f, 0.293f, 0.165f, 0.83f, 0.128f, 0.044f, 0.32168f, 0.33767f};
        spec.attribute("chromaticities", OIIO::TypeDesc(OIIO::TypeDesc::FLOAT, 8), kPrimaries);
    }
    // The library would write the time of day: equal pictures should be equal files.
    spec.attribute("DateTime", "");
    if (isJpeg)
        spec.attribute("CompressionQuality", choices.quality);
    else
        spec.attribute("compression", choices.compression == Compression::None    ? "none"
                                      : choices.compression == Compression::Small ? "zip:9"
                                                                                  : "piz");
    // EXR's colours are stored multiplied by their alpha, by its definition; ours are not.
    PixelBuffer multiplied;
    if (!isJpeg && pixels.channels % 2 == 0) {
        multiplied = PixelBuffer::make(pixels.width, pixels.height, pixels.channels, pixels.depth);
        const std::size_t count = pixels.bytes.size() / sizeof(float),
                          n = static_cast<std::size_t>(pixels.channels);
        const float* from = pixels.row<float>(0);
        float* to = multiplied.row<float>(0);
        for (std::size_t i = 0; i < count; ++i) {
            const bool isAlpha = i % n == n - 1;
            const float alpha = from[i / n * n + n - 1];
            to[i] = isAlpha || alpha == 0 ? from[i] : from[i] * alpha;
        }
    }
    std::vector<unsigned char> bytes;
    OIIO::Filesystem::IOVecOutput memory(bytes);
    output->set_ioproxy(&memory);
    if (!output->open(isJpeg ? "memory.jpg" : "memory.exr", spec)) return cannot(output->geterror());
    const bool written =
        output->write_image(isJpeg ? OIIO::TypeDesc::UINT8 : OIIO::TypeDesc::FLOAT,
                            multiplied.width > 0 ? multiplied.bytes.data() : pixels.bytes.data());
    const std::string detail = written ? "" : output->geterror();
    if (!output->close() || !written) return cannot(detail);
    return std::string(bytes.begin(), bytes.end());
}

}  // namespace kettle::library
