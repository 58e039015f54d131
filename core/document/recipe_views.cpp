#include "core/document/recipe_views.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/document/handles.h"
#include "core/document/network.h"
#include "core/document/recipes.h"

namespace kettle {
namespace {

const Step* stepIn(const Recipe& recipe, const std::string& id) {
    for (const auto& step : recipe.steps)
        if (step->id == id) return &*step;
    for (const auto& line : recipe.lines)
        for (const auto& step : line->steps)
            if (step->id == id) return &*step;
    return nullptr;
}

/// The recipe that a step stands for, by the step's name; empty if it is none.
std::string recipeAt(const Project& project, const std::string& name) {
    if (const auto place = project.findStep(name)) return recipeOf(project.stepAt(*place).type);
    const auto inner = innerStep(project, name);
    const Recipe* recipe = inner ? project.findRecipe(inner->recipe) : nullptr;
    const Step* step = recipe != nullptr ? stepIn(*recipe, inner->id) : nullptr;
    return step != nullptr ? recipeOf(step->type) : std::string();
}

/// What is changed of one step, under another name.
void renameChanges(Changes& changes, const std::string& from, const std::string& to) {
    Changes moved;
    const std::string prefix = from + ".";
    for (auto it = changes.lower_bound(prefix); it != changes.end() && it->first.starts_with(prefix);) {
        moved[to + "." + it->first.substr(prefix.size())] = it->second;
        it = changes.erase(it);
    }
    changes.merge(moved);
}

void eachChanges(Project& project, const std::function<void(Changes&, const std::string&)>& f) {
    f(project.allLooks, {});
    for (Shared<Look>& look : project.looks) f(look.edit().changes, look->id);
}

/// Opens one recipe of `open` before its step, which stays.
void openBefore(Project& project, const std::string& name) {
    const auto place = project.findStep(name);
    const Step outer = project.stepAt(*place);
    const std::string last = name + "/" + project.findRecipe(recipeOf(outer.type))->steps.back()->id;
    const std::size_t count = project.findRecipe(recipeOf(outer.type))->steps.size();
    const Project before = project;
    project = opened(project, name,
                     [](const std::string& step, const std::string& inner) { return step + "/" + inner; });
    auto& steps = project.lines[place->line].edit().steps;
    const auto at = static_cast<std::ptrdiff_t>(place->step + count);
    steps[static_cast<std::size_t>(at) - 1].edit().id = last;
    Step own = outer;
    own.feeds.clear();  // they hang at the steps that read them
    steps.insert(steps.begin() + at, Shared<Step>(std::move(own)));
    eachChanges(project, [&](Changes& changes, const std::string& look) {
        renameChanges(changes, name, last);
        const Changes& all = look.empty() ? before.allLooks : before.findLook(look)->changes;
        for (auto it = all.lower_bound(name + "."); it != all.end() && it->first.starts_with(name + ".");
             ++it)
            changes.insert(*it);
    });
}

/// The recipe's own step passes on what comes in.
void passOn(Project& project, const std::string& name) {
    const auto place = project.findStep(name);
    Step& step = project.lines[place->line].edit().steps[place->step].edit();
    // Any plain step will do: opened once more, the recipe's steps would bear the same names twice.
    step.type = "invert";
    step.bypass = true;
    step.controls.clear();
    eachChanges(project, [&](Changes& changes, const std::string&) { changes.erase(name + ".bypass"); });
}

}  // namespace

std::optional<InnerStep> innerStep(const Project& project, const std::string& name) {
    const auto slash = name.rfind('/');
    if (slash == std::string::npos || project.findStep(name)) return std::nullopt;
    InnerStep inner{name.substr(0, slash), {}, name.substr(slash + 1)};
    inner.recipe = recipeAt(project, inner.outer);
    const Recipe* recipe = project.findRecipe(inner.recipe);
    if (recipe == nullptr || stepIn(*recipe, inner.id) == nullptr) return std::nullopt;
    return inner;
}

OpenRecipes withOpen(const Project& project, const std::set<std::string>& steps) {
    OpenRecipes open{project, project, {}};
    const std::set<std::string> inTurn = recipesInTurn(project.recipes);
    // In the set's order a recipe comes before what it holds.
    for (const std::string& name : steps) {
        const std::string id = recipeAt(project, name);
        const Recipe* recipe = id.empty() || inTurn.contains(id) ? nullptr : project.findRecipe(id);
        if (recipe == nullptr || recipe->steps.empty() || !open.shown.findStep(name)) continue;
        openBefore(open.shown, name);
        open.steps.insert(name);
    }
    open.computed = open.shown;
    for (const std::string& name : open.steps) passOn(open.computed, name);
    return open;
}

ControlPlace controlPlace(const Project& project, const InnerStep& inner, const std::string& control) {
    ControlPlace place{{}, inner, control};
    while (place.inner) {
        const Recipe* recipe = project.findRecipe(place.inner->recipe);
        const std::string target = place.inner->id + "." + place.control;
        const auto outside =
            std::find_if(recipe->controls.begin(), recipe->controls.end(), [&](const RecipeControl& told) {
                return std::find(told.targets.begin(), told.targets.end(), target) != told.targets.end();
            });
        if (outside == recipe->controls.end()) break;
        place.step = place.inner->outer;
        place.control = outside->id;
        place.inner = innerStep(project, place.step);
    }
    if (place.inner) place.step.clear();
    return place;
}

namespace edits {
namespace {

/// The project with one step of a recipe changed.
Result<Project> changed(const Project& project, const InnerStep& inner,
                        const std::function<void(Step&)>& change) {
    Project next = project;
    for (Shared<Recipe>& recipe : next.recipes) {
        if (recipe->id != inner.recipe || stepIn(*recipe, inner.id) == nullptr) continue;
        const auto take = [&](std::vector<Shared<Step>>& steps) {
            for (Shared<Step>& step : steps)
                if (step->id == inner.id) change(step.edit());
        };
        Recipe& own = recipe.edit();
        take(own.steps);
        for (Shared<Line>& line : own.lines) take(line.edit().steps);
        return next;
    }
    return fail(ErrorKind::Refused,
                fmt::format("The step {} is no longer in its recipe. Open the recipe again.", inner.id));
}

}  // namespace

Result<Project> setInner(const Project& project, const InnerStep& inner, const std::string& control,
                         const ControlValue& value) {
    return changed(project, inner, [&](Step& step) {
        if (const bool* isOff = std::get_if<bool>(&value); isOff != nullptr && control == kBypass.id)
            step.bypass = *isOff;
        else
            step.controls[control] = value;
    });
}

Result<Project> useNewestVersion(const Project& project, const InnerStep& inner) {
    return changed(project, inner, [](Step& step) { step.version = kNewestStepVersion; });
}

Result<Project> resetInner(const Project& project, const InnerStep& inner, const std::string& control) {
    return changed(project, inner, [&](Step& step) { step.controls.erase(control); });
}

}  // namespace edits
}  // namespace kettle
