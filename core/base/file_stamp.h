// What tells that a file is still the one that something was made from.
#pragma once

#include <cstdint>
#include <filesystem>

namespace kettle {

/// A number of a file's time, size, and bytes at its head, middle and tail (4 KB each): also another picture
/// that was copied over it with the old time, as some tools do, has another. Reads the file. 0 if it is not
/// there. Threads: safe.
std::uint64_t fileStamp(const std::filesystem::path& file);

}  // namespace kettle
