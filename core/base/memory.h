// Memory for pictures and planes: aligned, and on large pages where the system has them. Many are walked side
// by side, and looking up small pages costs time that differs from run to run.
#pragma once

#include <sys/mman.h>

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <new>
#include <string>

#include "core/base/result.h"

namespace kettle {

/// `bytes` of memory on a 64-byte boundary, not cleared; std::free gives it back. Throws std::bad_alloc.
inline void* allocatePictureMemory(std::size_t bytes) {
    constexpr std::size_t kLargePage = std::size_t{2} << 20;
    const std::size_t step = bytes < kLargePage ? 64 : kLargePage;
    const std::size_t room = (bytes + step - 1) / step * step;
    void* memory = std::aligned_alloc(step, room == 0 ? step : room);
    if (memory == nullptr) throw std::bad_alloc();
    if (bytes >= kLargePage) madvise(memory, bytes, MADV_HUGEPAGE);
    return memory;
}

/// A size as people read it: "840 KB", "12 MB", "1.4 GB"; rounded up, so that only nothing is "0 KB".
std::string sizeInWords(std::uint64_t bytes);

/// Bytes that this process can still take: what the system says is available, or what the process's own limit
/// or its group's leaves, if that is less. A very large number where nobody tells.
std::uint64_t memoryLeft();

/// Refuses what cannot fit before it is begun: the system would promise the memory and end the program when
/// it is used. `doing` goes on from "Cannot"; `instead` says what would fit. Errors: NoMemory.
Result<void> needMemory(std::uint64_t bytes, const std::string& doing, const std::string& instead);

}  // namespace kettle
