// Whole-file reading and atomic writing: a file is either the old one or the complete new one, never half of
// either, on a full disk and after a crash too.
#pragma once

#include <compare>
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace kettle {

/// What a reader takes at most unless it says otherwise; no text that this program reads is larger.
inline constexpr std::uintmax_t kLargestText = std::uintmax_t{256} << 20;

/// Only regular files are read: a pipe or a device could keep whoever reads it waiting for ever. Follows
/// links. `what` names the file in the sentence, "the model"; empty: its path alone. Errors: Missing;
/// Unreadable (a folder, a pipe, a device, no permission, more than `largest` bytes).
Result<void> checkReadable(const std::filesystem::path& path, std::uintmax_t largest,
                           const std::string& what = {});

/// The file's bytes, at most `largest`. Errors: those of checkReadable.
Result<std::string> readFile(const std::filesystem::path& path, std::uintmax_t largest = kLargestText);

/// What is replaced must be a regular file: a device or a pipe is no file that was asked for, and root could
/// replace it. Follows links; a path that is not there yet is fine. Errors: Refused.
Result<void> checkWritable(const std::filesystem::path& path);

/// Writes a nameless file in the target's folder, flushes it to the disk, and only then gives it the target's
/// name; the folder is flushed too. A link is followed, so that it stays a link, and the permissions of a
/// file that is replaced stay. A run that is killed leaves nothing behind, but for the instant between naming
/// and renaming, or where the file system has no nameless files: then a ".part" is left, which the next write
/// to the same target removes. Errors: those of checkWritable; Write; the old file then stays, and nothing
/// else is left. Threads: safe, also for one target.
Result<void> writeFileAtomically(const std::filesystem::path& path, std::string_view bytes);

/// Which file it is, whatever it is called: equal for hard links, symbolic links and other spellings.
struct FileIdentity {
    std::uint64_t device = 0, number = 0;
    auto operator<=>(const FileIdentity&) const = default;
};
/// Follows links. Nothing if it is not there.
std::optional<FileIdentity> identityOf(const std::filesystem::path& path);

/// Free bytes for this user on the disk that holds the folder, or the nearest one above it that is there;
/// nothing if the system does not tell.
std::optional<std::uintmax_t> freeRoom(const std::filesystem::path& folder);

/// What the model chooser and the light chooser offer: file stems in a folder.
std::vector<std::string> stemsIn(const std::filesystem::path& folder,
                                 const std::vector<std::string>& extensions);

}  // namespace kettle
