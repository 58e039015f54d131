// The bounded cache of maps in memory: what was used last stays, what no longer fits goes. Shared by every
// view.
#pragma once

#include <condition_variable>
#include <cstddef>
#include <filesystem>
#include <functional>
#include <future>
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <utility>

#include "core/image/map_image.h"
#include "core/threads/parallel.h"

namespace kettle {

class GrowingMap;

class ImageStore {
public:
    /// byteLimit: how much the store keeps; maps in use beyond it stay alive only as long as somebody holds
    /// them.
    explicit ImageStore(std::size_t byteLimit = std::size_t{2} << 30) : m_limit(byteLimit) {}
    ~ImageStore();
    ImageStore(const ImageStore&) = delete;
    ImageStore& operator=(const ImageStore&) = delete;

    /// Takes what lies prepared in a folder from now on (prepared_maps.h), and with `keeps` prepares what is
    /// read, behind everything else.
    void prepareIn(const std::filesystem::path& folder, bool keeps);

    /// Where things lie prepared, and whether what is read is kept there; null: nowhere. Threads: safe.
    std::pair<std::shared_ptr<const PreparedMaps>, bool> prepared() const;

    /// The map, read if needed; a changed file (time or size) is read again. A failure is remembered until
    /// the file changes. What was mapped from a prepared file is checked whole before it is given, and read
    /// from its own file if it is damaged. Errors: those of MapImage::load. Threads: safe; who asks for what
    /// another is reading waits for it.
    Result<std::shared_ptr<const MapImage>> get(const std::filesystem::path& file, const MapReading& how,
                                                const ColourManagement& colours);
    /// The same, but of a map in tiles what has been read so far: the rest is read behind everything else,
    /// and told of by what onArrival was given. Waits for the first tile alone; who does not wait gets null
    /// for a map of which nothing is there yet, if it is in tiles or large. Threads: safe.
    Result<std::shared_ptr<const MapImage>> soFar(const std::filesystem::path& file, const MapReading& how,
                                                  const ColourManagement& colours, bool waits = true);
    /// Tiles that were read, of all that maps being read consist of; a map that is not in tiles is one.
    struct Arrived {
        std::size_t read = 0, all = 0;
    };
    /// Called when reading begins, on a thread of the store when soFar has more to give, a few times a second
    /// while maps are read, and with 0 of 0 when all are there. What it borrows must live as long as the
    /// store, or until another is given.
    void onArrival(std::function<void(Arrived)> tell);
    /// Gives pages of prepared maps back to the system if many are in memory.
    void rest() const;
    /// What the file's header says, as inspectImage; asked again only when the file has changed.
    Result<ImageInfo> info(const std::filesystem::path& file, const std::string& channels = {});
    /// What info() was told last, without asking the disk: for a thread that must not wait. Nothing if nobody
    /// has asked yet, or the file could not be read.
    std::optional<ImageInfo> knownInfo(const std::filesystem::path& file,
                                       const std::string& channels = {}) const;
    std::size_t bytesInUse() const;

private:
    using Loaded = Result<std::shared_ptr<const MapImage>>;
    Loaded loaded(const std::filesystem::path& file, const MapReading& how, const ColourManagement& colours,
                  std::shared_ptr<const PreparedMaps> prepared);
    void checkLater(const std::string& key, const Loaded& image);
    void checkNext(std::unique_lock<std::mutex>& lock);
    struct Entry {
        std::shared_future<Loaded> image;
        std::uint64_t stamp;
        std::size_t bytes;  ///< 0 while it is being read
        std::list<std::string>::iterator place;
    };
    struct Known {
        Result<ImageInfo> info;
        std::uint64_t stamp;
    };
    /// A map in tiles that soFar was asked for and that is not whole.
    struct Growing {
        std::shared_ptr<GrowingMap> map;
        std::shared_ptr<std::promise<Loaded>> promise;
        std::uint64_t stamp;
    };
    std::shared_ptr<GrowingMap> growing(const std::string& key, std::uint64_t stamp,
                                        const std::filesystem::path& file, const MapReading& how,
                                        const ColourManagement& colours);
    Loaded took(const std::string& key, std::uint64_t stamp, Loaded image, std::promise<Loaded>& promise);
    using Reading = std::vector<std::pair<std::string, std::shared_ptr<GrowingMap>>>;
    bool isLarge(const std::filesystem::path& file, const MapReading& how);
    void finish(const std::string& key, const GrowingMap& map);
    Arrived arrived() const;
    Reading nextTurn(std::string& last) const;
    void readTurn(const Reading& turn);
    void tell(bool again);
    void readOn();
    void prepareLater(const Loaded& image);
    void work();
    void forget(std::map<std::string, Entry>::iterator entry);
    void trim();

    mutable std::mutex m_mutex;
    std::size_t m_limit, m_bytes = 0;
    std::list<std::string> m_recent;  ///< newest first
    std::map<std::string, Entry> m_entries;
    std::map<std::string, Known> m_infos;
    std::shared_ptr<const PreparedMaps> m_prepared;
    std::thread m_preparing;
    std::condition_variable m_wake;
    std::list<std::weak_ptr<const MapImage>> m_toPrepare;
    /// Mapped images that nobody has checked whole yet, with their keys.
    std::list<std::pair<std::string, std::weak_ptr<const MapImage>>> m_toCheck;
    std::map<std::string, Growing> m_growing;
    std::thread m_reading;
    std::size_t m_begun = 0;  ///< tiles of all maps since none was being read
    CancelToken m_stopsReading;
    std::mutex m_telling;
    std::function<void(Arrived)> m_tell;
    bool m_ends = false, m_keeps = false;
    bool m_owesEnd = false;  ///< was told of a beginning, and not yet of its end
};

}  // namespace kettle
