// The files that a project is made from, which nothing that writes may touch.
#pragma once

#include <filesystem>
#include <set>

#include "core/base/files.h"
#include "core/engine/resources.h"

namespace kettle {

class SourceFiles {
public:
    /// All maps with their tiles, the colour configuration, a model from a file.
    SourceFiles(const Project& project, const Resources& resources);
    /// Another file that must stay, for example the project's own.
    void add(const std::filesystem::path& file);

    /// Errors: Refused if `target` is one of them, by whatever name: another spelling, a symbolic or hard
    /// link, a folder that is linked. What is not there yet is free.
    Result<void> mayWrite(const std::filesystem::path& target) const;

private:
    std::set<FileIdentity> m_files;
    std::set<std::filesystem::path> m_paths;  ///< for targets in folders that are not there yet
};

}  // namespace kettle
