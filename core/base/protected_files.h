// The one door through which files are written that were named by somebody: it knows what must not be
// touched, and asks again on the final name, right before writing.
#pragma once

#include <filesystem>
#include <set>
#include <string_view>

#include "core/base/files.h"

namespace kettle {

class ProtectedFiles {
public:
    /// A file that must stay as it is. One that is not there protects nothing.
    void add(const std::filesystem::path& file);

    /// Errors: Refused if `target` is one of the files, by whatever name: another spelling, a symbolic or
    /// hard link, a linked folder. A target that is not there yet is free.
    Result<void> mayReplace(const std::filesystem::path& target) const;

    /// For what an export or a command writes. Errors: those of mayReplace; Refused if `target` is there and
    /// no regular file, or if it is a link that leads out of its folder.
    Result<void> mayWrite(const std::filesystem::path& target) const;

    /// mayWrite, then writeFileAtomically. Errors: those of both; the target then stays as it was.
    Result<void> write(const std::filesystem::path& target, std::string_view bytes) const;

private:
    std::set<FileIdentity> m_files;
    std::set<std::filesystem::path> m_paths;  ///< for targets in folders that are not there yet
};

}  // namespace kettle
