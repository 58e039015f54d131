#include "core/base/memory.h"

#include <fmt/format.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>
#include <limits>

namespace kettle {
namespace {

constexpr std::uint64_t kUnknown = std::numeric_limits<std::uint64_t>::max();

/// The number behind a key of a file of "key: number kB" lines.
std::uint64_t kilobytesOf(const char* file, const std::string& key) {
    std::ifstream in(file);
    for (std::string word; in >> word;)
        if (word == key) {
            std::uint64_t value = 0;
            if (in >> value) return value << 10;
        }
    return kUnknown;
}

/// A number in a file of its own; "max" and a file that is not there are no limit.
std::uint64_t numberIn(const char* file) {
    std::ifstream in(file);
    std::uint64_t value = 0;
    return in >> value ? value : kUnknown;
}

std::uint64_t leftOf(std::uint64_t limit, std::uint64_t used) {
    return limit == kUnknown || used == kUnknown ? kUnknown : limit - std::min(limit, used);
}

}  // namespace

std::uint64_t memoryLeft() {
    std::uint64_t left = kilobytesOf("/proc/meminfo", "MemAvailable:");
    rlimit own{};
    if (getrlimit(RLIMIT_AS, &own) == 0 && own.rlim_cur != RLIM_INFINITY)
        left = std::min(left, leftOf(own.rlim_cur, kilobytesOf("/proc/self/status", "VmSize:")));
    return std::min(left,
                    leftOf(numberIn("/sys/fs/cgroup/memory.max"), numberIn("/sys/fs/cgroup/memory.current")));
}

std::string sizeInWords(std::uint64_t bytes) {
    constexpr std::uint64_t kKilo = 1024, kMega = kKilo * kKilo;
    if (bytes < kMega) return fmt::format("{} KB", (bytes + kKilo - 1) / kKilo);
    if (bytes < 1000 * kMega) return fmt::format("{} MB", (bytes + kMega - 1) / kMega);
    return fmt::format("{:.1f} GB", static_cast<double>(bytes) / static_cast<double>(kKilo * kMega));
}

Result<void> needMemory(std::uint64_t bytes, const std::string& doing, const std::string& instead) {
    const std::uint64_t left = memoryLeft();
    if (bytes <= left) return {};
    return fail(ErrorKind::NoMemory,
                fmt::format("Cannot {}: it needs about {} MB of memory and {} MB are free. {}", doing,
                            (bytes >> 20) + 1, left >> 20, instead));
}

}  // namespace kettle
