#include "core/image/image_store.h"

#include <unistd.h>

#include <chrono>
#include <cstdio>

#include "core/base/hash.h"
#include "core/image/growing_map.h"
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

/// The same name may stand for another space in another configuration.
std::string keyOf(const std::filesystem::path& file, const MapReading& how, const ColourManagement& colours) {
    return how.encoding + "|" + file.string() + "|" + colours.identity() + "|" + how.channels;
}

}  // namespace

Result<std::shared_ptr<const MapImage>> ImageStore::get(const std::filesystem::path& file,
                                                        const MapReading& how,
                                                        const ColourManagement& colours) {
    const std::shared_ptr<const PreparedMaps> prepared = this->prepared().first;
    Loaded image = loaded(file, how, colours, prepared);
    if (!image || (*image)->isSound(prepared.get())) return image;
    {
        const std::lock_guard lock(m_mutex);
        const auto at = m_entries.find(keyOf(file, how, colours));
        if (at != m_entries.end()) forget(at);
    }
    // Not from the cache, whose damaged file may be one that could not be removed.
    return loaded(file, how, colours, nullptr);
}

ImageStore::Loaded ImageStore::loaded(const std::filesystem::path& file, const MapReading& how,
                                      const ColourManagement& colours,
                                      std::shared_ptr<const PreparedMaps> prepared) {
    const std::string key = keyOf(file, how, colours);
    const std::uint64_t stamp = stampOf(file);
    std::promise<Loaded> promise;
    bool keeps = false;
    {
        std::unique_lock lock(m_mutex);
        const auto at = m_entries.find(key);
        if (at != m_entries.end() && at->second.stamp == stamp) {
            m_recent.splice(m_recent.begin(), m_recent, at->second.place);
            const std::shared_future<Loaded> image = at->second.image;
            lock.unlock();
            return image.get();
        }
        keeps = m_keeps && prepared != nullptr;
        if (at != m_entries.end()) forget(at);
        m_recent.push_front(key);
        m_entries.emplace(key, Entry{promise.get_future().share(), stamp, 0, m_recent.begin()});
    }
    Loaded image =
        guarded("read " + file.string(), [&] { return MapImage::load(file, how, colours, prepared, keeps); });
    return took(key, stamp, std::move(image), promise);
}

/// What is shown at once from a prepared file is checked behind everything else.
void ImageStore::checkLater(const std::string& key, const Loaded& image) {
    if (!image || (*image)->byteSize() > 0) return;
    {
        const std::lock_guard lock(m_mutex);
        m_toCheck.emplace_back(key, *image);
    }
    m_wake.notify_all();
}

/// With the lock held, which is given up meanwhile. A damaged map leaves the store, and whoever shows it is
/// told to ask again.
void ImageStore::checkNext(std::unique_lock<std::mutex>& lock) {
    const auto [key, held] = std::move(m_toCheck.front());
    m_toCheck.pop_front();
    const std::shared_ptr<const PreparedMaps> prepared = m_prepared;
    lock.unlock();
    const std::shared_ptr<const MapImage> image = held.lock();
    const bool isSound = image == nullptr || image->isSound(prepared.get());
    lock.lock();
    const auto at = m_entries.find(key);
    if (isSound || at == m_entries.end()) return;
    forget(at);
    m_owesEnd = true;
    lock.unlock();
    tell(true);
    lock.lock();
}

