// Whole-file reading and atomic writing: a file is either the old one or the complete new one, never half of
// either.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace kettle {

/// The file's bytes. Errors: Missing, Unreadable.
Result<std::string> readFile(const std::filesystem::path& path);

/// Writes beside the target, flushes to the disk (fsync) and renames over it. Errors: Write; the old file
/// then stays.
Result<void> writeFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// The same for writers that want a path of their own: `write` fills the given temporary file, which is then
/// flushed and renamed to `path`. On any error the temporary file is removed.
Result<void> replaceAtomically(const std::filesystem::path& path,
                               const std::function<Result<void>(const std::filesystem::path&)>& write);

}  // namespace kettle
