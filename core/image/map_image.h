// A map in memory, ready for lookups: its tiles (one, or the UDIM tiles) with their pyramids, and the table
// that decodes a stored number to what the line carries. Immutable once made, so any number of threads may
// read it.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/colour/colour_management.h"
#include "core/image/image.h"
#include "core/image/prepared_maps.h"

namespace kettle {

/// The encoding that "auto" stands for: colours in 8 and 16 bit integers are sRGB, in floats linear Rec.709;
/// the file's own tag goes first for them; numbers are raw.
std::string automaticEncoding(bool holdsColours, const ImageInfo& info);

/// How a map's file is read.
struct MapReading {
    MapReading(const char* space) : encoding(space) {}
    MapReading(std::string space, std::string others = {})
        : encoding(std::move(space)), channels(std::move(others)) {}
    std::string encoding;  ///< never "auto"
    std::string channels;  ///< as readImage takes them; empty: the colours
};

/// Where to look up, `count` points: u, v in texture space (UDIM tiles lie at whole numbers), and the
/// footprint: how much of texture space a point covers, which chooses the pyramid level.
struct Lookups {
    const float* u;
    const float* v;
    const float* footprint;
    std::size_t count;
};

class GrowingMap;
class MapTile;
class SpreadTables;

/// Immutable for whoever looks up: the coarser levels are made when one is first wanted.
class MapImage {
public:
    /// Without tiles: reads 0 everywhere. load() gives useful ones.
    MapImage();
    /// Reads the file, or all tiles if its name holds "<UDIM>", side by side on all cores. Errors: those of
    /// readImage; Missing if no tile is there; Invalid for an unknown encoding.
    /// `prepared`, `keeps`: as GrowingMap.
    static Result<std::shared_ptr<const MapImage>> load(
        const std::filesystem::path& file, const MapReading& how, const ColourManagement& colours,
        const std::shared_ptr<const PreparedMaps>& prepared = {}, bool keeps = false);
    /// Keeps every level of what was read for the next time; tiles that came from there stay as they are.
    /// False if a tile was mapped from a prepared file that is damaged; such files are then removed from
    /// `prepared`.
    bool isSound(const PreparedMaps* prepared) const;
    void prepare(const PreparedMaps& prepared) const;
    /// True if any tile was read and is worth keeping.
    bool isWorthPreparing() const;
    /// Gives the pages of prepared tiles back to the system; they come again when they are looked at.
    /// Threads: safe.
    void rest() const;

    /// The first tile's pixels as stored (colours of other spaces than sRGB as linear floats).
    PixelView pixels() const;
    int width() const;  ///< of the first tile
    /// Pixels of the first tile's finest level, and components as stored: 1 to 4.
    int height() const;
    int channels() const;
    std::vector<int> tiles() const;  ///< UDIM numbers; 1001 alone for a plain map
    /// True if the name held "<UDIM>": then it ends at its tiles' edges and does not repeat.
    bool isTiled() const { return m_tiled; }
    /// Memory of all levels, also of those that are not made yet; what lies in prepared files takes none.
    std::size_t byteSize() const { return m_bytes; }
    /// A number that no other map of this run bears.
    std::uint64_t id() const { return m_id; }
    /// How many stored numbers were infinite or none at all; they read as the largest half float and as 0.
    std::size_t notFinite() const { return m_notFinite; }

    /// Trilinear lookups of one to four components (bit i of `mask`: component i goes to out[i]). A plain map
    /// repeats; UDIM tiles end at their edges and a missing tile reads 0. Grey maps give the grey in
    /// components 0 to 2; a missing alpha is 1. Accuracy: exact at texel centres of level 0 to 1e-5.
    void sample(const Lookups& points, unsigned mask, float* const out[4]) const;

    /// How often each number stands in it; made when first asked for. Threads: safe.
    const SpreadTables& spreadTables() const;

    /// `count` pixels of row y (from the top) of a level of one tile, from column x; false if the tile has no
    /// level of that size. The fast way for a picture of the map's own proportions.
    bool readRow(int tile, int levelWidth, int levelHeight, int x, int y, std::size_t count, unsigned mask,
                 float* const out[4]) const;

private:
    friend class GrowingMap;
    const MapTile* tileAt(int number) const;
    /// The tile in which a place lies; 0: none.
    int tileOf(float u, float v) const;
    void sampleIn(const MapTile& tile, const Lookups& points, unsigned mask, float* const out[4]) const;

    mutable std::once_flag m_tablesOnce;
    mutable std::shared_ptr<const SpreadTables> m_tables;
    std::map<int, std::shared_ptr<const MapTile>> m_tiles;
    bool m_tiled = false;
    Depth m_depth = Depth::U8;
    bool m_srgb = false;
    std::uint64_t m_id;
    std::size_t m_notFinite = 0;
    std::size_t m_bytes = 0;
};

/// The number of the UDIM tile at a column and row, or 0 where there is none: rows hold ten tiles, 1001 to
/// 9999.
int tileNumber(int column, int row);
/// True for a pattern of tiles: "<UDIM>" stands for 1001 and so on, "<UVTILE>" for u1_v1 and so on.
bool isTilePattern(const std::filesystem::path& file);
/// The tile's file name of such a pattern.
std::filesystem::path tileFile(const std::filesystem::path& pattern, int tile);
/// The numbers of the tiles on disk, sorted.
std::vector<int> tilesOnDisk(const std::filesystem::path& pattern);

}  // namespace kettle
