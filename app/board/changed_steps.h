// Which cards tell something else after an edit, so that only they are painted again.
#pragma once

#include <optional>
#include <set>
#include <string>

#include "core/document/project.h"

namespace kettle::board {

/// The steps that two editions of a project, laid out alike, show differently: by their own controls, or by
/// what a look changes of them. Nothing if more may be shown differently than these steps: layers and recipes
/// speak on other cards too. Takes little where editions share their lines.
std::optional<std::set<std::string>> changedSteps(const Project& before, const Project& after);

/// The keys "step.control" at which two looks differ, or what holds in all looks of two editions.
std::set<std::string> changedKeys(const Changes& before, const Changes& after);
/// The step of such a key.
std::string stepOfKey(const std::string& key);

}  // namespace kettle::board
