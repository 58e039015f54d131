// Maps, a model or an environment that are not where the project says: found again by their names.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/threads/parallel.h"

namespace kettle {

/// What is not on the disk, by its absolute path (a tiled map by its pattern, if no tile is there).
std::vector<std::filesystem::path> missingFiles(const Project& project);

struct Relinked {
    Project project;
    int found = 0;
    std::vector<std::filesystem::path> missing;  ///< what was not found
};

/// Looks for what is missing in a folder and all below it, by file names; of two of one name that lies
/// nearest to the folder. Everything else stays as it is.
Relinked lookInFolder(const Project& project, const std::filesystem::path& folder,
                      const CancelToken& cancel = {});

}  // namespace kettle
