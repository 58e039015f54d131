#include "core/image/image_store.h"

#include "core/base/hash.h"

namespace kettle {
namespace {

std::uint64_t stampOf(const std::filesystem::path& file) {
    std::error_code code;
    const auto one = [&](const std::filesystem::path& f) {
        const auto time = std::filesystem::last_write_time(f, code);
        if (code) return std::uint64_t{0};
        return combine(static_cast<std::uint64_t>(time.time_since_epoch().count()),
                       std::filesystem::file_size(f, code));
    };
    if (file.string().find("<UDIM>") == std::string::npos) return one(file);
    std::uint64_t stamp = 0;
    for (const int tile : tilesOnDisk(file))
        stamp = combine(stamp, combine(static_cast<std::uint64_t>(tile), one(tileFile(file, tile))));
    return stamp;
}

std::size_t sizeOf(const Result<std::shared_ptr<const MapImage>>& image) {
    return image ? (*image)->byteSize() : 0;
}

}  // namespace

Result<std::shared_ptr<const MapImage>> ImageStore::get(const std::filesystem::path& file,
                                                        const std::string& encoding,
                                                        const ColourManagement& colours) {
    // The same name may stand for another space in another configuration.
    const std::string key = encoding + "|" + file.string() + "|" + colours.identity();
    const std::uint64_t stamp = stampOf(file);
    {
        const std::lock_guard lock(m_mutex);
        if (const auto at = m_entries.find(key); at != m_entries.end() && at->second.stamp == stamp) {
            m_recent.splice(m_recent.begin(), m_recent, at->second.place);
            return at->second.image;
        }
    }
    auto image = MapImage::load(file, encoding, colours);
    const std::lock_guard lock(m_mutex);
    if (const auto old = m_entries.find(key); old != m_entries.end()) {
        m_bytes -= sizeOf(old->second.image);
        m_recent.erase(old->second.place);
        m_entries.erase(old);
    }
    m_recent.push_front(key);
    m_bytes += sizeOf(image);
    m_entries.emplace(key, Entry{image, stamp, m_recent.begin()});
    trim();
    return image;
}

void ImageStore::trim() {
    while (m_bytes > m_limit && m_recent.size() > 1) {
        const auto oldest = m_entries.find(m_recent.back());
        m_bytes -= sizeOf(oldest->second.image);
        m_entries.erase(oldest);
        m_recent.pop_back();
    }
}

std::size_t ImageStore::bytesInUse() const {
    const std::lock_guard lock(m_mutex);
    return m_bytes;
}

}  // namespace kettle
