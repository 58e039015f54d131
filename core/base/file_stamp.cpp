#include "core/base/file_stamp.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <array>

#include "core/base/hash.h"

namespace kettle {

std::uint64_t fileStamp(const std::filesystem::path& file) {
    const int number = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (number < 0) return 0;
    struct stat facts {};
    std::uint64_t stamp = 0;
    if (::fstat(number, &facts) == 0 && S_ISREG(facts.st_mode)) {
        stamp = combine(static_cast<std::uint64_t>(facts.st_mtim.tv_sec) * 1'000'000'000u +
                            static_cast<std::uint64_t>(facts.st_mtim.tv_nsec),
                        static_cast<std::uint64_t>(facts.st_size));
        std::array<char, 4096> bytes;
        const off_t last = std::max<off_t>(0, facts.st_size - static_cast<off_t>(bytes.size()));
        for (const off_t at : {off_t{0}, last / 2, last}) {
            const ssize_t got = ::pread(number, bytes.data(), bytes.size(), at);
            if (got > 0) stamp = combine(stamp, hashText({bytes.data(), static_cast<std::size_t>(got)}));
        }
    }
    ::close(number);
    return stamp == 0 ? 1 : stamp;
}

}  // namespace kettle
