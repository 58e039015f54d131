#include "core/image/map_image.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <functional>

#include "core/base/hash.h"
#include "core/colour/encoding.h"
#include "core/image/halving.h"
#include "core/image/pixel_kernels.h"
#include "core/image/spread_tables.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
constexpr const char* kUdim = "<UDIM>";
constexpr const char* kUvTile = "<UVTILE>";

/// The stored component that component 0..3 reads; -1: a constant 1.
int storedComponent(int component, int channels) {
    if (component == 3) return channels == 4 ? 3 : channels == 2 ? 1 : -1;
    return channels >= 3 ? component : 0;
}

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

std::uint64_t stampOfFile(const fs::path& file) {
    std::error_code code;
    const auto time = fs::last_write_time(file, code);
    if (code) return 0;
    return combine(static_cast<std::uint64_t>(time.time_since_epoch().count()), fs::file_size(file, code));
}

std::uint64_t nextId() {
    static std::atomic<std::uint64_t> last{0};
    return ++last;
}

}  // namespace

bool isColourRole(const std::string& role) {
    return role == "base-colour" || role == "emission" || role == "sheen-colour";
}

std::string automaticEncoding(const std::string& role, const ImageInfo& info) {
    if (!isColourRole(role)) return encoding::kRaw;
    if (!info.tag.empty()) return info.tag;
    return info.depth == Depth::U8 || info.depth == Depth::U16 ? encoding::kSrgb : encoding::kLinear;
}

bool isTilePattern(const fs::path& file) {
    const std::string text = file.string();
    return text.find(kUdim) != std::string::npos || text.find(kUvTile) != std::string::npos;
}

fs::path tileFile(const fs::path& pattern, int tile) {
    std::string text = pattern.string();
    const auto put = [&](const std::string& mark, const std::string& words) {
        if (const auto at = text.find(mark); at != std::string::npos) text.replace(at, mark.size(), words);
    };
    put(kUdim, std::to_string(tile));
    put(kUvTile, fmt::format("u{}_v{}", (tile - 1001) % 10 + 1, (tile - 1001) / 10 + 1));
    return text;
}

std::vector<int> tilesOnDisk(const fs::path& pattern) {
    std::vector<int> found;
    std::error_code code;
    for (int tile = 1001; tile < 1100; ++tile)  // ten rows, as far as tools in use go
        if (fs::exists(tileFile(pattern, tile), code)) found.push_back(tile);
    return found;
}

int tileNumber(int column, int row) {
    return column < 0 || column > 9 || row < 0 || row > 899 ? 0 : 1001 + column + 10 * row;
}

MapImage::MapImage() : m_id(nextId()) {}

Result<void> MapImage::read(const fs::path& file, int number, const std::string& space,
                            const ColourManagement& colours, const PreparedMaps* prepared) {
    Tile& tile = m_tiles.at(number);
    if (prepared != nullptr) {
        std::error_code code;
        tile.key =
            space + "|" + fs::absolute(file, code).lexically_normal().string() + "|" + colours.identity();
        tile.stamp = stampOfFile(file);
        tile.mapped = prepared->find(tile.key, tile.stamp);
    }
    if (tile.mapped && !isWhole(*tile.mapped)) tile.mapped.reset();
    if (tile.mapped) {
        tile.finest = tile.mapped->levels().front();
        tile.notFinite = tile.mapped->notFinite();
        return {};
    }
    auto pixels = readImage(file);
    if (!pixels) return fail(pixels.error());
    const bool isPlain = m_srgb || space == encoding::kRaw || space == encoding::kLinear;
    if (space == kOwnColours) {
        const auto own = coloursOf(file);
        if (!own) return fail(own.error());
        if (*own != nullptr)
            pixels = decoded(*pixels, [&](float* rgb, std::size_t count) -> Result<void> {
                (*own)->toLinear(rgb, count);
                return {};
            });
    } else if (!isPlain || (m_srgb && pixels->depth == Depth::Float)) {
        pixels = decoded(*pixels, [&](float* rgb, std::size_t count) {
            return colours.convert(rgb, count, space, encoding::kLinear);
        });
    }
    if (!pixels) return fail(pixels.error());
    tile.pixels = std::move(*pixels);
    if (tile.pixels.depth == Depth::Float) tile.notFinite = makeFinite(tile.pixels);
    tile.finest = PixelView(tile.pixels);
    return {};
}

