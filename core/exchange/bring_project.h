// A plan made into lines: a new project, or more of an open one.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/exchange/bring_plan.h"

namespace kettle {

/// The project with what the plan takes: its sets, the surfaces with their parts, and for each set that
/// drives one the lines of its channels; pictures of no known role become shared lines. `notes` gets what was
/// made of it, one sentence each. Errors: Refused (the plan takes nothing).
Result<Project> bringInto(const Project& project, const BringPlan& plan, std::vector<std::string>& notes);

/// The project with one set's maps taken from another: by role, with all work kept. What the new set lacks
/// keeps its old file, and what is new in it is added without a line; both are named in `notes`. Errors:
/// Refused (no such set, or a plan without sets).
Result<Project> replaceSet(const Project& project, const std::string& set, const BringPlan& plan,
                           std::vector<std::string>& notes);

}  // namespace kettle
