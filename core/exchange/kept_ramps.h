// Ramps that the artist keeps: one small JSON file each in a folder of their own (docs/project-format.md, "A
// kept ramp"). Files that are no ramps stay as they are.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/json.h"

namespace kettle {

struct KeptRamp {
    std::string name;
    Ramp ramp;
    std::filesystem::path file;
};
struct KeptRamps {
    std::vector<KeptRamp> ramps;        ///< by name
    std::vector<std::string> problems;  ///< a sentence for each file that could not be read
};

/// What is kept in a folder; a folder that does not exist keeps nothing.
KeptRamps keptRamps(const std::filesystem::path& folder);

/// Keeps a ramp under a name, in place of what had this name before; the folder is made if needed. Atomic.
/// Errors: Invalid (the name is blank), Write.
Result<void> keepRamp(const std::filesystem::path& folder, const std::string& name, const Ramp& ramp);

/// Removes a kept ramp's file. Errors: Write.
Result<void> forgetRamp(const KeptRamp& ramp);

/// True if every stop is a grey, so that the ramp also fits a grey line.
bool isGrey(const Ramp& ramp);

}  // namespace kettle
