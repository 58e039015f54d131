#include "core/image/map_tile.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>
#include <type_traits>

#include "core/base/file_stamp.h"
#include "core/colour/encoding.h"
#include "core/image/halving.h"
#include "core/image/pixel_kernels.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

PixelBuffer toFloat(const PixelBuffer& from) {
    PixelBuffer to = PixelBuffer::make(from.width, from.height, from.channels, Depth::Float);
    const std::size_t count = static_cast<std::size_t>(from.width) * from.channels;
    for (int y = 0; y < from.height; ++y)
        for (std::size_t i = 0; i < count; ++i)
            to.row<float>(y)[i] =
                from.depth == Depth::U8    ? static_cast<float>(from.row<std::uint8_t>(y)[i]) / 255.0f
                : from.depth == Depth::U16 ? static_cast<float>(from.row<std::uint16_t>(y)[i]) / 65535.0f
                                           : from.row<float>(y)[i];
    return to;
}

/// What is not a number reads as 0 and an infinite one as the largest half float, so that one bad pixel of a
/// render stays one bad pixel.
std::size_t makeFinite(PixelBuffer& pixels) {
    std::size_t changed = 0;
    const std::size_t count =
        static_cast<std::size_t>(pixels.width) * static_cast<std::size_t>(pixels.channels);
    for (int y = 0; y < pixels.height; ++y) {
        float* row = pixels.row<float>(y);
        for (std::size_t i = 0; i < count; ++i)
            if (!std::isfinite(row[i])) {
                row[i] = std::isnan(row[i]) ? 0.0f : std::copysign(65504.0f, row[i]);
                ++changed;
            }
    }
    return changed;
}

/// Spaces other than sRGB are decoded once, to floats, by `convert`.
Result<PixelBuffer> decoded(const PixelBuffer& from,
                            const std::function<Result<void>(float* rgb, std::size_t count)>& convert) {
    PixelBuffer to = toFloat(from);
    std::vector<float> rgb(static_cast<std::size_t>(to.width) * 3);
    for (int y = 0; y < to.height; ++y) {
        float* row = to.row<float>(y);
        for (int x = 0; x < to.width; ++x)
            for (int c = 0; c < 3; ++c)
                rgb[static_cast<std::size_t>(x * 3 + c)] =
                    row[x * to.channels + std::max(0, storedComponent(c, to.channels))];
        if (auto done = convert(rgb.data(), static_cast<std::size_t>(to.width)); !done)
            return fail(done.error());
        for (int x = 0; x < to.width; ++x)
            for (int c = 0; c < std::min(3, to.channels == 2 ? 1 : to.channels); ++c)
                row[x * to.channels + c] = rgb[static_cast<std::size_t>(x * 3 + c)];
    }
    return to;
}

/// True if all levels down to one pixel are there.
bool isWhole(const PreparedTile& tile) {
    return tile.levels().back().width == 1 && tile.levels().back().height == 1;
}

/// The pixels of a file as they are stored in memory.
Result<PixelBuffer> readPixels(const fs::path& file, const TileReading& reading) {
    const bool isSrgb = reading.how.encoding == encoding::kSrgb;
    auto pixels = readImage(file, reading.how.channels);
    if (!pixels) return fail(pixels.error());
    const bool isPlain =
        isSrgb || reading.how.encoding == encoding::kRaw || reading.how.encoding == encoding::kLinear;
    if (reading.how.encoding == kOwnColours) {
        const auto own = coloursOf(file);
        if (!own) return fail(own.error());
        if (*own != nullptr)
            pixels = decoded(*pixels, [&](float* rgb, std::size_t count) -> Result<void> {
                (*own)->toLinear(rgb, count);
                return {};
            });
    } else if (!isPlain || (isSrgb && pixels->depth == Depth::Float)) {
        pixels = decoded(*pixels, [&](float* rgb, std::size_t count) {
            return reading.colours.convert(rgb, count, reading.how.encoding, encoding::kLinear);
        });
    }
    if (!pixels) return fail(pixels.error());
    return pixels;
}

/// Another number where coarser levels are made otherwise: what lay prepared before is not found then.
constexpr const char* kPreparedKind = "map 2|";

std::string keyOf(const fs::path& file, const TileReading& reading) {
    std::error_code code;
    return kPreparedKind + reading.how.encoding + "|" + fs::absolute(file, code).lexically_normal().string() +
           "|" + reading.colours.identity() +
           (reading.how.channels.empty() ? "" : "|" + reading.how.channels);
}

}  // namespace

int storedComponent(int component, int channels) {
    if (component == 3) return channels == 4 ? 3 : channels == 2 ? 1 : -1;
    return channels >= 3 ? component : 0;
}

