// The bounded cache of maps in memory: what was used last stays, what no longer fits goes. Shared by every
// view.
#pragma once

#include <cstddef>
#include <filesystem>
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <string>

#include "core/image/map_image.h"

namespace kettle {

class ImageStore {
public:
    /// byteLimit: how much the store keeps; maps in use beyond it stay alive only as long as somebody holds
    /// them.
    explicit ImageStore(std::size_t byteLimit = std::size_t{2} << 30) : m_limit(byteLimit) {}

    /// The map, read if needed; a changed file (time or size) is read again. A failure is remembered until
    /// the file changes. Errors: those of MapImage::load. Threads: safe; two threads may read the same file
    /// at the same time.
    Result<std::shared_ptr<const MapImage>> get(const std::filesystem::path& file,
                                                const std::string& encoding, const ColourManagement& colours);
    std::size_t bytesInUse() const;

private:
    struct Entry {
        Result<std::shared_ptr<const MapImage>> image;
        std::uint64_t stamp;
        std::list<std::string>::iterator place;
    };
    void trim();

    mutable std::mutex m_mutex;
    std::size_t m_limit, m_bytes = 0;
    std::list<std::string> m_recent;  ///< newest first
    std::map<std::string, Entry> m_entries;
};

}  // namespace kettle
