#include "core/document/recipes.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

#include "core/document/handles.h"
#include "core/document/network.h"

namespace kettle {
namespace {

/// Opens one step: what is made for it, and how its parts are called outside.
class Opener {
public:
    Opener(Project& project, Project::Place place, const Recipe& recipe, const InnerNames& names)
        : m_project(project),
          m_place(place),
          m_recipe(recipe),
          m_outer(project.stepAt(place)),
          m_line(project.lines[place.line]->id),
          m_surface(project.lines[place.line]->surface) {
        for (const auto& step : recipe.steps)
            m_names[step->id] =
                step->id == recipe.steps.back()->id ? m_outer.id : names(m_outer.id, step->id);
        for (const auto& line : recipe.lines) {
            m_names[line->id] = names(m_outer.id, line->id);
            for (const auto& step : line->steps) m_names[step->id] = names(m_outer.id, step->id);
        }
        for (const RecipeFeed& feed : recipe.feeds)
            if (const auto joined = m_outer.feeds.find(feed.id); joined != m_outer.feeds.end())
                for (const std::string& target : feed.targets) m_joined[target] = &joined->second;
        for (const RecipeControl& control : recipe.controls)
            if (const auto set = m_outer.controls.find(control.id); set != m_outer.controls.end())
                for (const std::string& target : control.targets) m_set[target] = &set->second;
    }

    void open() {
        std::vector<Shared<Step>> made;
        for (const auto& step : m_recipe.steps) made.emplace_back(inner(*step, true));
        for (const auto& line : m_recipe.lines) {
            Line own = *line;
            own.id = m_names.at(line->id);
            own.surface = m_surface;
            for (Shared<Step>& step : own.steps) step = Shared<Step>(inner(*step, false));
            m_project.lines.emplace_back(std::move(own));
        }
        rewrite(m_project.allLooks);
        for (Shared<Look>& look : m_project.looks)
            if (meets(look->changes)) rewrite(look.edit().changes);
        auto& steps = m_project.lines[m_place.line].edit().steps;
        const auto at = steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(m_place.step));
        steps.insert(at, made.begin(), made.end());
    }

    /// What is changed of the step, as changes of what it stands for.
    void rewrite(Changes& changes) const {
        const std::string prefix = m_outer.id + ".";
        Changes own;
        for (auto it = changes.lower_bound(prefix); it != changes.end() && it->first.starts_with(prefix);) {
            own.insert(*it);
            it = changes.erase(it);
        }
        const auto whole = own.find(prefix + "bypass");
        const bool isAllOff = whole != own.end() ? whole->second == ControlValue(true) : m_outer.bypass;
        if (whole != own.end())
            for (const auto& step : m_recipe.steps)
                if (!isOff(*step)) changes[m_names.at(step->id) + ".bypass"] = whole->second;
        for (const RecipeControl& control : m_recipe.controls) {
            const auto value = own.find(prefix + control.id);
            if (value == own.end()) continue;
            for (const std::string& target : control.targets) {
                const Address address = Address::of(target);
                const auto name = m_names.find(std::string(address.step));
                if (name == m_names.end()) continue;
                // What is off as a whole has no step that is on.
                const bool staysOff = address.control == kBypass.id && isAllOff;
                changes[name->second + "." + std::string(address.control)] =
                    staysOff ? ControlValue(true) : value->second;
            }
        }
    }
    bool meets(const Changes& changes) const {
        const auto at = changes.lower_bound(m_outer.id + ".");
        return at != changes.end() && at->first.starts_with(m_outer.id + ".");
    }

private:
    /// Within the recipe: as it says itself, or as it is told from outside.
    bool isOff(const Step& step) const {
        const auto set = m_set.find(step.id + ".bypass");
        const bool* told = set != m_set.end() ? std::get_if<bool>(set->second) : nullptr;
        return told != nullptr ? *told : step.bypass;
    }
    Step inner(const Step& step, bool isOnLine) const {
        Step made = step;
        made.id = m_names.at(step.id);
        made.bypass = isOff(step) || (isOnLine && m_outer.bypass);
        for (auto& [name, feed] : made.feeds) {
            if (feed.constant) continue;
            if (const auto tapped = m_names.find(feed.after); tapped != m_names.end())
                feed.after = tapped->second;
            const auto line = m_names.find(feed.line);
            feed.line = feed.line.empty() ? m_line : line != m_names.end() ? line->second : feed.line;
        }
        const std::string prefix = step.id + ".";
        for (auto it = m_joined.lower_bound(prefix); it != m_joined.end() && it->first.starts_with(prefix);
             ++it)
            made.feeds[it->first.substr(prefix.size())] = *it->second;
        for (auto it = m_set.lower_bound(prefix); it != m_set.end() && it->first.starts_with(prefix); ++it)
            if (it->first != prefix + "bypass") made.controls[it->first.substr(prefix.size())] = *it->second;
        return made;
    }

    Project& m_project;
    Project::Place m_place;
    const Recipe& m_recipe;
    Step m_outer;
    std::string m_line, m_surface;
    std::unordered_map<std::string, std::string> m_names;
    std::map<std::string, const Feed*> m_joined;
    std::map<std::string, const ControlValue*> m_set;
};

std::string plainName(const std::string& step, const std::string& inner) {
    return step + "/" + inner;
}

/// The steps of a recipe, those on its own lines too.
template <class F>
void eachStep(const Recipe& recipe, F&& f) {
    for (const auto& step : recipe.steps) f(*step);
    for (const auto& line : recipe.lines)
        for (const auto& step : line->steps) f(*step);
}

}  // namespace

