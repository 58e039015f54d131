#include "core/image/growing_map.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/colour/encoding.h"
#include "core/image/map_tile.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

constexpr std::chrono::milliseconds kFresh(300);

std::vector<int> tilesOf(const fs::path& file) {
    return isTilePattern(file) ? tilesOnDisk(file) : std::vector<int>{1001};
}

}  // namespace

GrowingMap::GrowingMap(fs::path file, MapReading how, ColourManagement colours,
                       std::shared_ptr<const PreparedMaps> prepared, bool keeps, double mostInMemory)
    : m_file(std::move(file)),
      m_how(std::move(how)),
      m_colours(std::move(colours)),
      m_prepared(std::move(prepared)),
      m_numbers(tilesOf(m_file)),
      m_tiles(m_numbers.size()) {
    for (std::size_t i = m_numbers.size(); i > 0; --i) m_left.push_back(i - 1);
    if (m_numbers.size() < 2 || m_prepared == nullptr || !keeps) return;
    if (const auto info = inspectImage(tileFile(m_file, m_numbers.front()), m_how.channels)) {
        const int bytes = info->depth == Depth::U8 ? 1 : info->depth == Depth::U16 ? 2 : 4;
        m_isThroughDisk =
            static_cast<double>(m_numbers.size()) * info->width * info->height * info->channels * bytes >
            mostInMemory;
    }
}

TileReading GrowingMap::reading() const {
    return {m_how, m_colours, m_prepared.get(), m_isThroughDisk};
}

std::size_t GrowingMap::done() const {
    const std::lock_guard lock(m_mutex);
    return doneUnderLock();
}

std::size_t GrowingMap::doneUnderLock() const {
    return static_cast<std::size_t>(
        std::count_if(m_tiles.begin(), m_tiles.end(), [](const auto& tile) { return tile.has_value(); }));
}

void GrowingMap::findPrepared() {
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_left, [&](std::size_t i) {
        auto found = MapTile::findPrepared(tileFile(m_file, m_numbers[i]), reading());
        if (found) m_tiles[i] = std::move(found);
        return m_tiles[i].has_value();
    });
}

std::size_t GrowingMap::left() const {
    const std::lock_guard lock(m_mutex);
    return m_left.size();
}

void GrowingMap::waitBeyond(std::size_t done) const {
    std::unique_lock lock(m_mutex);
    m_news.wait(lock, [&] { return doneUnderLock() > done || doneUnderLock() == m_tiles.size(); });
}

std::size_t GrowingMap::readMore(std::size_t most, const CancelToken& cancel) {
    std::vector<std::size_t> mine;
    {
        const std::lock_guard lock(m_mutex);
        for (; mine.size() < most && !m_left.empty(); m_left.pop_back()) mine.push_back(m_left.back());
    }
    parallelFor(mine.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            Result<std::shared_ptr<const MapTile>> tile =
                fail(ErrorKind::Cancelled, "Reading the maps was stopped.");
            const fs::path file = tileFile(m_file, m_numbers[mine[i]]);
            if (!cancel.isCancelled())
                tile = guarded("read " + file.string(), [&] { return MapTile::read(file, reading()); });
            const std::lock_guard lock(m_mutex);
            m_tiles[mine[i]] = std::move(tile);
            m_news.notify_all();
        }
    });
    return mine.size();
}

std::shared_ptr<MapImage> GrowingMap::begun() const {
    auto image = std::make_shared<MapImage>();
    image->m_tiled = isTilePattern(m_file);
    image->m_srgb = m_how.encoding == encoding::kSrgb;
    for (std::size_t i = 0; i < m_numbers.size(); ++i) {
        if (!m_tiles[i] || !*m_tiles[i]) continue;
        const std::shared_ptr<const MapTile>& tile = **m_tiles[i];
        if (image->m_tiles.empty()) image->m_depth = tile->finest().depth;
        if (tile->finest().depth != image->m_depth) continue;
        image->m_tiles.emplace(m_numbers[i], tile);
        image->m_notFinite += tile->notFinite();
        image->m_bytes += tile->byteSize();
    }
    return image;
}

std::shared_ptr<const MapImage> GrowingMap::soFar() const {
    const std::lock_guard lock(m_mutex);
    const std::size_t done = doneUnderLock();
    const auto now = std::chrono::steady_clock::now();
    const bool isFresh = now - m_soFarMade < kFresh && done < all();
    if (m_soFar && (done == m_soFarDone || isFresh)) return m_soFar;
    const std::shared_ptr<MapImage> image = begun();
    if (image->m_tiles.empty()) return nullptr;
    const auto standIn = MapTile::standIn(*image->m_tiles.begin()->second);
    for (std::size_t i = 0; i < m_numbers.size(); ++i)
        if (!m_tiles[i]) image->m_tiles.emplace(m_numbers[i], standIn);
    m_soFar = image, m_soFarDone = done, m_soFarMade = now;
    return image;
}

Result<std::shared_ptr<const MapImage>> GrowingMap::whole() const {
    const std::lock_guard lock(m_mutex);
    if (m_numbers.empty())
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find any tile of {}. Put them back, or choose other files.",
                                m_file.string()));
    for (const auto& tile : m_tiles) {
        if (!tile) return fail(ErrorKind::Cancelled, "Reading the maps was stopped.");
        if (!*tile) return fail(tile->error());
    }
    std::shared_ptr<const MapImage> image = begun();
    if (image->m_tiles.size() < m_numbers.size())
        return fail(ErrorKind::Invalid,
                    fmt::format("The tiles of {} differ in depth. Save them all alike.", m_file.string()));
    return image;
}

}  // namespace kettle
