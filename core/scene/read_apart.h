// Reading a mesh in a child process: a library that hangs, aborts or eats the memory on a broken file takes
// only the child with it.
#pragma once

#include <chrono>
#include <filesystem>
#include <functional>

#include "core/scene/mesh.h"

namespace kettle {

/// What `read` returns, computed in a copy of this process that ends with it. `file` is for the sentences.
/// Errors: those of `read`; Unreadable if the child dies or takes longer than `longest`; NoMemory; Cancelled.
/// Threads: safe; `read` may use none of the locks that other threads of this process hold.
Result<Mesh> readApart(const std::function<Result<Mesh>()>& read, const std::filesystem::path& file,
                       std::chrono::milliseconds longest, const CancelToken& cancel = {});

}  // namespace kettle