bool usesRecipes(const Project& project) {
    if (project.recipes.empty()) return false;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (step->type.starts_with(kRecipe)) return true;
    return false;
}

Project opened(const Project& project, const std::string& step, const InnerNames& names) {
    const auto place = project.findStep(step);
    const Recipe* recipe = place ? project.findRecipe(recipeOf(project.stepAt(*place).type)) : nullptr;
    if (recipe == nullptr || recipe->steps.empty()) return project;
    Project next = project;
    Opener(next, *place, *recipe, names).open();
    return next;
}

Opened withoutRecipes(const Project& project, const Look* look) {
    Opened all{project, look != nullptr ? std::optional<Look>(*look) : std::nullopt};
    if (!usesRecipes(project)) return all;
    const std::set<std::string> inTurn = recipesInTurn(project.recipes);
    std::size_t added = 0;
    // Lines that recipes bring are met in their turn, and steps that they bring at the same place again.
    for (std::size_t l = 0; l < all.project.lines.size(); ++l)
        for (std::size_t s = 0; s < all.project.lines[l]->steps.size();) {
            const std::string id = recipeOf(all.project.lines[l]->steps[s]->type);
            const Recipe* recipe = id.empty() || inTurn.contains(id) ? nullptr : project.findRecipe(id);
            if (recipe == nullptr || recipe->steps.empty() || added > kMostOpened) {
                ++s;
                continue;
            }
            eachStep(*recipe, [&](const Step&) { ++added; });
            Opener opener(all.project, {l, s}, *recipe, plainName);
            if (all.look) opener.rewrite(all.look->changes);
            opener.open();
        }
    return all;
}

std::set<std::string> recipesInTurn(const std::vector<Shared<Recipe>>& recipes) {
    std::map<std::string, std::set<std::string>> holds;
    for (const auto& recipe : recipes)
        eachStep(*recipe, [&](const Step& step) {
            if (const std::string id = recipeOf(step.type); !id.empty()) holds[recipe->id].insert(id);
        });
    std::set<std::string> inTurn;
    for (const auto& [id, first] : holds) {
        std::set<std::string> met;
        std::vector<std::string> open(first.begin(), first.end());
        while (!open.empty()) {
            const std::string one = open.back();
            open.pop_back();
            if (!met.insert(one).second) continue;
            if (const auto more = holds.find(one); more != holds.end())
                open.insert(open.end(), more->second.begin(), more->second.end());
        }
        if (met.contains(id)) inTurn.insert(id);
    }
    return inTurn;
}

std::string faultOf(const Recipe& recipe) {
    if (recipe.steps.empty()) return "it has no steps";
    if (recipe.kinds.empty()) return "it fits no kind of line";
    std::unordered_set<std::string> steps, lines;
    std::string twice;
    eachStep(recipe, [&](const Step& step) {
        if (!steps.insert(step.id).second) twice = step.id;
    });
    if (!twice.empty()) return fmt::format("it uses the step id {} twice", twice);
    for (const auto& line : recipe.lines) {
        if (line->steps.empty()) return fmt::format("its line {} has no steps", line->name);
        if (!lines.insert(line->id).second || steps.contains(line->id))
            return fmt::format("it uses the id {} twice", line->id);
    }
    std::string fault;
    eachStep(recipe, [&](const Step& step) {
        if (step.type == recipe.id || step.type == kRecipe + recipe.id) fault = "it holds itself";
        if (!step.set.empty()) fault = fmt::format("its step {} reads a set, which no recipe may", step.id);
        for (const auto& [name, feed] : step.feeds)
            if (!feed.constant && !feed.line.empty() && !lines.contains(feed.line))
                fault = fmt::format("its step {} reads a line {} that is not its own", step.id, feed.line);
    });
    const auto checkTargets = [&](const char* what, const std::string& name,
                                  const std::vector<std::string>& targets) {
        if (targets.empty()) fault = fmt::format("its {} {} means nothing", what, name);
        for (const std::string& target : targets)
            if (const Address at = Address::of(target);
                at.control.empty() || !steps.contains(std::string(at.step)))
                fault = fmt::format("its {} {} means {}, which is not there", what, name, target);
    };
    std::unordered_set<std::string> ids{"bypass"};
    for (const RecipeControl& control : recipe.controls) {
        checkTargets("control", control.name, control.targets);
        if (!ids.insert(control.id).second) fault = fmt::format("it uses the id {} twice", control.id);
        if (control.low && control.high && !(*control.low < *control.high))
            fault = fmt::format("the range of its control {} is empty", control.name);
    }
    for (const RecipeFeed& feed : recipe.feeds) {
        checkTargets("input", feed.name, feed.targets);
        if (!ids.insert(feed.id).second) fault = fmt::format("it uses the id {} twice", feed.id);
    }
    if (!fault.empty()) return fault;
    // A ring of its own lines is found as a project's is.
    Project alone;
    Line carrier;
    carrier.id = "recipe's line";
    carrier.steps = recipe.steps;
    alone.lines.emplace_back(carrier);
    alone.lines.insert(alone.lines.end(), recipe.lines.begin(), recipe.lines.end());
    for (Shared<Line>& line : alone.lines)
        for (Shared<Step>& step : line.edit().steps)
            for (auto& [name, feed] : step.edit().feeds)
                if (!feed.constant && feed.line.empty()) feed.line = carrier.id;
    if (findCycle(alone)) return "its lines read each other in a ring";
    return {};
}

}  // namespace kettle
