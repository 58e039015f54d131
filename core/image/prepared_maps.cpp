#include "core/image/prepared_maps.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#define XXH_INLINE_ALL
#include <xxhash.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <cstring>
#include <mutex>

#include "core/base/hash.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kAligned = 4096;
constexpr int kMostLevels = 32;

/// The first page of a file; the levels follow, each at the next multiple of a page.
struct Header {
    char mark[8];
    std::uint64_t key, stamp, notFinite, bytes;
    std::int32_t width, height, channels, depth, levels;
    std::uint64_t checksums[kMostLevels];
};
constexpr char kMark[8] = {'P', 'K', 'm', 'a', 'p', 's', '0', '2'};
/// Levels up to this size together are checked as soon as a file is mapped; what is looked at from afar is
/// among them.
constexpr std::size_t kCheckedAtOnce = std::size_t{256} << 10;

std::size_t padded(std::size_t bytes) {
    return (bytes + kAligned - 1) / kAligned * kAligned;
}

std::uint64_t hashOf(const std::string& text) {
    // FNV-1a, 64 bits.
    std::uint64_t hash = 14695981039346656037u;
    for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211u;
    return hash;
}

std::size_t sizeOf(const PixelView& level) {
    return level.rowBytes() * static_cast<std::size_t>(level.height);
}

std::uint64_t checksumOf(const PixelView& level) {
    return XXH3_64bits(level.data, sizeOf(level));
}

class Mapped final : public PreparedTile {
public:
    Mapped(const void* base, std::size_t size) : m_base(base), m_size(size) {}
    ~Mapped() override { ::munmap(const_cast<void*>(m_base), m_size); }
    Mapped(const Mapped&) = delete;
    Mapped& operator=(const Mapped&) = delete;

    void rest() const override { ::madvise(const_cast<void*>(m_base), m_size, MADV_DONTNEED); }
    /// False if what stands in the file is not whole, or another picture.
    bool readHeader(std::uint64_t key, std::uint64_t stamp) {
        Header h;
        std::memcpy(&h, m_base, sizeof h);
        if (std::memcmp(h.mark, kMark, sizeof kMark) != 0 || h.key != key || h.stamp != stamp ||
            h.bytes != m_size || h.width < 1 || h.height < 1 || h.channels < 1 || h.channels > 4 ||
            h.depth < 0 || h.depth > 3 || h.levels < 1 || h.levels > kMostLevels)
            return false;
        m_notFinite = h.notFinite;
        std::size_t at = kAligned;
        PixelView level;
        level.width = h.width, level.height = h.height, level.channels = h.channels;
        level.depth = static_cast<Depth>(h.depth);
        for (int i = 0; i < h.levels; ++i) {
            const std::size_t bytes = sizeOf(level);
            if (at + bytes > m_size) return false;
            level.data = static_cast<const std::byte*>(m_base) + at;
            m_levels.push_back(level);
            at += padded(bytes);
            level.width = std::max(1, level.width / 2), level.height = std::max(1, level.height / 2);
        }
        std::copy_n(h.checksums, m_levels.size(), m_checksums.begin());
        std::size_t bytes = 0;
        for (std::size_t i = m_levels.size(); i-- > 0 && (bytes += sizeOf(m_levels[i])) <= kCheckedAtOnce;)
            if (!isLevelSound(i)) return false;
        return true;
    }
    bool isSound() const override {
        std::call_once(m_checked, [this] {
            m_isSound = true;
            for (std::size_t i = 0; m_isSound && i < m_levels.size(); ++i) m_isSound = isLevelSound(i);
        });
        return m_isSound;
    }

private:
    bool isLevelSound(std::size_t i) const { return checksumOf(m_levels[i]) == m_checksums[i]; }
    const void* m_base;
    std::size_t m_size;
    std::array<std::uint64_t, kMostLevels> m_checksums{};
    mutable std::once_flag m_checked;
    mutable bool m_isSound = false;
};

/// All or nothing; false for a disk without room.
bool writeAll(int file, const void* from, std::size_t count) {
    const char* bytes = static_cast<const char*>(from);
    while (count > 0) {
        const ssize_t done = ::write(file, bytes, count);
        if (done < 0 && errno == EINTR) continue;
        if (done <= 0) return false;
        bytes += done, count -= static_cast<std::size_t>(done);
    }
    return true;
}

}  // namespace

PreparedMaps::PreparedMaps(fs::path folder, std::uint64_t limit)
    : m_folder(std::move(folder)), m_limit(limit) {
    if (m_limit > 0) return;
    constexpr std::uint64_t kLeast = std::uint64_t{8} << 30, kMost = std::uint64_t{64} << 30;
    std::error_code code;
    fs::path there = m_folder;
    while (!there.empty() && !fs::exists(there, code) && there != there.parent_path())
        there = there.parent_path();
    const fs::space_info space = fs::space(there, code);
    m_limit = code ? kLeast : std::clamp<std::uint64_t>(space.available / 4, kLeast, kMost);
}

