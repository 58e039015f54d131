// Reading pictures by the image library as they are meant, whatever way they are stored.
#include <OpenImageIO/imageio.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <limits>

#include "core/base/files.h"
#include "core/image/exr_header.h"
#include "core/image/file_colours.h"
#include "core/image/library/channels.h"
#include "core/image/library/library.h"

namespace kettle::library {
namespace {

namespace fs = std::filesystem;

using Input = std::unique_ptr<OIIO::ImageInput>;

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

OIIO::TypeDesc typeOf(Depth depth) {
    return depth == Depth::U8    ? OIIO::TypeDesc::UINT8
           : depth == Depth::U16 ? OIIO::TypeDesc::UINT16
                                 : OIIO::TypeDesc::FLOAT;
}

tl::unexpected<Error> damaged(const fs::path& file, const std::string& detail) {
    return fail(ErrorKind::Unreadable,
                fmt::format("Cannot read {}: it is damaged or ends too early. Copy or export it again.",
                            file.string()),
                detail);
}

/// True for cyan, magenta, yellow and black, which the library would turn into colours by a guess.
bool holdsInks(const OIIO::ImageSpec& spec) {
    for (const char* name : {"jpeg:ColorSpace", "tiff:ColorSpace"}) {
        constexpr const char* kInks[] = {"CMYK", "YCbCrK", "YCCK"};
        const std::string space = spec.get_string_attribute(name).c_str();
        if (std::find(std::begin(kInks), std::end(kInks), space) != std::end(kInks)) return true;
    }
    return false;
}

Result<void> isSane(const fs::path& file, const OIIO::ImageSpec& spec) {
    const auto sane = [](int side) { return side >= 1 && side <= kLargestSide; };
    if (!sane(spec.width) || !sane(spec.height) || !sane(std::max(spec.full_width, 1)) ||
        !sane(std::max(spec.full_height, 1)) || spec.nchannels < 1)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read {}: its size {} x {} makes no sense. Save it again.",
                                file.string(), spec.width, spec.height));
    return {};
}

/// The library takes a disk that fails for a file that it does not know.
Result<void> checkDisk(const fs::path& file) {
    const int number = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
    char first = 0;
    const bool isRead = number >= 0 && ::read(number, &first, 1) >= 0;
    const int why = errno;
    if (number >= 0) ::close(number);
    if (isRead) return {};
    return fail(
        ErrorKind::Unreadable,
        fmt::format(
            "Cannot read {}: the disk reports an error ({}). Check the disk, or put a copy of the file back.",
            file.string(), std::strerror(why)));
}

Result<Input> open(const fs::path& file) {
    if (auto fine = checkReadable(file, kLargestFile, "the map"); !fine) {
        Error error = fine.error();
        if (error.kind == ErrorKind::Missing)
            error.sentence = fmt::format("Cannot find {}. Put it back, or choose another file for this map.",
                                         file.string());
        return fail(std::move(error));
    }
    if (auto fine = checkDisk(file); !fine) return fail(fine.error());
    if (!exrHeaderFits(file)) return damaged(file, "its header is longer than the file");
    // Maps hold their alpha apart; the library would multiply it into the colours on the way.
    OIIO::ImageSpec asIs;
    asIs.attribute("oiio:UnassociatedAlpha", 1);
    auto input = OIIO::ImageInput::open(file.string(), &asIs);
    if (!input)
        return fail(
            ErrorKind::Unreadable,
            fmt::format("Cannot read {}: it is not a picture this program knows. Save it again as PNG, "
                        "TIFF, EXR or JPEG.",
                        file.string()),
            OIIO::geterror());
    if (auto sane = isSane(file, input->spec()); !sane) return fail(sane.error());
    if (holdsInks(input->spec()))
        return fail(
            ErrorKind::Unreadable,
            fmt::format("Cannot read {}: it holds inks (CMYK), whose colour depends on a press. Save it "
                        "again as RGB.",
                        file.string()));
    return input;
}

/// The picture of a name, its part being the input's from now on. Errors: Unreadable.
Result<Picked> pickNamed(OIIO::ImageInput& input, const fs::path& file, const std::string& name) {
    if (name.empty()) return pickChannels(input.spec());
    const std::vector<Other> others = othersOf(input);
    const auto found =
        std::find_if(others.begin(), others.end(), [&](const Other& other) { return other.name == name; });
    if (found == others.end()) {
        std::string has;
        for (const Other& other : others) has += (has.empty() ? "" : ", ") + other.name;
        return fail(
            ErrorKind::Unreadable,
            fmt::format("Cannot find the channels {} in {}: {}. Choose others, or another file.", name,
                        file.string(),
                        has.empty() ? "it holds its colours alone" : "beside its colours it holds " + has));
    }
    input.seek_subimage(found->picked.part, 0);
    if (auto sane = isSane(file, input.spec()); !sane) return fail(sane.error());
    return found->picked;
}

