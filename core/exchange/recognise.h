// A folder of finished maps to texture sets and a first project: roles from file names and from what the
// pictures hold, gloss inverted, packed maps taken apart, UDIM tiles joined, extra pictures kept as shared
// lines.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/exchange/bring_plan.h"

namespace kettle {

/// What a file's name says where there are no others beside it (map_names.h).
MapName recogniseName(const std::string& fileName);

struct Recognised {
    Project project;
    std::vector<std::string> notes;  ///< what was decided and what could not be read, one sentence each
};

/// A plan of a folder of maps alone: a model that lies in it is not taken without being asked. Errors:
/// Invalid (no pictures in it).
Result<BringPlan> mapsAlone(BringPlan plan, const std::filesystem::path& folder);

/// Reads every picture, on all cores. Each set of the folder becomes a texture set; the one with most known
/// maps drives the channels. Errors: Missing (no such folder), Invalid (no pictures in it), NoMemory,
/// Cancelled. Files that cannot be read are named in the notes and left out.
Result<Recognised> projectFromFolder(const std::filesystem::path& folder,
                                     const ReadingProgress& progress = {}, const CancelToken& cancel = {});

}  // namespace kettle