fs::path PreparedMaps::standardFolder() {
    const char* cache = std::getenv("XDG_CACHE_HOME");
    const char* home = std::getenv("HOME");
    if (cache != nullptr && *cache != 0) return fs::path(cache) / "pale-kettle" / "maps";
    return home != nullptr && *home != 0 ? fs::path(home) / ".cache" / "pale-kettle" / "maps" : fs::path();
}

fs::path PreparedMaps::fileOf(const std::string& key) const {
    return m_folder / fmt::format("{:016x}.map", hashOf(key));
}

std::shared_ptr<const PreparedTile> PreparedMaps::find(const std::string& key, std::uint64_t stamp) const {
    if (m_folder.empty()) return nullptr;
    const fs::path path = fileOf(key);
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) return nullptr;
    struct stat facts {};
    std::shared_ptr<Mapped> mapped;
    if (::fstat(file, &facts) == 0 && facts.st_size > static_cast<off_t>(kAligned)) {
        const auto size = static_cast<std::size_t>(facts.st_size);
        void* base = ::mmap(nullptr, size, PROT_READ, MAP_SHARED, file, 0);
        if (base != MAP_FAILED) mapped = std::make_shared<Mapped>(base, size);
    }
    if (mapped && !mapped->readHeader(hashOf(key), stamp)) {
        mapped.reset();
        forget(key);
    }
    if (mapped) ::futimens(file, nullptr);  // it was used now
    ::close(file);
    return mapped;
}

void PreparedMaps::keep(const std::string& key, std::uint64_t stamp, const std::vector<PixelView>& levels,
                        std::size_t notFinite) const {
    if (m_folder.empty() || levels.empty() || levels.size() > kMostLevels) return;
    Header h{};
    std::memcpy(h.mark, kMark, sizeof kMark);
    h.key = hashOf(key), h.stamp = stamp, h.notFinite = notFinite;
    h.width = levels[0].width, h.height = levels[0].height, h.channels = levels[0].channels;
    h.depth = static_cast<std::int32_t>(levels[0].depth);
    h.levels = static_cast<std::int32_t>(levels.size());
    h.bytes = kAligned;
    for (std::size_t i = 0; i < levels.size(); ++i) {
        h.bytes += padded(sizeOf(levels[i]));
        h.checksums[i] = checksumOf(levels[i]);
    }
    if (h.bytes > m_limit / 2) return;
    std::error_code code;
    fs::create_directories(m_folder, code);
    makeRoom(h.bytes);
    // A disk that is nearly full is not the place for a convenience.
    if (const auto space = fs::space(m_folder, code); code || space.available < 4 * h.bytes) return;
    const fs::path path = fileOf(key);
    const fs::path part = path.string() + fmt::format(".{}.part", ::getpid());
    const int file = ::open(part.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0600);
    if (file < 0) return;
    std::vector<char> page(kAligned, 0);
    std::memcpy(page.data(), &h, sizeof h);
    bool done = writeAll(file, page.data(), kAligned);
    std::fill(page.begin(), page.end(), '\0');
    for (const PixelView& level : levels) {
        const std::size_t bytes = sizeOf(level);
        done =
            done && writeAll(file, level.data, bytes) && writeAll(file, page.data(), padded(bytes) - bytes);
    }
    done = ::close(file) == 0 && done;
    if (done) fs::rename(part, path, code);
    if (!done || code) fs::remove(part, code);
}

void PreparedMaps::forget(const std::string& key) const {
    std::error_code code;
    if (!m_folder.empty()) fs::remove(fileOf(key), code);
}

void PreparedMaps::makeRoom(std::uint64_t bytes) const {
    struct Kept {
        fs::file_time_type used;
        std::uint64_t size;
        fs::path file;
    };
    std::vector<Kept> all;
    std::uint64_t sum = bytes;
    std::error_code code;
    for (fs::directory_iterator it(m_folder, code), end; !code && it != end; it.increment(code)) {
        std::error_code own;
        const auto size = it->file_size(own);
        const auto used = it->last_write_time(own);
        if (own) continue;
        all.push_back({used, size, it->path()});
        sum += size;
    }
    std::sort(all.begin(), all.end(), [](const Kept& a, const Kept& b) { return a.used < b.used; });
    for (const Kept& kept : all) {
        if (sum <= m_limit) break;
        fs::remove(kept.file, code);
        sum -= kept.size;
    }
}

}  // namespace kettle
