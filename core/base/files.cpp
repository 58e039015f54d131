#include "core/base/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <random>

#include "core/base/hash.h"

namespace kettle {
namespace fs = std::filesystem;
namespace {

/// A file descriptor that closes itself.
class Descriptor {
public:
    explicit Descriptor(int number) : m_number(number) {}
    ~Descriptor() {
        if (m_number >= 0) ::close(m_number);
    }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    int get() const { return m_number; }
    bool isOpen() const { return m_number >= 0; }
    /// Closing tells of errors that writing did not (a network's disk). True if there were none.
    bool closeChecked() { return ::close(std::exchange(m_number, -1)) == 0; }

private:
    int m_number;
};

bool writeAll(int file, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t done = ::write(file, bytes.data(), std::min<std::size_t>(bytes.size(), 1u << 30));
        if (done < 0 && errno == EINTR) continue;
        if (done <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(done));
    }
    return true;
}

/// Tells this machine's temporary files from another's that works in the same folder.
std::string machineMark() {
    char name[256] = "";
    ::gethostname(name, sizeof name - 1);
    return fmt::format("{:08x}", static_cast<std::uint32_t>(hashText(name)));
}

std::string partPrefix(const fs::path& target) {
    return fmt::format(".{}.{}-", target.filename().string().substr(0, 150), machineMark());
}

/// A name beside the target that nobody else uses: another thread, process, machine or an earlier run.
fs::path partFile(const fs::path& target) {
    static std::atomic<std::uint64_t> counter{std::random_device{}()};
    return target.parent_path() / fmt::format("{}{}-{:x}.part", partPrefix(target), ::getpid(), ++counter);
}

/// Removes what killed runs on this machine left of the same target.
void sweepParts(const fs::path& target) {
    std::error_code code;
    const std::string prefix = partPrefix(target);
    const fs::path folder = target.parent_path().empty() ? fs::path(".") : target.parent_path();
    for (fs::directory_iterator it(folder, code), end; !code && it != end; it.increment(code)) {
        const std::string name = it->path().filename().string();
        if (!name.starts_with(prefix) || !name.ends_with(".part")) continue;
        const long process = std::strtol(name.c_str() + prefix.size(), nullptr, 10);
        if (process > 0 && ::kill(static_cast<pid_t>(process), 0) != 0 && errno == ESRCH) {
            std::error_code ignored;
            fs::remove(it->path(), ignored);
        }
    }
}

/// The file that the path means in the end: through links, so that writing keeps them.
fs::path throughLinks(fs::path path) {
    std::error_code code;
    for (int i = 0; i < 40 && fs::is_symlink(path, code); ++i) {
        const fs::path to = fs::read_symlink(path, code);
        if (code) break;
        path = to.is_absolute() ? to : path.parent_path() / to;
    }
    return path;
}

void flushFolder(const fs::path& target) {
    const fs::path folder = target.parent_path().empty() ? fs::path(".") : target.parent_path();
    const Descriptor opened(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    // Some disks cannot flush a folder; the file itself is safe all the same.
    if (opened.isOpen()) ::fsync(opened.get());
}

/// Writes, flushes and names. False with errno where the system refuses; `part` is then removed.
bool writeAndName(const fs::path& target, const fs::path& part, std::string_view bytes) {
    const fs::path folder = target.parent_path().empty() ? fs::path(".") : target.parent_path();
    struct stat old {};
    const bool replaces = ::stat(target.c_str(), &old) == 0;
#ifdef O_TMPFILE
    Descriptor file(::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0666));
    bool isNameless = file.isOpen();
#else
    Descriptor file(-1);
    bool isNameless = false;
#endif
    Descriptor named(isNameless ? -1 : ::open(part.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666));
    Descriptor& out = isNameless ? file : named;
    if (!out.isOpen()) return false;
    const auto give_up = [&] {
        const int why = errno;
        ::unlink(part.c_str());
        errno = why;
        return false;
    };
    if (replaces) static_cast<void>(::fchmod(out.get(), old.st_mode & 07777));
    if (!writeAll(out.get(), bytes) || ::fsync(out.get()) != 0) return give_up();
    if (isNameless) {
        const std::string self = fmt::format("/proc/self/fd/{}", out.get());
        if (::linkat(AT_FDCWD, self.c_str(), AT_FDCWD, part.c_str(), AT_SYMLINK_FOLLOW) != 0)
            return give_up();
    }
    if (!out.closeChecked() || ::rename(part.c_str(), target.c_str()) != 0) return give_up();
    return true;
}

}  // namespace

