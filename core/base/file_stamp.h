// What tells that a file is still the one that something was made from.
#pragma once

#include <cstdint>
#include <filesystem>

#include "core/base/hash.h"

namespace kettle {

/// A number of a file's time and size; 0 if it is not there. Threads: safe.
inline std::uint64_t fileStamp(const std::filesystem::path& file) {
    std::error_code code;
    const auto time = std::filesystem::last_write_time(file, code);
    if (code) return 0;
    return combine(static_cast<std::uint64_t>(time.time_since_epoch().count()),
                   std::filesystem::file_size(file, code));
}

}  // namespace kettle