/// What was read stands in the store from now on.
ImageStore::Loaded ImageStore::took(const std::string& key, std::uint64_t stamp, Loaded image,
                                    std::promise<Loaded>& promise) {
    promise.set_value(image);
    prepareLater(image);
    checkLater(key, image);
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

Result<std::shared_ptr<const MapImage>> ImageStore::soFar(const std::filesystem::path& file,
                                                          const MapReading& how,
                                                          const ColourManagement& colours, bool waits) {
    if (!isTilePattern(file) && !isLarge(file, how)) return loaded(file, how, colours, prepared().first);
    const std::string key = keyOf(file, how, colours);
    const std::shared_ptr<GrowingMap> map = growing(key, stampOf(file), file, how, colours);
    if (map == nullptr) return loaded(file, how, colours, prepared().first);
    if (auto image = map->soFar()) return image;
    map->findPrepared();
    if (!map->isEnded()) tell(false);
    while (waits && !map->soFar() && !map->isEnded()) {
        const std::size_t done = map->done();
        if (map->readMore(1, m_stopsReading) == 0) map->waitBeyond(done);
    }
    if (map->isEnded()) {
        finish(key, *map);
        return loaded(file, how, colours, prepared().first);
    }
    if (auto image = map->soFar(); image || !waits) return image;
    return loaded(file, how, colours, prepared().first);
}

/// Takes long enough to read that other maps are shown meanwhile.
bool ImageStore::isLarge(const std::filesystem::path& file, const MapReading& how) {
    constexpr double kLarge = 6e6;
    const Result<ImageInfo> known = info(file, how.channels);
    return known && static_cast<double>(known->width) * known->height > kLarge;
}

/// The map that is being read, begun if it must be; null if the store has it, or waits for it already.
std::shared_ptr<GrowingMap> ImageStore::growing(const std::string& key, std::uint64_t stamp,
                                                const std::filesystem::path& file, const MapReading& how,
                                                const ColourManagement& colours) {
    const std::lock_guard lock(m_mutex);
    if (const auto at = m_growing.find(key); at != m_growing.end() && at->second.stamp == stamp)
        return at->second.map;
    const auto entry = m_entries.find(key);
    if (entry != m_entries.end() && entry->second.stamp == stamp) return nullptr;
    auto map = std::make_shared<GrowingMap>(file, how, colours, m_prepared, m_keeps);
    if (map->all() == 0 || m_ends) return nullptr;
    m_begun += map->all();
    if (entry != m_entries.end()) forget(entry);
    if (const auto old = m_growing.find(key); old != m_growing.end()) {
        old->second.promise->set_value(fail(ErrorKind::Cancelled, "The maps have changed."));
        m_growing.erase(old);
    }
    auto promise = std::make_shared<std::promise<Loaded>>();
    m_recent.push_front(key);
    m_entries.emplace(key, Entry{promise->get_future().share(), stamp, 0, m_recent.begin()});
    m_growing.emplace(key, Growing{map, promise, stamp});
    if (!m_reading.joinable()) m_reading = std::thread([this] { readOn(); });
    return map;
}

void ImageStore::finish(const std::string& key, const GrowingMap& map) {
    std::unique_lock lock(m_mutex);
    const auto at = m_growing.find(key);
    if (at == m_growing.end() || at->second.map.get() != &map) return;  // somebody else was sooner
    const Growing ended = std::move(at->second);
    m_growing.erase(at);
    if (m_growing.empty()) m_begun = 0;
    lock.unlock();
    static_cast<void>(took(key, ended.stamp, map.whole(), *ended.promise));
}

/// Under the lock. A map that was given up, since its file has changed, counts as read.
ImageStore::Arrived ImageStore::arrived() const {
    Arrived arrived{m_begun, m_begun};
    for (const auto& [name, growing] : m_growing) arrived.read -= growing.map->all() - growing.map->done();
    return arrived;
}

/// Tells how far it is; only `again` if it was told that reading goes on.
void ImageStore::tell(bool again) {
    const std::lock_guard telling(m_telling);
    Arrived now;
    {
        const std::lock_guard lock(m_mutex);
        if (!again && m_owesEnd) return;
        now = arrived();
        m_owesEnd = now.all > 0;
    }
    if (m_tell) m_tell(now);
    m_wake.notify_all();
}

/// Under the lock. Maps in turn, as many as have a tile for each core that nobody reads.
ImageStore::Reading ImageStore::nextTurn(std::string& last) const {
    const std::size_t cores = std::max(1u, std::thread::hardware_concurrency());
    Reading turn;
    std::size_t tiles = 0;
    auto next = m_growing.upper_bound(last);
    for (std::size_t i = 0; i < m_growing.size() && tiles < cores; ++i, ++next) {
        if (next == m_growing.end()) next = m_growing.begin();
        const std::size_t left = next->second.map->left();
        if (left == 0) continue;
        tiles += left;
        turn.emplace_back(next->first, next->second.map);
        last = next->first;
    }
    return turn;
}

void ImageStore::readTurn(const Reading& turn) {
    const std::size_t cores = std::max(1u, std::thread::hardware_concurrency());
    parallelFor(turn.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) turn[i].second->readMore(cores, m_stopsReading);
    });
}

