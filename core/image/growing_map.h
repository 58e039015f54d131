// A map whose tiles are read one after the other: what there is so far can be looked at meanwhile.
#pragma once

#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "core/image/map_image.h"
#include "core/threads/parallel.h"

namespace kettle {

class MapTile;
struct TileReading;

class GrowingMap {
public:
    /// A plain file is one tile. `prepared`: where tiles may lie ready; null: nowhere. With `keeps`, a large
    /// set's tiles are kept there as soon as they are read, and lie in no memory: only what is looked at is.
    /// Large: more than `mostInMemory` bytes of pixels.
    GrowingMap(std::filesystem::path file, MapReading how, ColourManagement colours,
               std::shared_ptr<const PreparedMaps> prepared, bool keeps, double mostInMemory = 256e6);

    /// Tiles on disk; 0: there is none.
    std::size_t all() const { return m_numbers.size(); }
    /// Those that were read, or could not be. Threads: safe.
    std::size_t done() const;
    bool isEnded() const { return done() == all(); }

    /// Maps whatever lies prepared. Before anything is read.
    void findPrepared();
    /// Reads up to `most` tiles that nobody has begun, side by side on all cores. Returns how many there
    /// were. Threads: safe.
    std::size_t readMore(std::size_t most, const CancelToken& cancel);
    /// Tiles that nobody has begun. Threads: safe.
    std::size_t left() const;
    /// Waits for others who read: until more than `done` tiles are done. Threads: safe.
    void waitBeyond(std::size_t done) const;

    /// What there is so far; a tile that is still to come is plain, the mean of one that is there. Null
    /// before the first. The same answer for a third of a second, unless all are there: what was looked up in
    /// it can be kept that long. Threads: safe.
    std::shared_ptr<const MapImage> soFar() const;
    /// The whole map, when all tiles are done. Errors: those of MapTile::read, of the first tile that failed;
    /// Invalid if tiles differ in depth; Cancelled before they are done.
    Result<std::shared_ptr<const MapImage>> whole() const;

private:
    TileReading reading() const;
    std::size_t doneUnderLock() const;
    std::shared_ptr<MapImage> begun() const;

    std::filesystem::path m_file;
    MapReading m_how;
    ColourManagement m_colours;
    std::shared_ptr<const PreparedMaps> m_prepared;
    bool m_isThroughDisk = false;
    std::vector<int> m_numbers;
    mutable std::mutex m_mutex;
    mutable std::condition_variable m_news;
    mutable std::shared_ptr<const MapImage> m_soFar;
    mutable std::size_t m_soFarDone = 0;  ///< tiles in it
    mutable std::chrono::steady_clock::time_point m_soFarMade;
    std::vector<std::size_t> m_left;  ///< tiles that nobody has begun, the next one last
    std::vector<std::optional<Result<std::shared_ptr<const MapTile>>>> m_tiles;  ///< as m_numbers
};

}  // namespace kettle
