// Where a fuzzer writes the file that it has read.
#pragma once

#include <unistd.h>

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/files.h"

namespace kettle::fuzz {

/// The bytes as a file of the given ending, in a folder of this process alone, in memory where the system has
/// such a disk; the same file each time. Empty if it cannot be written.
inline std::filesystem::path scratchFile(std::string_view bytes, const std::string& ending) {
    namespace fs = std::filesystem;
    static const fs::path kFolder = [] {
        const fs::path base = fs::exists("/dev/shm") ? "/dev/shm" : fs::temp_directory_path();
        const fs::path folder = base / ("kettle-fuzz-" + std::to_string(::getpid()));
        fs::create_directories(folder);
        return folder;
    }();
    const fs::path file = kFolder / ("x." + ending);
    return writeFileAtomically(file, bytes) ? file : fs::path();
}

}  // namespace kettle::fuzz
