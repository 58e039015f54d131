// One picture of a map with its pyramid: read from its file, or mapped from what was kept prepared. Private
// to core/image.
#pragma once

#include <filesystem>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/colour/colour_management.h"
#include "core/image/image.h"
#include "core/image/map_image.h"
#include "core/image/prepared_maps.h"

namespace kettle {

/// What a tile is read by.
struct TileReading {
    MapReading how;
    const ColourManagement& colours;
    const PreparedMaps* prepared = nullptr;  ///< tiles that it has are mapped and not read; null: none
    bool isThroughDisk = false;  ///< what was read is kept prepared at once, and no pixel in memory
};

/// Immutable for whoever looks up: the coarser levels are made when one is first wanted.
class MapTile {
public:
    /// Errors: those of readImage, and of a colour space that cannot be converted.
    static Result<std::shared_ptr<const MapTile>> read(const std::filesystem::path& file,
                                                       const TileReading& reading);
    /// The tile if it is there without reading its picture; else null.
    static std::shared_ptr<const MapTile> findPrepared(const std::filesystem::path& file,
                                                       const TileReading& reading);
    /// One pixel: `from`'s mean, for a place whose own tile is still being read.
    static std::shared_ptr<const MapTile> standIn(const MapTile& from);

    /// The pixels as stored (colours of other spaces than sRGB as linear floats).
    const PixelView& finest() const { return m_finest; }
    /// Level 0 is the finest; those after it lie one behind the other. Threads: safe.
    const PixelView& level(int number) const;
    int levelCount() const { return m_levelCount; }
    /// No picture has more: each side of the finest level has less than 2^32 pixels.
    static constexpr std::size_t kMostLevels = 32;
    /// How many stored numbers were infinite or none at all.
    std::size_t notFinite() const { return m_notFinite; }
    /// Memory of all levels, also of those that are not made yet; what is mapped takes none.
    std::size_t byteSize() const;
    /// True if it was read and is worth keeping.
    bool isWorthPreparing() const;
    /// Keeps every level of what was read for the next time; a tile that came from there stays as it is.
    /// False if it was mapped from a prepared file that is damaged; that file is then removed.
    bool isSound(const PreparedMaps* prepared) const;
    void prepare(const PreparedMaps& prepared) const;
    /// Gives the pages of a mapped tile back to the system; they come again when they are looked at.
    void rest() const;

private:
    void makeCoarser() const;
    void measure();

    PixelBuffer m_pixels;  ///< as read; empty if the levels lie in a prepared file
    std::shared_ptr<const PreparedTile> m_mapped;
    PixelView m_finest;
    bool m_isSrgb = false;
    mutable std::once_flag m_once;
    mutable std::vector<PixelBuffer> m_made;  ///< the coarser levels of what was read
    mutable std::vector<PixelView> m_coarser;
    int m_levelCount = 1;
    std::size_t m_notFinite = 0;
    std::string m_key;  ///< under which it is prepared
    std::uint64_t m_stamp = 0;
};

/// Stored integer to decoded number: 256 or 65536 of them, none for floats. Made once. Threads: safe.
const std::vector<float>& decodingTable(Depth depth, bool isSrgb);
/// The stored component that component 0 to 3 reads; -1: a constant 1.
int storedComponent(int component, int channels);

}  // namespace kettle
