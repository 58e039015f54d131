#include "core/scene/read_apart.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "core/image/picture_library.h"
#include "core/scene/mesh_bytes.h"

namespace kettle {
namespace {

/// Nameless shared memory that the child fills and the parent reads.
class SharedFile {
public:
    SharedFile() : m_file(memfd_create("mesh", MFD_CLOEXEC)) {}
    ~SharedFile() {
        if (m_file >= 0) ::close(m_file);
    }
    SharedFile(const SharedFile&) = delete;
    SharedFile& operator=(const SharedFile&) = delete;
    bool isOpen() const { return m_file >= 0; }
    bool put(const void* bytes, std::size_t count) {
        const char* from = static_cast<const char*>(bytes);
        while (count > 0) {
            const ssize_t done = ::write(m_file, from, count);
            if (done < 0 && errno == EINTR) continue;
            if (done <= 0) return false;
            from += done, count -= static_cast<std::size_t>(done);
        }
        return true;
    }
    bool rewind() { return ::lseek(m_file, 0, SEEK_SET) == 0; }
    bool take(void* bytes, std::size_t count) {
        char* to = static_cast<char*>(bytes);
        while (count > 0) {
            const ssize_t done = ::read(m_file, to, count);
            if (done < 0 && errno == EINTR) continue;
            if (done <= 0) return false;
            to += done, count -= static_cast<std::size_t>(done);
        }
        return true;
    }
    std::uint64_t size() const {
        struct stat facts {};
        return ::fstat(m_file, &facts) == 0 ? static_cast<std::uint64_t>(facts.st_size) : 0;
    }

private:
    int m_file;
};

bool putResult(SharedFile& file, const Result<Mesh>& result) {
    const PutBytes put = [&](const void* bytes, std::size_t count) { return file.put(bytes, count); };
    const int kind = result ? -1 : static_cast<int>(result.error().kind);
    if (!put(&kind, sizeof kind)) return false;
    return result ? putMesh(*result, put)
                  : putText(result.error().sentence, put) && putText(result.error().detail, put);
}

/// Nothing if what stands there is not whole.
std::optional<Result<Mesh>> takeResult(SharedFile& file) {
    const TakeBytes take = [&](void* bytes, std::size_t count) { return file.take(bytes, count); };
    int kind = 0;
    if (!file.rewind() || !take(&kind, sizeof kind)) return std::nullopt;
    if (kind < 0) {
        auto mesh = takeMesh(take, file.size());
        if (!mesh) return std::nullopt;
        return std::move(*mesh);
    }
    auto sentence = takeText(take, file.size());
    auto detail = takeText(take, file.size());
    if (!sentence || !detail) return std::nullopt;
    return fail(Error{static_cast<ErrorKind>(kind), std::move(*sentence), std::move(*detail)});
}

[[noreturn]] void beTheChild(SharedFile& file, const std::function<Result<Mesh>()>& read) {
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    // What a library prints while it dies is nobody's business.
    if (const int nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC); nowhere >= 0)
        ::dup2(nowhere, STDERR_FILENO);
    for (const int number : {SIGABRT, SIGSEGV, SIGBUS, SIGFPE, SIGILL}) ::signal(number, SIG_DFL);
    const Result<Mesh> result = guarded("read the model", read);
    // Without the parent's endings: its files and threads are not this process's to close.
    ::_exit(putResult(file, result) ? 0 : 1);
}

}  // namespace

namespace {
// The address sanitizer's own memory may be locked by another thread at the moment of the fork, and its child
// then stands still for ever (the system's memory is made ready for it): another one is begun.
#ifdef __SANITIZE_ADDRESS__
constexpr std::chrono::milliseconds kSilence(4000);
#else
constexpr std::chrono::milliseconds kSilence = std::chrono::hours(24);
#endif

/// Not while the image library is being loaded.
pid_t forked() {
    const std::lock_guard lock(pictureLibraryMutex());
    return ::fork();
}
}  // namespace

Result<Mesh> readApart(const std::function<Result<Mesh>()>& read, const std::filesystem::path& file,
                       std::chrono::milliseconds longest, const CancelToken& cancel) {
    SharedFile shared;
    pid_t child = shared.isOpen() ? forked() : -1;
    if (child == 0) beTheChild(shared, read);
    if (child < 0)
        return fail(ErrorKind::NoMemory,
                    fmt::format("Cannot read the model {}: there is not enough memory. Close other programs.",
                                file.string()),
                    std::strerror(errno));
    auto begun = std::chrono::steady_clock::now();
    const auto end = begun + longest;
    int status = 0;
    pid_t ended = 0;
    for (auto pause = std::chrono::microseconds(100); ended == 0;
         pause = std::min(2 * pause, std::chrono::microseconds(5000))) {
        ended = ::waitpid(child, &status, WNOHANG);
        if (ended < 0 && errno == EINTR) ended = 0;
        if (ended != 0) break;
        const bool isLate = std::chrono::steady_clock::now() > end;
        if (isLate || cancel.isCancelled()) {
            ::kill(child, SIGKILL);
            ::waitpid(child, &status, 0);
            if (!isLate) return fail(ErrorKind::Cancelled, "Reading the model was stopped.");
            return fail(
                ErrorKind::Unreadable,
                fmt::format("Cannot read the model {}: it took longer than {} seconds. Save it again as OBJ, "
                            "GLB or PLY.",
                            file.string(), (longest.count() + 999) / 1000));
        }
        if (std::chrono::steady_clock::now() - begun > kSilence && shared.size() == 0) {
            ::kill(child, SIGKILL);
            ::waitpid(child, &status, 0);
            if ((child = forked()) == 0) beTheChild(shared, read);
            if (child < 0) break;
            begun = std::chrono::steady_clock::now();
        }
        std::this_thread::sleep_for(pause);
    }
    if (WIFEXITED(status) && WEXITSTATUS(status) == 0)
        if (auto result = takeResult(shared)) return std::move(*result);
    return fail(ErrorKind::Unreadable,
                fmt::format("Cannot read the model {}: it is damaged. Save it again as OBJ, GLB or PLY.",
                            file.string()),
                WIFSIGNALED(status) ? strsignal(WTERMSIG(status)) : "no whole answer");
}

}  // namespace kettle
