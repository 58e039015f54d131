// Recipes opened up: what a step that is a recipe stands for, as steps. Whoever computes goes over the
// project without its recipes; whoever shows or edits sees the one step.
#pragma once

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle {

/// The most steps that opening recipes adds to a project; recipes of recipes beyond it pass their input on.
inline constexpr std::size_t kMostOpened = 100'000;

/// How the steps and lines of a recipe are called where it is opened: by the step that stands for it and
/// their own id. The last step always bears the id of the one that stood for it, so that taps, pictures and
/// names of what comes out stay.
using InnerNames = std::function<std::string(const std::string& step, const std::string& inner)>;

/// The one step taken apart, by one level: its steps in its place, its lines behind the project's, its values
/// and those of looks at the controls they mean. Unchanged if it is no step of a recipe of the project.
Project opened(const Project& project, const std::string& step, const InnerNames& names);

/// A project without recipes, and a look of it as it is there.
struct Opened {
    Project project;
    std::optional<Look> look;
};
/// All of them taken apart, those within recipes too. A recipe that holds itself passes its input on. `look`:
/// one of the project's, or a look for itself; null: the base.
Opened withoutRecipes(const Project& project, const Look* look);
/// True if any step is a recipe. Takes no time in a project without recipes.
bool usesRecipes(const Project& project);

/// The recipes that hold themselves, through others or at once.
std::set<std::string> recipesInTurn(const std::vector<Shared<Recipe>>& recipes);

/// What is wrong with a recipe in itself, as the middle of a sentence ("the control Amount means a step s3
/// that is not there"); empty if nothing is.
std::string faultOf(const Recipe& recipe);

}  // namespace kettle
