// A folder of finished maps to a texture set and a first project: roles from file names, gloss inverted,
// packed maps taken apart, UDIM tiles joined, extra pictures kept as shared lines.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle {

/// What a file name says. Any separator, any case, trade abbreviations ("nrm", "rgh", "ao", "albedo" …).
struct RecognisedName {
    std::string role;  ///< "base-colour", "gloss", "occlusion-roughness-metalness" …; otherwise the last word
                       ///< of the name
    bool known = false;  ///< the role is one of the trade's
    bool greenDown = false;
    bool isTile = false;  ///< the name holds a UDIM number
    std::string pattern;  ///< the file name with the number as "<UDIM>"
};
RecognisedName recogniseName(const std::string& fileName);

struct Recognised {
    Project project;
    std::vector<std::string> notes;  ///< what was decided and what could not be read, one sentence each
};

/// Reads every picture, on all cores. Errors: Missing (no such folder), Invalid (no pictures in it),
/// NoMemory. Files that cannot be read are named in the notes and left out.
Result<Recognised> projectFromFolder(const std::filesystem::path& folder);

}  // namespace kettle