/// The size that is meant: the display window.
void meantSize(const OIIO::ImageSpec& spec, int& width, int& height) {
    width = spec.full_width > 0 ? spec.full_width : spec.width;
    height = spec.full_height > 0 ? spec.full_height : spec.height;
}

/// 1 to 8 as EXIF 2.3 numbers them; from 5 on sides are exchanged.
int orientationOf(const OIIO::ImageSpec& spec) {
    const int orientation = spec.get_int_attribute("Orientation", 1);
    return orientation >= 1 && orientation <= 8 ? orientation : 1;
}

/// Copies pixels of `bytes` each to where they belong.
PixelBuffer upright(const PixelBuffer& from, int orientation) {
    if (orientation == 1) return {};
    const bool exchanged = orientation >= 5;
    PixelBuffer to = PixelBuffer::make(exchanged ? from.height : from.width,
                                       exchanged ? from.width : from.height, from.channels, from.depth);
    const std::size_t bytes = from.rowBytes() / static_cast<std::size_t>(from.width);
    for (int y = 0; y < from.height; ++y)
        for (int x = 0; x < from.width; ++x) {
            const int right = from.width - 1 - x, low = from.height - 1 - y;
            // Where the stored (x, y) is shown, for orientations 1 to 8.
            const std::array<std::pair<int, int>, 8> places{
                {{x, y}, {right, y}, {right, low}, {x, low}, {y, x}, {low, x}, {low, right}, {y, right}}};
            const auto [tx, ty] = places[static_cast<std::size_t>(orientation - 1)];
            std::memcpy(to.row<std::byte>(ty) + static_cast<std::size_t>(tx) * bytes,
                        from.row<std::byte>(y) + static_cast<std::size_t>(x) * bytes, bytes);
        }
    return to;
}

/// Divides the alpha out of the colours. Where it is 0 nothing can be told, and they stay.
template <class T>
void takeAlphaApart(PixelBuffer& pixels) {
    constexpr float kTop =
        std::is_floating_point_v<T> ? 1.0f : static_cast<float>(std::numeric_limits<T>::max());
    const int n = pixels.channels;
    for (int y = 0; y < pixels.height; ++y) {
        T* row = pixels.row<T>(y);
        for (int x = 0; x < pixels.width; ++x, row += n) {
            const float alpha = static_cast<float>(row[n - 1]) / kTop;
            if (!(alpha > 0) || alpha == 1) continue;
            for (int c = 0; c < n - 1; ++c) {
                const float apart = static_cast<float>(row[c]) / alpha;
                if constexpr (std::is_floating_point_v<T>)
                    row[c] = apart;
                else
                    row[c] = static_cast<T>(std::min(apart, kTop) + 0.5f);
            }
        }
    }
}

bool isAssociated(const OIIO::ImageInput& input, const OIIO::ImageSpec& spec) {
    const std::string format = input.format_name();
    if (format == kOpenExr) return true;  // by its definition
    return format == kTiff && spec.get_int_attribute("oiio:UnassociatedAlpha", 0) == 0;
}

