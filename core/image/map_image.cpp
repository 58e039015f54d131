#include "core/image/map_image.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/image/growing_map.h"
#include "core/image/map_tile.h"
#include "core/image/pixel_kernels.h"
#include "core/image/spread_tables.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
constexpr const char* kUdim = "<UDIM>";
constexpr const char* kUvTile = "<UVTILE>";

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

Result<std::shared_ptr<const MapImage>> MapImage::load(const fs::path& file, const std::string& space,
                                                       const ColourManagement& colours,
                                                       const std::shared_ptr<const PreparedMaps>& prepared,
                                                       bool keeps) {
    GrowingMap growing(file, space, colours, prepared, keeps);
    growing.readMore(growing.all(), {});
    return growing.whole();
}

void MapImage::prepare(const PreparedMaps& prepared) const {
    for (const auto& [number, tile] : m_tiles) tile->prepare(prepared);
}

bool MapImage::isWorthPreparing() const {
    return std::any_of(m_tiles.begin(), m_tiles.end(),
                       [](const auto& entry) { return entry.second->isWorthPreparing(); });
}

void MapImage::rest() const {
    for (const auto& [number, tile] : m_tiles) tile->rest();
}

PixelView MapImage::pixels() const {
    return m_tiles.begin()->second->finest();
}
int MapImage::width() const {
    return m_tiles.begin()->second->finest().width;
}
int MapImage::height() const {
    return m_tiles.begin()->second->finest().height;
}
int MapImage::channels() const {
    return m_tiles.begin()->second->finest().channels;
}

std::vector<int> MapImage::tiles() const {
    std::vector<int> numbers;
    for (const auto& [number, tile] : m_tiles) numbers.push_back(number);
    return numbers;
}

const MapTile* MapImage::tileAt(int number) const {
    if (m_tiles.empty()) return nullptr;
    if (!m_tiled) return m_tiles.begin()->second.get();
    const auto at = m_tiles.find(number);
    return at == m_tiles.end() ? nullptr : at->second.get();
}

template <class T>
void MapImage::sampleAs(const Lookups& p, unsigned mask, float* const out[4]) const {
    const MapTile* tile = nullptr;
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
            const int lastLevel = tile->levelCount() - 1;
            const PixelView& top = tile->finest();
            const float texels = p.footprint[i] * static_cast<float>(std::max(top.width, top.height));
            if (texels != lastTexels) {
                lastTexels = texels;
                lod = texels <= 1.0f ? 0.0f : std::log2(texels);
            }
            lod = std::min(lod, static_cast<float>(lastLevel));
            const int low = static_cast<int>(lod);
            const float blend = lod - static_cast<float>(low);
            for (int pass = 0; pass < (blend > 0.001f && low < lastLevel ? 2 : 1); ++pass) {
                if (low + pass > 0 && coarser == nullptr) coarser = &tile->level(1);
                const PixelView& level = low + pass == 0 ? tile->finest() : coarser[low + pass - 1];
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
    const MapTile* tile = tileAt(number);
    if (tile == nullptr) return false;
    int wanted = 0;
    for (int w = tile->finest().width, h = tile->finest().height; w != levelWidth || h != levelHeight;
         ++wanted) {
        if (w <= levelWidth || h <= levelHeight || wanted + 1 >= tile->levelCount()) return false;
        w = std::max(1, w / 2), h = std::max(1, h / 2);
    }
    const PixelView* const level = &tile->level(wanted);
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
            decodeBytes(row + static_cast<std::size_t>(x * n), count, n, m_table->data(), planes);
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