Result<std::shared_ptr<const MapImage>> MapImage::load(const fs::path& file, const std::string& space,
                                                       const ColourManagement& colours,
                                                       const PreparedMaps* prepared) {
    auto image = std::make_shared<MapImage>();
    image->m_tiled = isTilePattern(file);
    image->m_srgb = space == encoding::kSrgb;
    std::vector<int> numbers{1001};
    if (image->m_tiled) numbers = tilesOnDisk(file);
    if (numbers.empty())
        return fail(
            ErrorKind::Missing,
            fmt::format("Cannot find any tile of {}. Put them back, or choose other files.", file.string()));
    for (const int number : numbers) image->m_tiles.try_emplace(number);
    std::vector<Result<void>> done(numbers.size());
    parallelFor(numbers.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i)
            done[i] = image->read(tileFile(file, numbers[i]), numbers[i], space, colours, prepared);
    });
    for (const auto& d : done)
        if (!d) return fail(d.error());
    image->m_depth = image->m_tiles.begin()->second.finest.depth;
    for (auto& [number, tile] : image->m_tiles) {
        const PixelView& finest = tile.finest;
        if (finest.depth != image->m_depth)
            return fail(ErrorKind::Invalid,
                        fmt::format("The tiles of {} differ in depth. Save them all alike.", file.string()));
        image->m_notFinite += tile.notFinite;
        const std::size_t pixel = finest.rowBytes() / static_cast<std::size_t>(finest.width);
        std::size_t bytes = finest.rowBytes() * static_cast<std::size_t>(finest.height);
        for (int w = finest.width, h = finest.height; w > 1 || h > 1; ++tile.levelCount) {
            w = std::max(1, w / 2), h = std::max(1, h / 2);
            bytes += pixel * static_cast<std::size_t>(w) * static_cast<std::size_t>(h);
        }
        image->m_bytes += bytes;
    }
    if (image->m_depth != Depth::Float) {
        const std::size_t codes = image->m_depth == Depth::U8 ? 256 : 65536;
        image->m_table.resize(codes);
        for (std::size_t i = 0; i < codes; ++i) {
            const float x = static_cast<float>(i) / static_cast<float>(codes - 1);
            image->m_table[i] = image->m_srgb ? srgbToLinear(x) : x;
        }
    }
    return std::shared_ptr<const MapImage>(image);
}

void MapImage::makeCoarser(const Tile& tile) const {
    if (tile.mapped) {
        tile.coarser.assign(tile.mapped->levels().begin() + 1, tile.mapped->levels().end());
        return;
    }
    static const ByteEncoder kToByte;
    std::vector<PixelBuffer> made;
    while (static_cast<int>(made.size()) + 1 < tile.levelCount) {
        const PixelBuffer& last = made.empty() ? tile.pixels : made.back();
        const auto limited = [](float v, float top) { return std::clamp(v, 0.0f, 1.0f) * top + 0.5f; };
        switch (m_depth) {
            case Depth::U8:
                if (!m_srgb) {
                    made.push_back(halvePlainBytes(last));
                    break;
                }
                made.push_back(halve<std::uint8_t>(
                    last, [&](std::uint8_t s, bool a) { return decode(s, a); },
                    [&](float v, bool a) {
                        return a ? static_cast<std::uint8_t>(limited(v, 255)) : kToByte(v);
                    }));
                break;
            case Depth::U16:
                made.push_back(halve<std::uint16_t>(
                    last, [&](std::uint16_t s, bool a) { return decode(s, a); },
                    [&](float v, bool a) {
                        return static_cast<std::uint16_t>(limited(m_srgb && !a ? linearToSrgb(v) : v, 65535));
                    }));
                break;
            default:
                made.push_back(halve<float>(
                    last, [](float s, bool) { return s; }, [](float v, bool) { return v; }));
        }
    }
    tile.made = std::move(made);
    for (const PixelBuffer& level : tile.made) tile.coarser.emplace_back(level);
}

const PixelView& MapImage::level(const Tile& tile, int number) const {
    if (number == 0) return tile.finest;
    std::call_once(tile.once, [&] { makeCoarser(tile); });
    return tile.coarser[static_cast<std::size_t>(number - 1)];
}

