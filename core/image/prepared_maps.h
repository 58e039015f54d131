// Maps made ready in files of the program's own cache: every level as it lies in memory, so that opening a
// set again maps files and decodes nothing, and a large set need not be in memory whole. A convenience:
// whatever goes wrong here is as if there were none, and the folder may be deleted at any time.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/image/image.h"

namespace kettle {

/// Pixels that belong to somebody else: a level of a map, in memory or in a mapped file.
struct PixelView {
    int width = 0, height = 0, channels = 0;
    Depth depth = Depth::U8;
    const std::byte* data = nullptr;

    PixelView() = default;
    explicit PixelView(const PixelBuffer& from)
        : width(from.width),
          height(from.height),
          channels(from.channels),
          depth(from.depth),
          data(from.bytes.data()) {}
    std::size_t rowBytes() const {
        const std::size_t one = depth == Depth::U8 ? 1 : depth == Depth::U16 ? 2 : 4;
        return static_cast<std::size_t>(width) * static_cast<std::size_t>(channels) * one;
    }
    /// Row y from the top, as PixelBuffer::row.
    template <class T>
    const T* row(int y) const {
        return reinterpret_cast<const T*>(data) + static_cast<std::size_t>(width) *
                                                      static_cast<std::size_t>(channels) *
                                                      static_cast<std::size_t>(y);
    }
};

/// One prepared picture: its levels, finest first, valid as long as it lives.
class PreparedTile {
public:
    virtual ~PreparedTile() = default;
    const std::vector<PixelView>& levels() const { return m_levels; }
    std::size_t notFinite() const { return m_notFinite; }
    /// True if every level has the checksum that it was kept with. Reads all of it, once. Threads: safe.
    virtual bool isSound() const = 0;
    /// Gives its pages back to the system; they come again when they are looked at. Threads: safe.
    virtual void rest() const = 0;

protected:
    std::vector<PixelView> m_levels;
    std::size_t m_notFinite = 0;
};

class PreparedMaps {
public:
    /// `limit`: bytes that all files together may take; those that were used longest ago go first. 0: a
    /// quarter of what is free on the disk now, between 8 and 64 GiB.
    explicit PreparedMaps(std::filesystem::path folder, std::uint64_t limit = 0);

    /// Smaller pictures are decoded as quickly as they are mapped.
    static constexpr std::size_t kWorthIt = std::size_t{2} << 20;

    /// What was kept of a picture under a key (file, encoding, configuration), if it still has this stamp
    /// (fileStamp of the source); else null. The coarse levels are checked at once, the fine ones by
    /// PreparedTile::isSound. Threads: safe.
    std::shared_ptr<const PreparedTile> find(const std::string& key, std::uint64_t stamp) const;
    /// Keeps a picture's levels, finest first, whole or not at all. Threads: safe.
    void keep(const std::string& key, std::uint64_t stamp, const std::vector<PixelView>& levels,
              std::size_t notFinite) const;

    /// Removes what is kept under a key. Threads: safe.
    void forget(const std::string& key) const;

    /// The user's own cache folder: $XDG_CACHE_HOME or ~/.cache, and in it pale-kettle/maps.
    static std::filesystem::path standardFolder();

private:
    std::filesystem::path fileOf(const std::string& key) const;
    void makeRoom(std::uint64_t bytes) const;

    std::filesystem::path m_folder;
    std::uint64_t m_limit;
};

}  // namespace kettle