Result<void> checkReadable(const fs::path& path, std::uintmax_t largest, const std::string& what) {
    const std::string name = what.empty() ? path.string() : what + " " + path.string();
    struct stat facts {};
    if (::stat(path.c_str(), &facts) != 0) {
        const std::string detail = std::strerror(errno);
        if (errno == EACCES)
            return fail(
                ErrorKind::Unreadable,
                fmt::format("Cannot read {}: its folder does not let you. Check its permissions.", name),
                detail);
        return fail(ErrorKind::Missing, fmt::format("Cannot find {}. Check the name and the folder.", name),
                    detail);
    }
    if (S_ISDIR(facts.st_mode))
        return fail(ErrorKind::Unreadable, fmt::format("{} is a folder, not a file. Name a file.", name));
    if (!S_ISREG(facts.st_mode))
        return fail(ErrorKind::Unreadable,
                    fmt::format("{} is a pipe or a device, not a file. Name a file.", name));
    if (::access(path.c_str(), R_OK) != 0)
        return fail(ErrorKind::Unreadable, fmt::format("You may not read {}. Check its permissions.", name),
                    std::strerror(errno));
    if (static_cast<std::uintmax_t>(facts.st_size) > largest)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read {}: it has {} MB, and at most {} MB are read. Check that it is "
                                "the right file.",
                                name, facts.st_size >> 20, largest >> 20));
    return {};
}

Result<std::string> readFile(const fs::path& path, std::uintmax_t largest) {
    if (auto fine = checkReadable(path, largest); !fine) return fail(fine.error());
    const auto cannot = [&](int why) {
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read {}. Check its permissions.", path.string()), std::strerror(why));
    };
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (!file.isOpen()) return cannot(errno);
    struct stat facts {};
    if (::fstat(file.get(), &facts) != 0) return cannot(errno);
    std::string bytes(static_cast<std::size_t>(facts.st_size), '\0');
    std::size_t at = 0;
    while (at < bytes.size()) {
        const ssize_t got = ::read(file.get(), bytes.data() + at, bytes.size() - at);
        if (got < 0 && errno == EINTR) continue;
        if (got < 0) return cannot(errno);
        if (got == 0) break;  // it has become shorter meanwhile
        at += static_cast<std::size_t>(got);
    }
    bytes.resize(at);
    return bytes;
}

Result<void> checkWritable(const fs::path& path) {
    struct stat facts {};
    if (::stat(path.c_str(), &facts) != 0 || S_ISREG(facts.st_mode)) return {};
    return fail(ErrorKind::Refused,
                fmt::format("{} is {}, and not a file that could be replaced. Choose another name.",
                            path.string(), S_ISDIR(facts.st_mode) ? "a folder" : "a device or a pipe"));
}

Result<void> writeFileAtomically(const fs::path& path, std::string_view bytes) {
    if (auto fine = checkWritable(path); !fine) return fine;
    const fs::path target = throughLinks(path);
    sweepParts(target);
    if (!writeAndName(target, partFile(target), bytes)) {
        const int why = errno;
        std::string todo = "Check that the folder exists and can be written.";
        if (why == ENOSPC || why == EDQUOT || why == EFBIG) todo = "The disk has no room; make some.";
        if (why == EACCES || why == EPERM || why == EROFS)
            todo = "You may not write there; choose another folder.";
        return fail(ErrorKind::Write, fmt::format("Cannot write {}. {}", path.string(), todo),
                    std::strerror(why));
    }
    flushFolder(target);
    return {};
}

std::optional<FileIdentity> identityOf(const fs::path& path) {
    struct stat facts {};
    if (::stat(path.c_str(), &facts) != 0) return std::nullopt;
    return FileIdentity{facts.st_dev, facts.st_ino};
}

std::optional<std::uintmax_t> freeRoom(const fs::path& folder) {
    std::error_code code;
    fs::path there = fs::absolute(folder, code);
    while (!fs::exists(there, code) && there.has_relative_path()) there = there.parent_path();
    const auto room = fs::space(there, code);
    if (code) return std::nullopt;
    return room.available;
}

std::vector<std::string> stemsIn(const std::filesystem::path& folder,
                                 const std::vector<std::string>& extensions) {
    std::vector<std::string> stems;
    std::error_code code;
    for (const auto& entry : std::filesystem::directory_iterator(folder, code))
        if (std::find(extensions.begin(), extensions.end(), entry.path().extension().string()) !=
            extensions.end())
            stems.push_back(entry.path().stem().string());
    std::sort(stems.begin(), stems.end());
    return stems;
}

}  // namespace kettle