bool MapImage::isWorthPreparing() const {
    return std::any_of(m_tiles.begin(), m_tiles.end(), [](const auto& entry) {
        return !entry.second.mapped && !entry.second.key.empty() &&
               entry.second.pixels.bytes.size() >= PreparedMaps::kWorthIt;
    });
}

void MapImage::prepare(const PreparedMaps& prepared) const {
    for (const auto& [number, tile] : m_tiles) {
        if (tile.mapped || tile.key.empty() || tile.pixels.bytes.size() < PreparedMaps::kWorthIt) continue;
        std::vector<PixelView> levels;
        for (int n = 0; n < tile.levelCount; ++n) levels.push_back(level(tile, n));
        prepared.keep(tile.key, tile.stamp, levels, tile.notFinite);
    }
}

int MapImage::width() const {
    return m_tiles.begin()->second.finest.width;
}
int MapImage::height() const {
    return m_tiles.begin()->second.finest.height;
}
int MapImage::channels() const {
    return m_tiles.begin()->second.finest.channels;
}

std::vector<int> MapImage::tiles() const {
    std::vector<int> numbers;
    for (const auto& [number, tile] : m_tiles) numbers.push_back(number);
    return numbers;
}

const MapImage::Tile* MapImage::tileAt(int number) const {
    if (!m_tiled) return &m_tiles.begin()->second;
    const auto at = m_tiles.find(number);
    return at == m_tiles.end() ? nullptr : &at->second;
}

template <class T>
void MapImage::sampleAs(const Lookups& p, unsigned mask, float* const out[4]) const {
    const Tile* tile = nullptr;
    int lastTile = -1;
    float lastTexels = -1, lod = 0;      // most points of a view cover as much as their neighbours
    const PixelView* coarser = nullptr;  // of this tile; asked for once, which waits for whoever makes them
    for (std::size_t i = 0; i < p.count; ++i) {
        const float column = std::floor(p.u[i]), row = std::floor(p.v[i]);
        // Outside the rows of ten tiles is nothing; huge and unset coordinates are outside too.
        const bool inside = column >= 0 && column < 10 && row >= 0 && row < 900;
        const int number = !m_tiled ? 1001
                           : inside ? tileNumber(static_cast<int>(column), static_cast<int>(row))
                                    : 0;
        if (number != lastTile) {
            tile = tileAt(number);
            lastTile = number;
            coarser = nullptr;
        }
        std::array<float, 4> sum{0, 0, 0, 0};
        if (tile != nullptr) {
            const float u = p.u[i] - column, v = 1.0f - (p.v[i] - row);
            const int lastLevel = tile->levelCount - 1;
            const PixelView& top = tile->finest;
            const float texels = p.footprint[i] * static_cast<float>(std::max(top.width, top.height));
            if (texels != lastTexels) {
                lastTexels = texels;
                lod = texels <= 1.0f ? 0.0f : std::log2(texels);
            }
            lod = std::min(lod, static_cast<float>(lastLevel));
            const int low = static_cast<int>(lod);
            const float blend = lod - static_cast<float>(low);
            for (int pass = 0; pass < (blend > 0.001f && low < lastLevel ? 2 : 1); ++pass) {
                if (low + pass > 0 && coarser == nullptr) coarser = &this->level(*tile, 1);
                const PixelView& level = low + pass == 0 ? tile->finest : coarser[low + pass - 1];
                const bool two = blend > 0.001f && low < lastLevel;
                const float share = two ? (pass == 0 ? 1 - blend : blend) : 1.0f;
                const float x = u * static_cast<float>(level.width) - 0.5f,
                            y = v * static_cast<float>(level.height) - 0.5f;
                const float fx0 = std::floor(x), fy0 = std::floor(y), fx = x - fx0, fy = y - fy0;
                int x0 = static_cast<int>(fx0), x1 = x0 + 1, y0 = static_cast<int>(fy0), y1 = y0 + 1;
                if (m_tiled) {
                    x0 = std::clamp(x0, 0, level.width - 1), x1 = std::clamp(x1, 0, level.width - 1);
                    y0 = std::clamp(y0, 0, level.height - 1), y1 = std::clamp(y1, 0, level.height - 1);
                } else {
                    if (x0 < 0) x0 += level.width;
                    if (x1 >= level.width) x1 -= level.width;
                    if (y0 < 0) y0 += level.height;
                    if (y1 >= level.height) y1 -= level.height;
                    x0 = std::clamp(x0, 0, level.width - 1), x1 = std::clamp(x1, 0, level.width - 1);
                    y0 = std::clamp(y0, 0, level.height - 1), y1 = std::clamp(y1, 0, level.height - 1);
                }
                const T* a = level.row<T>(y0);
                const T* b = level.row<T>(y1);
                const int n = level.channels;
                for (int c = 0; c < 4; ++c) {
                    if ((mask & (1u << c)) == 0) continue;
                    const int k = storedComponent(c, n);
                    if (k < 0) {
                        sum[static_cast<std::size_t>(c)] += share;
                        continue;
                    }
                    const bool alpha = c == 3;
                    const float top0 = decode(a[x0 * n + k], alpha), top1 = decode(a[x1 * n + k], alpha);
                    const float low0 = decode(b[x0 * n + k], alpha), low1 = decode(b[x1 * n + k], alpha);
                    const float upper = top0 + (top1 - top0) * fx, lower = low0 + (low1 - low0) * fx;
                    sum[static_cast<std::size_t>(c)] += share * (upper + (lower - upper) * fy);
                }
            }
        }
        for (int c = 0; c < 4; ++c)
            if ((mask & (1u << c)) != 0) out[c][i] = sum[static_cast<std::size_t>(c)];
    }
}

