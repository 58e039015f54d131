#include "core/image/encode.h"

#include <fmt/format.h>

#include "core/base/files.h"
#include "core/image/picture_library.h"

namespace kettle {

Result<std::string> encodeImage(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                                const std::string& tag, const std::string& name) {
    return guarded("write " + name, [&]() -> Result<std::string> {
        const std::size_t raw = pixels.bytes.size();
        if (auto fits = needMemory(raw, "write " + name, "Choose a smaller size."); !fits)
            return fail(fits.error());
        if (format == FileFormat::Png8 || format == FileFormat::Png16)
            return encodePng(pixels, choices.compression, tag);
        if (format == FileFormat::Tiff16) return encodeTiff(pixels, choices.compression);
        if (format == FileFormat::Jpeg && pixels.channels % 2 == 0)
            return fail(ErrorKind::Write,
                        fmt::format("Cannot write {}: JPEG holds no alpha. Choose PNG, TIFF or EXR.", name));
        if (format == FileFormat::Jpeg && std::max(pixels.width, pixels.height) > 65500)
            return fail(
                ErrorKind::Write,
                fmt::format("Cannot write {}: JPEG ends at 65500 pixels a side. Choose a smaller size.",
                            name));
        const auto library = pictureLibrary();
        if (!library) return fail(library.error());
        return (*library)->encode(pixels, format, choices, tag, name);
    });
}

Result<void> writeImage(const std::filesystem::path& file, const PixelBuffer& pixels, FileFormat format,
                        const std::string& tag, const WriteChoices& choices, const ProtectedFiles& sources) {
    const auto bytes = encodeImage(pixels, format, choices, tag, file.string());
    if (!bytes) return fail(bytes.error());
    return sources.write(file, *bytes);
}

}  // namespace kettle
