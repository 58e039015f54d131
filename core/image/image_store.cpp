#include "core/image/image_store.h"

#include "core/base/hash.h"
#include "core/threads/parallel.h"

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
    if (!isTilePattern(file)) return one(file);
    std::uint64_t stamp = 0;
    for (const int tile : tilesOnDisk(file))
        stamp = combine(stamp, combine(static_cast<std::uint64_t>(tile), one(tileFile(file, tile))));
    return stamp;
}

}  // namespace

Result<std::shared_ptr<const MapImage>> ImageStore::get(const std::filesystem::path& file,
                                                        const std::string& encoding,
                                                        const ColourManagement& colours) {
    // The same name may stand for another space in another configuration.
    const std::string key = encoding + "|" + file.string() + "|" + colours.identity();
    const std::uint64_t stamp = stampOf(file);
    std::promise<Loaded> promise;
    std::shared_ptr<const PreparedMaps> prepared;
    {
        std::unique_lock lock(m_mutex);
        const auto at = m_entries.find(key);
        if (at != m_entries.end() && at->second.stamp == stamp) {
            m_recent.splice(m_recent.begin(), m_recent, at->second.place);
            const std::shared_future<Loaded> image = at->second.image;
            lock.unlock();
            return image.get();
        }
        prepared = m_prepared;
        if (at != m_entries.end()) forget(at);
        m_recent.push_front(key);
        m_entries.emplace(key, Entry{promise.get_future().share(), stamp, 0, m_recent.begin()});
    }
    Loaded image = guarded("read " + file.string(),
                           [&] { return MapImage::load(file, encoding, colours, prepared.get()); });
    promise.set_value(image);
    prepareLater(image);
    const std::lock_guard lock(m_mutex);
    const auto entry = m_entries.find(key);
    if (entry == m_entries.end() || entry->second.stamp != stamp) return image;  // the file has changed since
    // No memory is no fault of the file: asked again, it may be read.
    if (!image && image.error().kind == ErrorKind::NoMemory) return forget(entry), image;
    entry->second.bytes = image ? (*image)->byteSize() : 0;
    m_bytes += entry->second.bytes;
    trim();
    return image;
}

ImageStore::~ImageStore() {
    {
        const std::lock_guard lock(m_mutex);
        m_ends = true;
    }
    m_wake.notify_all();
    if (m_preparing.joinable()) m_preparing.join();
}

void ImageStore::prepareIn(const std::filesystem::path& folder, bool keeps) {
    const std::lock_guard lock(m_mutex);
    m_prepared = std::make_shared<const PreparedMaps>(folder);
    m_keeps = keeps;
    if (keeps && !m_preparing.joinable()) m_preparing = std::thread([this] { work(); });
}

void ImageStore::prepareLater(const Loaded& image) {
    if (!image || !(*image)->isWorthPreparing()) return;
    {
        const std::lock_guard lock(m_mutex);
        if (!m_keeps) return;
        m_toPrepare.push_back(*image);
    }
    m_wake.notify_all();
}

/// One map after the other, at low priority. What is waiting when the store ends is kept too: a tool that
/// runs for a second would otherwise never prepare anything.
void ImageStore::work() {
    const GiveWay giveWay;
    std::unique_lock lock(m_mutex);
    while (!m_ends || !m_toPrepare.empty()) {
        if (m_toPrepare.empty()) {
            m_wake.wait(lock);
            continue;
        }
        const std::shared_ptr<const MapImage> image = m_toPrepare.front().lock();
        const std::shared_ptr<const PreparedMaps> prepared = m_prepared;
        m_toPrepare.pop_front();
        lock.unlock();
        if (image)
            static_cast<void>(guarded("prepare a map", [&]() -> Result<void> {
                image->prepare(*prepared);
                return {};
            }));
        lock.lock();
    }
}

Result<ImageInfo> ImageStore::info(const std::filesystem::path& file) {
    const std::uint64_t stamp = stampOf(file);
    {
        const std::lock_guard lock(m_mutex);
        if (const auto at = m_infos.find(file.string()); at != m_infos.end() && at->second.stamp == stamp)
            return at->second.info;
    }
    Result<ImageInfo> info = inspectImage(file);
    const std::lock_guard lock(m_mutex);
    m_infos.insert_or_assign(file.string(), Known{info, stamp});
    return info;
}

void ImageStore::forget(std::map<std::string, Entry>::iterator entry) {
    m_bytes -= entry->second.bytes;
    m_recent.erase(entry->second.place);
    m_entries.erase(entry);
}

void ImageStore::trim() {
    while (m_bytes > m_limit && m_recent.size() > 1) forget(m_entries.find(m_recent.back()));
}

std::size_t ImageStore::bytesInUse() const {
    const std::lock_guard lock(m_mutex);
    return m_bytes;
}

}  // namespace kettle