void MapImage::sample(const Lookups& points, unsigned mask, float* const out[4]) const {
    switch (m_depth) {
        case Depth::U8:
            return sampleAs<std::uint8_t>(points, mask, out);
        case Depth::U16:
            return sampleAs<std::uint16_t>(points, mask, out);
        default:
            return sampleAs<float>(points, mask, out);
    }
}

const SpreadTables& MapImage::spreadTables() const {
    std::call_once(m_tablesOnce, [this] { m_tables = std::make_shared<const SpreadTables>(*this); });
    return *m_tables;
}

bool MapImage::readRow(int number, int levelWidth, int levelHeight, int x, int y, std::size_t count,
                       unsigned mask, float* const out[4]) const {
    const Tile* tile = tileAt(number);
    if (tile == nullptr) return false;
    int wanted = 0;
    for (int w = tile->finest.width, h = tile->finest.height; w != levelWidth || h != levelHeight; ++wanted) {
        if (w <= levelWidth || h <= levelHeight || wanted + 1 >= tile->levelCount) return false;
        w = std::max(1, w / 2), h = std::max(1, h / 2);
    }
    const PixelView* const level = &this->level(*tile, wanted);
    const auto copy = [&]<class T>(const T* row) {
        unsigned done = 0;
        // Bytes by their table; a grey goes to the first wanted component and is copied to the others.
        if constexpr (std::is_same_v<T, std::uint8_t>) {
            const int n = level->channels;
            float* planes[4]{};
            for (int c = 0; c < 3; ++c) {
                const int k = storedComponent(c, n);
                if ((mask & (1u << c)) == 0 || planes[k] != nullptr) continue;
                planes[k] = out[c];
                done |= 1u << c;
            }
            decodeBytes(row + static_cast<std::size_t>(x * n), count, n, m_table.data(), planes);
            for (int c = 0; c < 3; ++c)
                if ((mask & ~done & (1u << c)) != 0) {
                    std::copy_n(planes[storedComponent(c, n)], count, out[c]);
                    done |= 1u << c;
                }
        }
        for (int c = 0; c < 4; ++c) {
            if ((mask & ~done & (1u << c)) == 0) continue;
            const int k = storedComponent(c, level->channels), n = level->channels;
            if (k < 0) {
                std::fill_n(out[c], count, 1.0f);
                continue;
            }
            const T* from = row + static_cast<std::size_t>(x * n + k);
            for (std::size_t i = 0; i < count; ++i)
                out[c][i] = decode(from[i * static_cast<std::size_t>(n)], c == 3);
        }
    };
    switch (m_depth) {
        case Depth::U8:
            copy(level->row<std::uint8_t>(y));
            break;
        case Depth::U16:
            copy(level->row<std::uint16_t>(y));
            break;
        default:
            copy(level->row<float>(y));
    }
    return true;
}

}  // namespace kettle
