// Recipes looked into: the steps of one stand on its line in front of it, under names of their own, and can
// be set there. The project keeps the recipe; this is a view of it, and edits by such names.
#pragma once

#include <optional>
#include <set>
#include <string>

#include "core/document/project.h"

namespace kettle {

/// A step within an opened recipe is called by the step that stands for the recipe and its own id,
/// "s5/r2"; within a recipe of that recipe "s5/r2/q1".
struct InnerStep {
    std::string outer;   ///< the step of the recipe that holds it; itself an inner one where recipes nest
    std::string recipe;  ///< that recipe's id
    std::string id;      ///< the step's own within the recipe
};
/// Nothing if the name is a step of the project, or none at all.
std::optional<InnerStep> innerStep(const Project& project, const std::string& name);

/// A project with some of its recipes open.
struct OpenRecipes {
    /// As a board shows it: the recipe's steps, then its own step as it is. What it reads hangs at its steps.
    Project shown;
    /// As it is computed: the same, and the recipe's own step passes on what its steps gave.
    Project computed;
    /// Those that are open: names that are no recipe's step are left out.
    std::set<std::string> steps;
};
OpenRecipes withOpen(const Project& project, const std::set<std::string>& steps);

/// Where the value of a control of an inner step stands.
struct ControlPlace {
    std::string step;                ///< of the project, where the recipe sets it from outside
    std::optional<InnerStep> inner;  ///< or of a recipe, whose own it is
    std::string control;
};
/// Follows what recipes set from outside, as far out as it goes.
ControlPlace controlPlace(const Project& project, const InnerStep& inner, const std::string& control);

namespace edits {

/// A value of the recipe's own, for whoever uses it in this project; "bypass" with a bool switches the step.
/// Errors: Refused (no such step).
Result<Project> setInner(const Project& project, const InnerStep& inner, const std::string& control,
                         const ControlValue& value);
/// Takes the recipe's own value off, so that the step's default holds. Errors: as above.
/// As useNewestVersion of edits.h.
Result<Project> useNewestVersion(const Project& project, const InnerStep& inner);
Result<Project> resetInner(const Project& project, const InnerStep& inner, const std::string& control);

}  // namespace edits
}  // namespace kettle
