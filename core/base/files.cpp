#include "core/base/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <iterator>

namespace kettle {
namespace fs = std::filesystem;

Result<std::string> readFile(const fs::path& path) {
    std::error_code code;
    if (!fs::exists(path, code))
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find {}. Check the name and the folder.", path.string()));
    if (fs::is_directory(path, code))
        return fail(ErrorKind::Unreadable,
                    fmt::format("{} is a folder, not a file. Name a file.", path.string()));
    std::ifstream in(path, std::ios::binary);
    std::string bytes{std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
    if (!in)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read {}. Check its permissions.", path.string()),
                    std::strerror(errno));
    return bytes;
}

Result<void> replaceAtomically(const fs::path& path,
                               const std::function<Result<void>(const fs::path&)>& write) {
    // The extension stays at the end, since picture writers choose their format by it.
    fs::path temporary = path.parent_path() / fmt::format(".{}.{}.part{}", path.stem().string(), ::getpid(),
                                                          path.extension().string());
    std::error_code code;
    if (auto done = write(temporary); !done) {
        fs::remove(temporary, code);
        return done;
    }
    const int file = ::open(temporary.c_str(), O_RDONLY | O_CLOEXEC);
    const bool flushed = file >= 0 && ::fsync(file) == 0;
    const std::string why = flushed ? "" : std::strerror(errno);
    if (file >= 0) ::close(file);
    if (flushed) fs::rename(temporary, path, code);
    if (!flushed || code) {
        const std::string detail = flushed ? code.message() : why;
        fs::remove(temporary, code);
        return fail(ErrorKind::Write,
                    fmt::format("Cannot write {}. Check that the folder exists and has room.", path.string()),
                    detail);
    }
    return {};
}

Result<void> writeFileAtomically(const fs::path& path, std::string_view bytes) {
    return replaceAtomically(path, [&](const fs::path& temporary) -> Result<void> {
        std::ofstream out(temporary, std::ios::binary | std::ios::trunc);
        out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        out.flush();
        if (!out)
            return fail(
                ErrorKind::Write,
                fmt::format("Cannot write {}. Check that the folder exists and has room.", path.string()),
                std::strerror(errno));
        return {};
    });
}

}  // namespace kettle