const std::vector<float>& decodingTable(Depth depth, bool isSrgb) {
    // As rows are decoded, so that a pixel is the same whichever way it is looked up.
    const auto make = [](auto code, bool srgb) {
        using Code = decltype(code);
        std::vector<Code> all(std::size_t{std::numeric_limits<Code>::max()} + 1);
        std::iota(all.begin(), all.end(), Code{0});
        std::vector<float> table(all.size());
        float* const out[4]{table.data(), nullptr, nullptr, nullptr};
        if constexpr (std::is_same_v<Code, std::uint8_t>)
            decodeBytes(all.data(), all.size(), 1, srgb ? 1 : 0, out);
        else
            decodeWords(all.data(), all.size(), 1, srgb ? 1 : 0, out);
        return table;
    };
    static const std::vector<float> kNone;
    if (depth == Depth::U8) {
        static const std::array<std::vector<float>, 2> kBytes{make(std::uint8_t{}, false),
                                                              make(std::uint8_t{}, true)};
        return kBytes[isSrgb ? 1 : 0];
    }
    if (depth == Depth::U16) {
        static const std::array<std::vector<float>, 2> kWords{make(std::uint16_t{}, false),
                                                              make(std::uint16_t{}, true)};
        return kWords[isSrgb ? 1 : 0];
    }
    return kNone;
}

std::shared_ptr<const MapTile> MapTile::findPrepared(const fs::path& file, const TileReading& reading) {
    if (reading.prepared == nullptr) return nullptr;
    auto mapped = reading.prepared->find(keyOf(file, reading), fileStamp(file));
    if (!mapped || !isWhole(*mapped)) return nullptr;
    const auto tile = std::make_shared<MapTile>();
    tile->m_mapped = std::move(mapped);
    tile->m_key = keyOf(file, reading);
    tile->m_finest = tile->m_mapped->levels().front();
    tile->m_notFinite = tile->m_mapped->notFinite();
    tile->m_isSrgb = reading.how.encoding == encoding::kSrgb;
    tile->measure();
    return tile;
}

Result<std::shared_ptr<const MapTile>> MapTile::read(const fs::path& file, const TileReading& reading) {
    if (auto found = findPrepared(file, reading)) return found;
    const auto tile = std::make_shared<MapTile>();
    if (reading.prepared != nullptr) tile->m_key = keyOf(file, reading), tile->m_stamp = fileStamp(file);
    auto pixels = readPixels(file, reading);
    if (!pixels) return fail(pixels.error());
    tile->m_pixels = std::move(*pixels);
    if (tile->m_pixels.depth == Depth::Float) tile->m_notFinite = makeFinite(tile->m_pixels);
    tile->m_finest = PixelView(tile->m_pixels);
    tile->m_isSrgb = reading.how.encoding == encoding::kSrgb;
    tile->measure();
    if (reading.isThroughDisk && tile->isWorthPreparing()) {
        tile->prepare(*reading.prepared);
        if (auto kept = findPrepared(file, reading)) return kept;  // else there is no room for it
    }
    return std::shared_ptr<const MapTile>(tile);
}

bool MapTile::isSound(const PreparedMaps* prepared) const {
    if (!m_mapped || m_mapped->isSound()) return true;
    if (prepared != nullptr) prepared->forget(m_key);
    return false;
}

std::shared_ptr<const MapTile> MapTile::standIn(const MapTile& from) {
    const PixelView& mean = from.level(from.levelCount() - 1);
    const auto tile = std::make_shared<MapTile>();
    tile->m_pixels = PixelBuffer::make(1, 1, mean.channels, mean.depth);
    std::copy_n(mean.data, mean.rowBytes(), tile->m_pixels.bytes.data());
    tile->m_finest = PixelView(tile->m_pixels);
    tile->m_isSrgb = from.m_isSrgb;
    return tile;
}

void MapTile::measure() {
    m_levelCount = 1;
    for (int w = m_finest.width, h = m_finest.height; w > 1 || h > 1; ++m_levelCount)
        w = std::max(1, w / 2), h = std::max(1, h / 2);
}

std::size_t MapTile::byteSize() const {
    if (m_mapped) return 0;
    const std::size_t pixel = m_finest.rowBytes() / static_cast<std::size_t>(m_finest.width);
    std::size_t bytes = m_finest.rowBytes() * static_cast<std::size_t>(m_finest.height);
    for (int w = m_finest.width, h = m_finest.height; w > 1 || h > 1;) {
        w = std::max(1, w / 2), h = std::max(1, h / 2);
        bytes += pixel * static_cast<std::size_t>(w) * static_cast<std::size_t>(h);
    }
    return bytes;
}

void MapTile::makeCoarser() const {
    if (m_mapped) {
        m_coarser.assign(m_mapped->levels().begin() + 1, m_mapped->levels().end());
        return;
    }
    std::vector<PixelBuffer> made;
    while (static_cast<int>(made.size()) + 1 < m_levelCount)
        made.push_back(halved(made.empty() ? m_pixels : made.back(), m_isSrgb));
    m_made = std::move(made);
    for (const PixelBuffer& level : m_made) m_coarser.emplace_back(level);
}

const PixelView& MapTile::level(int number) const {
    if (number == 0) return m_finest;
    std::call_once(m_once, [&] { makeCoarser(); });
    return m_coarser[static_cast<std::size_t>(number - 1)];
}

bool MapTile::isWorthPreparing() const {
    return !m_mapped && !m_key.empty() && m_pixels.bytes.size() >= PreparedMaps::kWorthIt;
}

void MapTile::prepare(const PreparedMaps& prepared) const {
    if (!isWorthPreparing()) return;
    std::vector<PixelView> levels;
    for (int n = 0; n < m_levelCount; ++n) levels.push_back(level(n));
    prepared.keep(m_key, m_stamp, levels, m_notFinite);
}

void MapTile::rest() const {
    if (m_mapped) m_mapped->rest();
}

}  // namespace kettle
