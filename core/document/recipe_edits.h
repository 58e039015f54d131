// Edits of recipes: packing steps, taking a recipe into a project, opening it for good, and bringing it up to
// a newer edition. Like all edits they give a whole new project or an error.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle::edits {

/// What a recipe is to be called, and what of its steps is to be set from outside.
struct PackWish {
    std::string name, purpose, note;
    std::vector<Kind> kinds;              ///< that all its steps fit
    std::vector<RecipeControl> controls;  ///< targets are steps of the project; ids may be empty
};

/// A recipe made of steps that stand one behind the other on a line, with their values as a look shows them.
/// Lines that these alone read, and that no set begins, go along; the others become its inputs, named after
/// them. Nothing of the project changes. Errors: Refused (no steps; steps of several lines or with others
/// between them; a source, a layer's head or a fill among them; no name).
Result<Recipe> recipeOfSteps(const Project& project, const std::string& look,
                             const std::vector<std::string>& steps, const PackWish& wish);

/// The same steps replaced by the recipe of them, which the project then has. What looks change of exposed
/// controls stays theirs; what they change of others is gone and named in `notes`. `step` gets the id of the
/// one step. Errors: as above; something outside reads what one of the steps before the last gives.
Result<Project> packSteps(const Project& project, const std::string& look,
                          const std::vector<std::string>& steps, const PackWish& wish, std::string& step,
                          std::vector<std::string>& notes);

/// The project with a recipe, under an id of its own if another has this one; `id` gets it. The same recipe
/// is taken once.
Project takeRecipe(const Project& project, const Recipe& recipe, std::string& id);
/// The recipes that steps use, and those that these hold.
std::vector<Shared<Recipe>> recipesUsed(const Project& project, const std::vector<Step>& steps);
/// Steps of another project with the recipes that they use: those are taken, and the steps mean them.
Project takeSteps(const Project& project, const std::vector<Shared<Recipe>>& recipes,
                  std::vector<Step>& steps);

/// The step's recipe opened for good, one level; `steps` gets the ids in order. Errors: Refused (it is none).
Result<Project> unpackStep(const Project& project, const std::string& step, std::vector<std::string>& steps);

/// Another edition of a recipe in the place of the project's. Values of controls that are gone go too;
/// `notes` says what changes, a line each. Errors: Refused (the project has no such recipe; a cycle; it is
/// faulty).
Result<Project> updateRecipe(const Project& project, const std::string& id, const Recipe& newer,
                             std::vector<std::string>& notes);
/// What changes from one edition to another, a line each; empty if nothing does.
std::vector<std::string> differencesOf(const Recipe& older, const Recipe& newer);

/// The project without the recipes that no step uses, at once or through others.
Project withoutUnusedRecipes(const Project& project);

/// Numbers of objects (or of parts) by their names; nothing: the model's own again. Errors: Refused (one
/// below 0 or above kMostNumber).
Result<Project> setNumbers(const Project& project, bool ofParts,
                           const std::map<std::string, std::optional<int>>& numbers);

}  // namespace kettle::edits
