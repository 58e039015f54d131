// The checks: what looks wrong in a project, as data for the window and the batch tool.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/resources.h"
#include "core/threads/parallel.h"

namespace kettle {

enum class Severity {
    Error,    ///< something is missing or cannot work
    Warning,  ///< the result is probably not what is wanted
    Hint      ///< worth knowing
};
/// "error", "warning", "hint": the words of the batch tool and the drawer.
const char* nameOf(Severity severity);

/// One finding. `check` is its stable name; line, step, set and role say where, as far as they apply.
struct Finding {
    std::string check;
    Severity severity = Severity::Warning;
    std::string sentence;  ///< what, where, what to do
    std::string line, step, set, role;
    double share = 0;  ///< of the points that are affected, where that makes sense
};

/// The checks' names with what each looks for, for the documents.
struct CheckInfo {
    const char* id;
    const char* purpose;
};
/// All checks, in the order in which they are done. Findings bear their ids.
const std::vector<CheckInfo>& checkList();

/// Looks at a project as a look shows it ("" for the base): at its structure, its files and the numbers on
/// about 128 x 128 points of each result. Never fails; a file that cannot be read is a finding.
/// Plausible albedo: 0.013 to 0.87 in linear light (30 to 240 of 255 as displayed), on what is not metal.
/// The worst come first. Unfinished if cancelled.
std::vector<Finding> checkProject(const Project& project, const std::string& look, const Resources& resources,
                                  const CancelToken& cancel = {});

}  // namespace kettle
