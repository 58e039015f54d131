// Reading pictures as they are meant: plain PNG files by a way of our own, all else by the image library.
#include <fmt/format.h>

#include <optional>

#include "core/base/files.h"
#include "core/image/decode_png.h"
#include "core/image/file_colours.h"
#include "core/image/image.h"
#include "core/image/picture_library.h"
#include "core/image/png_head.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

/// A plain PNG's head, for which the library need not be asked. Nothing for all else, also for what the
/// library should say what is wrong with.
std::optional<PngHead> plainHeadOf(const fs::path& file) {
    if (!checkReadable(file, kLargestFile, "the map")) return std::nullopt;
    auto head = pngHeadOf(file);
    const auto sane = [](int side) { return side >= 1 && side <= kLargestSide; };
    if (!head || !head->isPlain || !sane(head->width) || !sane(head->height)) return std::nullopt;
    return head;
}

/// Our own way into plain PNG files takes a third of the library's time. Nothing if it is another file, or a
/// broken one: the library then says what is wrong.
Result<std::optional<PixelBuffer>> readPlain(const fs::path& file) {
    const auto head = plainHeadOf(file);
    if (!head) return std::nullopt;
    auto fits = fitsMemory(file, head->width, head->height, head->channels, head->depth);
    if (!fits) return fail(fits.error());
    PixelBuffer pixels = PixelBuffer::make(head->width, head->height, head->channels, head->depth);
    const auto bytes = readFile(file, kLargestFile);
    if (!bytes || !decodePlainPng(*bytes, pixels)) return std::nullopt;
    return pixels;
}

}  // namespace

Result<ImageInfo> inspectImage(const fs::path& file, const std::string& channels) {
    return guarded("read " + file.string(), [&]() -> Result<ImageInfo> {
        if (const auto head = channels.empty() ? plainHeadOf(file) : std::nullopt) {
            const FileColourTag tag = colourTagOf(*head);
            return ImageInfo{head->width, head->height, head->channels, head->depth, tag.encoding, tag.told};
        }
        const auto library = pictureLibrary();
        if (!library) return fail(library.error());
        return (*library)->inspect(file, channels);
    });
}

Result<PixelBuffer> readImage(const fs::path& file, const std::string& channels) {
    return guarded("read " + file.string(), [&]() -> Result<PixelBuffer> {
        Result<std::optional<PixelBuffer>> plain;
        if (channels.empty()) plain = readPlain(file);
        if (!plain) return fail(plain.error());
        if (*plain) return std::move(**plain);
        const auto library = pictureLibrary();
        if (!library) return fail(library.error());
        return (*library)->read(file, channels);
    });
}

Result<std::shared_ptr<const FileColours>> coloursOf(const fs::path& file) {
    return guarded("read " + file.string(), [&]() -> Result<std::shared_ptr<const FileColours>> {
        if (const auto head = plainHeadOf(file)) return colourTagOf(*head).colours;
        const auto library = pictureLibrary();
        if (!library) return fail(library.error());
        return (*library)->coloursOf(file);
    });
}

}  // namespace kettle