/// What others do not wait for: maps in turn, a few tiles of each at a time.
void ImageStore::readOn() {
    using Clock = std::chrono::steady_clock;
    constexpr std::chrono::milliseconds kPause(400), kSoon(10);
    const GiveWay giveWay;
    auto told = Clock::now() - kPause;
    std::string last;
    for (bool isNews = false;;) {
        Reading turn, all;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, [&] { return m_ends || m_owesEnd || !m_growing.empty(); });
            if (m_ends) return;
            turn = nextTurn(last);
            for (const auto& [key, growing] : m_growing) all.emplace_back(key, growing.map);
            // All that is left is being read by those who wait for it.
            if (turn.empty() && !all.empty()) m_wake.wait_for(lock, kSoon, [&] { return m_ends; });
        }
        if (all.empty() || (isNews && Clock::now() - told > kPause)) {
            tell(true);
            told = Clock::now(), isNews = false;
        }
        readTurn(turn);
        isNews = isNews || !turn.empty();
        for (const auto& [key, map] : all)
            if (map->isEnded()) finish(key, *map), isNews = true;
    }
}

void ImageStore::onArrival(std::function<void(Arrived)> tell) {
    const std::lock_guard lock(m_telling);
    m_tell = std::move(tell);
}

void ImageStore::rest() const {
    // Pages of files in this process's memory (proc_pid_statm(5)).
    constexpr long kMany = 640l << 20;
    long all = 0, resident = 0, shared = 0;
    std::FILE* file = std::fopen("/proc/self/statm", "re");
    if (file == nullptr) return;
    const bool isRead = std::fscanf(file, "%ld %ld %ld", &all, &resident, &shared) == 3;
    std::fclose(file);
    if (!isRead || shared * ::sysconf(_SC_PAGESIZE) < kMany) return;
    std::vector<std::shared_ptr<const MapImage>> images;
    {
        const std::lock_guard lock(m_mutex);
        for (const auto& [key, entry] : m_entries)
            if (entry.bytes == 0 && !m_growing.contains(key) && entry.image.valid() &&
                entry.image.wait_for(std::chrono::seconds(0)) == std::future_status::ready &&
                entry.image.get())
                images.push_back(*entry.image.get());
        for (const auto& [key, growing] : m_growing)
            if (auto image = growing.map->soFar()) images.push_back(std::move(image));
    }
    for (const auto& image : images) image->rest();
}

ImageStore::~ImageStore() {
    m_stopsReading.cancel();
    {
        const std::lock_guard lock(m_mutex);
        m_ends = true;
    }
    m_wake.notify_all();
    if (m_reading.joinable()) m_reading.join();
    for (auto& [key, growing] : m_growing)
        growing.promise->set_value(fail(ErrorKind::Cancelled, "Reading the maps was stopped."));
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
        if (!m_ends && !m_toCheck.empty()) {
            checkNext(lock);
            continue;
        }
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

Result<ImageInfo> ImageStore::info(const std::filesystem::path& file, const std::string& channels) {
    // Of tiles the first tells size and depth.
    std::filesystem::path first = file;
    if (isTilePattern(file)) {
        const std::vector<int> tiles = tilesOnDisk(file);
        first = tileFile(file, tiles.empty() ? 1001 : tiles.front());
    }
    const std::uint64_t stamp = stampOf(first);
    const std::string key = file.string() + "|" + channels;
    {
        const std::lock_guard lock(m_mutex);
        if (const auto at = m_infos.find(key); at != m_infos.end() && at->second.stamp == stamp)
            return at->second.info;
    }
    Result<ImageInfo> info = inspectImage(first, channels);
    const std::lock_guard lock(m_mutex);
    m_infos.insert_or_assign(key, Known{info, stamp});
    return info;
}

std::optional<ImageInfo> ImageStore::knownInfo(const std::filesystem::path& file,
                                               const std::string& channels) const {
    const std::lock_guard lock(m_mutex);
    const auto at = m_infos.find(file.string() + "|" + channels);
    return at != m_infos.end() && at->second.info ? std::optional(*at->second.info) : std::nullopt;
}

std::pair<std::shared_ptr<const PreparedMaps>, bool> ImageStore::prepared() const {
    const std::lock_guard lock(m_mutex);
    return {m_prepared, m_keeps};
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
