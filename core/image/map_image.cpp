#include "core/image/map_image.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/image/growing_map.h"
#include "core/image/map_lookup.h"
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

std::string automaticEncoding(bool holdsColours, const ImageInfo& info) {
    if (!holdsColours) return encoding::kRaw;
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

Result<std::shared_ptr<const MapImage>> MapImage::load(const fs::path& file, const MapReading& how,
                                                       const ColourManagement& colours,
                                                       const std::shared_ptr<const PreparedMaps>& prepared,
                                                       bool keeps) {
    GrowingMap growing(file, how, colours, prepared, keeps);
    growing.readMore(growing.all(), {});
    return growing.whole();
}

bool MapImage::isSound(const PreparedMaps* prepared) const {
    bool isSound = true;
    for (const auto& [number, tile] : m_tiles) isSound = tile->isSound(prepared) && isSound;
    return isSound;
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

void MapImage::sampleIn(const MapTile& tile, const Lookups& points, unsigned mask,
                        float* const out[4]) const {
    const PixelView& top = tile.finest();
    float widest = 0;
    for (std::size_t i = 0; i < points.count; ++i) widest = std::max(widest, points.footprint[i]);
    // The coarser levels are made when one is first looked at.
    const bool isFine = widest * static_cast<float>(std::max(top.width, top.height)) <= 1;
    std::array<PixelView, MapTile::kMostLevels> levels;
    levels[0] = top;
    int count = 1;
    for (; count < tile.levelCount() && !isFine; ++count)
        levels[static_cast<std::size_t>(count)] = tile.level(count);
    lookUp({levels.data(), count, m_srgb, !m_tiled}, points, mask, out);
}

void MapImage::sample(const Lookups& points, unsigned mask, float* const out[4]) const {
    const auto from = [&](std::size_t begin, std::size_t end) {
        return Lookups{points.u + begin, points.v + begin, points.footprint + begin, end - begin};
    };
    for (std::size_t i = 0; i < points.count;) {
        // Neighbours mostly lie in one tile.
        const int number = tileOf(points.u[i], points.v[i]);
        std::size_t end = i + 1;
        while (end < points.count && tileOf(points.u[end], points.v[end]) == number) ++end;
        float* to[4]{};
        for (std::size_t c = 0; c < 4; ++c) to[c] = (mask & (1u << c)) != 0 ? out[c] + i : nullptr;
        if (const MapTile* tile = tileAt(number); tile != nullptr) {
            sampleIn(*tile, from(i, end), mask, to);
        } else {
            for (float* plane : to)
                if (plane != nullptr) std::fill_n(plane, end - i, 0.0f);
        }
        i = end;
    }
}

int MapImage::tileOf(float u, float v) const {
    if (!m_tiled) return 1001;
    const float column = std::floor(u), row = std::floor(v);
    // Outside the rows of ten tiles is nothing; huge and unset coordinates are outside too.
    const bool inside = column >= 0 && column < 10 && row >= 0 && row < 900;
    return inside ? tileNumber(static_cast<int>(column), static_cast<int>(row)) : 0;
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
        const int n = level->channels;
        const T* const from = row + static_cast<std::size_t>(x) * static_cast<std::size_t>(n);
        // Each stored channel goes to the first component that wants it, and from there to the others: those
        // of a grey are alike.
        float* planes[4]{};
        unsigned curved = 0;
        for (int c = 0; c < 4; ++c) {
            const int k = storedComponent(c, n);
            if ((mask & (1u << c)) == 0 || k < 0 || planes[k] != nullptr) continue;
            planes[k] = out[c];
            if (m_srgb && c < 3) curved |= 1u << k;
        }
        if constexpr (std::is_same_v<T, std::uint8_t>)
            decodeBytes(from, count, n, curved, planes);
        else if constexpr (std::is_same_v<T, std::uint16_t>)
            decodeWords(from, count, n, curved, planes);
        else
            for (int k = 0; k < n; ++k)
                for (std::size_t i = 0; planes[k] != nullptr && i < count; ++i)
                    planes[k][i] = from[i * static_cast<std::size_t>(n) + static_cast<std::size_t>(k)];
        for (int c = 0; c < 4; ++c) {
            if ((mask & (1u << c)) == 0) continue;
            const int k = storedComponent(c, n);
            if (k < 0)
                std::fill_n(out[c], count, 1.0f);
            else if (planes[k] != out[c])
                std::copy_n(planes[k], count, out[c]);
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