/// The chosen channels of the data window, into the display window.
bool readPicked(OIIO::ImageInput& input, const OIIO::ImageSpec& spec, const Picked& picked,
                PixelBuffer& pixels) {
    const int n = pixels.channels;
    const bool isWhole = spec.x == spec.full_x && spec.y == spec.full_y && spec.width == pixels.width &&
                         spec.height == pixels.height;
    const bool isFirst = picked.channels.front() == 0 && picked.channels.back() == n - 1 &&
                         std::is_sorted(picked.channels.begin(), picked.channels.end());
    const int part = picked.part;
    if (isWhole && isFirst) return input.read_image(part, 0, 0, n, typeOf(pixels.depth), pixels.bytes.data());
    std::fill(pixels.bytes.begin(), pixels.bytes.end(), std::byte{0});
    // What lies between the first and the last of them; -1 stands for none.
    int first = spec.nchannels, end = 0;
    for (const int c : picked.channels)
        if (c >= 0) first = std::min(first, c), end = std::max(end, c + 1);
    const int stored = end - first;
    PixelBuffer all = PixelBuffer::make(spec.width, spec.height, stored, pixels.depth);
    if (!input.read_image(part, 0, first, end, typeOf(pixels.depth), all.bytes.data())) return false;
    const std::size_t size = all.rowBytes() / static_cast<std::size_t>(all.width * stored);
    const int left = spec.x - spec.full_x, top = spec.y - spec.full_y;
    for (int y = std::max(0, -top); y < spec.height && y + top < pixels.height; ++y)
        for (int x = std::max(0, -left); x < spec.width && x + left < pixels.width; ++x)
            for (int c = 0; c < n; ++c) {
                const int from = picked.channels[static_cast<std::size_t>(c)];
                if (from >= 0)
                    std::memcpy(
                        pixels.row<std::byte>(y + top) + static_cast<std::size_t>((x + left) * n + c) * size,
                        all.row<std::byte>(y) + static_cast<std::size_t>(x * stored + from - first) * size,
                        size);
            }
    return true;
}

/// What the file says of its colours in attributes of the library's.
FileColourTag colourTagOf(const fs::path& file, const OIIO::ImageSpec& spec) {
    if (const auto* found = spec.find_attribute("chromaticities"); found != nullptr) {
        if (found->type().numelements() * found->type().aggregate < 8) return {};
        std::array<double, 8> xy{};
        for (std::size_t i = 0; i < 8; ++i)
            xy[i] = static_cast<double>(static_cast<const float*>(found->data())[i]);
        return colourTagOfChromaticities(xy);
    }
    std::vector<std::uint8_t> profile;
    if (const auto* found = spec.find_attribute("ICCProfile"); found != nullptr)
        profile.assign(static_cast<const std::uint8_t*>(found->data()),
                       static_cast<const std::uint8_t*>(found->data()) + found->type().size());
    if (const auto head = pngHeadOf(file)) return colourTagOf(*head, profile);
    return profile.empty() ? FileColourTag{} : colourTagOfProfile(profile);
}

}  // namespace

Result<ImageInfo> inspect(const fs::path& file, const std::string& channels) {
    auto input = open(file);
    if (!input) return fail(input.error());
    ImageInfo info;
    for (Other& other : othersOf(**input)) info.others.push_back(std::move(other.name));
    const auto picked = pickNamed(**input, file, channels);
    if (!picked) return fail(picked.error());
    const OIIO::ImageSpec& spec = (*input)->spec();
    meantSize(spec, info.width, info.height);
    if (orientationOf(spec) >= 5) std::swap(info.width, info.height);
    info.channels = static_cast<int>(picked->channels.size());
    info.depth = depthOf(spec);
    const FileColourTag tag = colourTagOf(file, spec);
    info.tag = tag.encoding;
    info.told = tag.told;
    return info;
}

Result<PixelBuffer> read(const fs::path& file, const std::string& channels) {
    auto input = open(file);
    if (!input) return fail(input.error());
    const auto named = pickNamed(**input, file, channels);
    if (!named) return fail(named.error());
    const Picked& picked = *named;
    const OIIO::ImageSpec spec = (*input)->spec();
    Depth depth = depthOf(spec);
    if (depth == Depth::Half) depth = Depth::Float;
    int width = 0, height = 0;
    meantSize(spec, width, height);
    const auto count = static_cast<int>(picked.channels.size());
    if (auto fits = fitsMemory(file, width, height, count, depth); !fits) return fail(fits.error());
    PixelBuffer pixels = PixelBuffer::make(width, height, count, depth);
    if (!readPicked(**input, spec, picked, pixels)) return damaged(file, (*input)->geterror());
    if (picked.hasAlpha && isAssociated(**input, spec)) {
        if (depth == Depth::U8)
            takeAlphaApart<std::uint8_t>(pixels);
        else if (depth == Depth::U16)
            takeAlphaApart<std::uint16_t>(pixels);
        else
            takeAlphaApart<float>(pixels);
    }
    PixelBuffer turned = upright(pixels, orientationOf(spec));
    return turned.width > 0 ? std::move(turned) : std::move(pixels);
}

Result<std::shared_ptr<const FileColours>> coloursOf(const fs::path& file) {
    auto input = open(file);
    if (!input) return fail(input.error());
    return colourTagOf(file, (*input)->spec()).colours;
}

}  // namespace kettle::library
