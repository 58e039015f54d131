// A project's recipes as steps: what one declares about itself is made of what its steps declare.
#pragma once

#include "core/steps/step.h"

namespace kettle {

/// The steps of `base`, and those that a project's recipes are. They are not emitted: whoever computes opens
/// them first (core/document/recipes.h). A recipe of recipes takes its controls from theirs.
Catalogue withRecipes(const Catalogue& base, const std::vector<Shared<Recipe>>& recipes);

/// One recipe as a step. `steps`: what its own steps are looked up in.
StepSpec specOfRecipe(const Recipe& recipe, const Catalogue& steps);

/// What is wrong with a recipe's steps, as the middle of a sentence: a step or a control that nobody knows;
/// empty if nothing is.
std::string faultOf(const Recipe& recipe, const Catalogue& steps);

}  // namespace kettle
