#include "core/document/recipe_edits.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <unordered_map>
#include <utility>

#include "core/document/edits.h"
#include "core/document/network.h"
#include "core/document/recipes.h"
#include "core/document/refused.h"

namespace kettle::edits {
namespace {

/// The same recipe, whatever it is called inside the project.
bool isSame(const Recipe& a, Recipe b) {
    b.id = a.id;
    return a == b;
}

std::string freshRecipeId(const Project& project, const std::string& wanted) {
    if (project.findRecipe(wanted) == nullptr) return wanted;
    for (int n = 2;; ++n)
        if (std::string id = fmt::format("{}-{}", wanted, n); project.findRecipe(id) == nullptr) return id;
}

/// Which names recipes of recipes bear from now on, in a recipe or in steps.
using Renamed = std::unordered_map<std::string, std::string>;
void rename(Step& step, const Renamed& names) {
    if (const auto name = names.find(recipeOf(step.type)); name != names.end())
        step.type = kRecipe + name->second;
}
Recipe renamed(Recipe recipe, const Renamed& names) {
    for (Shared<Step>& step : recipe.steps)
        if (names.contains(recipeOf(step->type))) rename(step.edit(), names);
    for (Shared<Line>& line : recipe.lines)
        for (std::size_t s = 0; s < line->steps.size(); ++s)
            if (names.contains(recipeOf(line->steps[s]->type))) rename(line.edit().steps[s].edit(), names);
    return recipe;
}

}  // namespace

Project takeRecipe(const Project& project, const Recipe& recipe, std::string& id) {
    for (const auto& known : project.recipes)
        if (isSame(*known, recipe)) {
            id = known->id;
            return project;
        }
    Project next = project;
    Recipe own = recipe;
    id = own.id = freshRecipeId(project, recipe.id);
    next.recipes.emplace_back(std::move(own));
    return next;
}

std::vector<Shared<Recipe>> recipesUsed(const Project& project, const std::vector<Step>& steps) {
    std::set<std::string> used;
    std::vector<std::string> open;
    const auto meet = [&](const Step& step) {
        if (std::string id = recipeOf(step.type); !id.empty() && used.insert(id).second)
            open.push_back(std::move(id));
    };
    for (const Step& step : steps) meet(step);
    while (!open.empty()) {
        const Recipe* recipe = project.findRecipe(open.back());
        open.pop_back();
        if (recipe == nullptr) continue;
        for (const auto& step : recipe->steps) meet(*step);
        for (const auto& line : recipe->lines)
            for (const auto& step : line->steps) meet(*step);
    }
    // What a recipe holds stands before it, so that it is taken first.
    std::vector<Shared<Recipe>> found;
    for (const auto& recipe : project.recipes)
        if (used.contains(recipe->id)) found.push_back(recipe);
    return found;
}

Project takeSteps(const Project& project, const std::vector<Shared<Recipe>>& recipes,
                  std::vector<Step>& steps) {
    Project next = project;
    Renamed names;
    for (const auto& recipe : recipes) {
        std::string id;
        next = takeRecipe(next, renamed(*recipe, names), id);
        names[recipe->id] = id;
    }
    for (Step& step : steps) rename(step, names);
    return next;
}

Result<Project> unpackStep(const Project& project, const std::string& step, std::vector<std::string>& steps) {
    const auto place = project.findStep(step);
    const Recipe* recipe = place ? project.findRecipe(recipeOf(project.stepAt(*place).type)) : nullptr;
    if (recipe == nullptr || recipe->steps.empty())
        return refused(fmt::format("{} is no recipe that could be unpacked. Choose one.", step));
    std::set<std::string> taken;
    const auto fresh = [&](const std::string&, const std::string& inner) {
        const bool isLine = std::any_of(recipe->lines.begin(), recipe->lines.end(),
                                        [&](const auto& line) { return line->id == inner; });
        std::string id = freshId(project, isLine ? inner : "s");
        for (int n = 2; taken.contains(id) || project.findStep(id) || project.findLine(id) != nullptr; ++n)
            id = isLine ? fmt::format("{}-{}", inner, n)
                        : fmt::format("s{}", n + static_cast<int>(taken.size()));
        taken.insert(id);
        return id;
    };
    Project next = opened(project, step, fresh);
    steps.clear();
    const auto& line = next.lines[place->line]->steps;
    for (std::size_t s = 0; s < recipe->steps.size(); ++s) steps.push_back(line[place->step + s]->id);
    return withoutUnusedRecipes(next);
}

std::vector<std::string> differencesOf(const Recipe& older, const Recipe& newer) {
    std::vector<std::string> notes;
    const auto named = [](const auto& list, const std::string& id) {
        return std::find_if(list.begin(), list.end(), [&](const auto& one) { return one.id == id; });
    };
    for (const RecipeControl& control : older.controls)
        if (named(newer.controls, control.id) == newer.controls.end())
            notes.push_back(fmt::format("{} goes", control.name));
    for (const RecipeControl& control : newer.controls) {
        const auto before = named(older.controls, control.id);
        if (before == older.controls.end())
            notes.push_back(fmt::format("{} is new", control.name));
        else if (!(*before == control))
            notes.push_back(fmt::format("{} is told otherwise", control.name));
    }
    for (const RecipeFeed& feed : older.feeds)
        if (named(newer.feeds, feed.id) == newer.feeds.end())
            notes.push_back(fmt::format("the input {} goes", feed.name));
    for (const RecipeFeed& feed : newer.feeds)
        if (named(older.feeds, feed.id) == older.feeds.end())
            notes.push_back(fmt::format("the input {} is new", feed.name));
    if (older.steps.size() != newer.steps.size())
        notes.push_back(fmt::format("{} steps instead of {}", newer.steps.size(), older.steps.size()));
    else if (older.steps != newer.steps || older.lines != newer.lines)
        notes.push_back("its steps work otherwise");
    return notes;
}

Result<Project> updateRecipe(const Project& project, const std::string& id, const Recipe& newer,
                             std::vector<std::string>& notes) {
    Project next = project;
    const auto at = std::find_if(next.recipes.begin(), next.recipes.end(),
                                 [&](const auto& recipe) { return recipe->id == id; });
    if (at == next.recipes.end()) return refused(fmt::format("The project has no recipe {}.", id));
    if (const std::string fault = faultOf(newer); !fault.empty())
        return refused(fmt::format("The recipe {} cannot be taken: {}.", newer.name, fault));
    notes = differencesOf(**at, newer);
    Recipe own = newer;
    own.id = id;
    std::set<std::string> controls{"bypass"}, feeds;
    for (const RecipeControl& control : own.controls) controls.insert(control.id);
    for (const RecipeFeed& feed : own.feeds) feeds.insert(feed.id);
    *at = Shared<Recipe>(std::move(own));
    if (recipesInTurn(next.recipes).contains(id))
        return refused(
            fmt::format("The recipe {} would hold itself. Keep the one that is there.", newer.name));
    for (Shared<Line>& line : next.lines)
        for (std::size_t s = 0; s < line->steps.size(); ++s) {
            if (recipeOf(line->steps[s]->type) != id) continue;
            Step& step = line.edit().steps[s].edit();
            std::erase_if(step.controls, [&](const auto& c) { return !controls.contains(c.first); });
            std::erase_if(step.feeds, [&](const auto& f) { return !feeds.contains(f.first); });
            const auto isGone = [&](const auto& change) {
                const Address address = Address::of(change.first);
                return address.step == step.id && !controls.contains(std::string(address.control));
            };
            std::erase_if(next.allLooks, isGone);
            for (Shared<Look>& look : next.looks) std::erase_if(look.edit().changes, isGone);
        }
    return next;
}

Project withoutUnusedRecipes(const Project& project) {
    std::vector<Step> steps;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (step->type.starts_with(kRecipe)) steps.push_back(*step);
    Project next = project;
    next.recipes = recipesUsed(project, steps);
    return next;
}

Result<Project> setNumbers(const Project& project, bool ofParts,
                           const std::map<std::string, std::optional<int>>& numbers) {
    Project next = project;
    ObjectNumbers& all = next.objects.edit();
    auto& own = ofParts ? all.parts : all.objects;
    for (const auto& [name, number] : numbers) {
        if (!number)
            own.erase(name);
        else if (*number < 0 || *number > kMostNumber)
            return refused(fmt::format("Numbers go from 0 to {}. Type another for {}.", kMostNumber, name));
        else
            own[name] = *number;
    }
    return next;
}

}  // namespace kettle::edits
