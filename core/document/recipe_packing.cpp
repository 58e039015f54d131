// Packing: steps of a line become a recipe.
#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <functional>
#include <optional>
#include <set>
#include <unordered_map>
#include <unordered_set>

#include "core/base/names.h"
#include "core/document/handles.h"
#include "core/document/layers.h"
#include "core/document/network.h"
#include "core/document/recipe_edits.h"
#include "core/document/recipes.h"
#include "core/document/refused.h"

namespace kettle::edits {
namespace {

std::string freshIn(std::set<std::string>& used, const std::string& wanted) {
    std::string id = wanted;
    for (int n = 2; !used.insert(id).second; ++n) id = fmt::format("{}-{}", wanted, n);
    return id;
}

/// Collects what a recipe of some steps holds.
class Packer {
public:
    Packer(const Project& project, const std::string& look, const std::vector<std::string>& steps)
        : m_project(project), m_network(project), m_look(project.findLook(look)) {
        for (const std::string& id : steps)
            if (const Node node = m_network.find(id); node != kNoNode) m_nodes.push_back(node);
        std::sort(m_nodes.begin(), m_nodes.end());
        m_known = m_nodes.size() == steps.size();
    }

    std::string fault() const {
        if (m_nodes.empty() || !m_known) return "Choose the steps that the recipe is made of on the board.";
        for (std::size_t i = 0; i < m_nodes.size(); ++i) {
            const Step& step = m_network.step(m_nodes[i]);
            if (m_network.index(m_nodes[i]) == 0)
                return "A source stays on its line: choose the steps behind it. What a recipe reads is "
                       "joined to "
                       "its inputs.";
            if (step.type == kLayerHead || step.type == kFill)
                return "A layer is kept whole: choose its head, or steps without it.";
            if (i > 0 && (m_nodes[i] != m_nodes[i - 1] + 1 ||
                          m_network.lineIndex(m_nodes[i]) != m_network.lineIndex(m_nodes[i - 1])))
                return "A recipe is made of steps that stand one behind the other on a line. Choose such.";
        }
        return {};
    }

    Recipe recipe(const PackWish& wish) {
        findOwnLines();
        Recipe made;
        made.name = wish.name;
        made.id = stemOf(wish.name, "recipe");
        made.purpose = wish.purpose;
        made.note = wish.note;
        made.kinds = wish.kinds;
        for (const Node node : m_nodes) made.steps.emplace_back(taken(m_network.step(node), made));
        for (const auto& line : m_project.lines)
            if (m_own.contains(line->id)) {
                Line own = *line;
                own.surface.clear();
                for (Shared<Step>& step : own.steps) step = Shared<Step>(taken(*step, made));
                made.lines.emplace_back(std::move(own));
            }
        std::set<std::string> ids{"bypass"};
        for (const RecipeFeed& feed : made.feeds) ids.insert(feed.id);
        for (RecipeControl control : wish.controls) {
            control.id = freshIn(ids, control.id.empty() ? stemOf(control.name, "control") : control.id);
            made.controls.push_back(std::move(control));
        }
        return made;
    }

    const std::vector<Node>& nodes() const { return m_nodes; }
    const Network& network() const { return m_network; }
    const std::unordered_set<std::string>& ownLines() const { return m_own; }

private:
    bool isPacked(const std::string& step) const {
        const Node node = m_network.find(step);
        return std::binary_search(m_nodes.begin(), m_nodes.end(), node);
    }
    /// Lines that only the packed steps, or lines of theirs, read; made smaller until nothing changes.
    void findOwnLines() {
        for (const auto& line : m_project.lines)
            if (line->channel.empty() && !isLayer(*line) && !line->steps.empty() &&
                line->steps.front()->set.empty())
                m_own.insert(line->id);
        std::unordered_set<std::string> wanted;
        for (bool changed = true; changed;) {
            changed = false;
            wanted.clear();
            for (Node node = 0; node < m_network.size(); ++node) {
                const Line& at = m_network.line(node);
                const bool isInside =
                    std::binary_search(m_nodes.begin(), m_nodes.end(), node) || m_own.contains(at.id);
                for (const auto& [name, feed] : m_network.step(node).feeds) {
                    if (feed.constant) continue;
                    if (isInside) wanted.insert(feed.line);
                    if (!isInside && m_own.erase(feed.line) > 0) changed = true;
                }
            }
            for (auto it = m_own.begin(); it != m_own.end();)
                if (!wanted.contains(*it))
                    it = m_own.erase(it), changed = true;
                else
                    ++it;
        }
    }
    /// The step as the look shows it; what it reads from outside becomes an input.
    Step taken(const Step& step, Recipe& recipe) {
        Step made = withLook(m_project, step, m_look);
        made.note.clear();
        for (auto it = made.feeds.begin(); it != made.feeds.end();) {
            Feed& feed = it->second;
            if (feed.constant || m_own.contains(feed.line)) {
                ++it;
            } else if (isPacked(feed.after)) {
                feed.line.clear();
                ++it;
            } else {
                input(feed, recipe).targets.push_back(step.id + "." + it->first);
                it = made.feeds.erase(it);
            }
        }
        return made;
    }
    RecipeFeed& input(const Feed& feed, Recipe& recipe) {
        const std::string key = feed.line + "\n" + feed.after + "\n" + feed.component;
        if (const auto known = m_inputs.find(key); known != m_inputs.end())
            return recipe.feeds[known->second];
        m_inputs[key] = recipe.feeds.size();
        m_feeds.push_back(feed);
        const Line* line = m_network.findLine(feed.line);
        std::set<std::string> used{"bypass"};
        for (const RecipeFeed& other : recipe.feeds) used.insert(other.id);
        const std::string name = line != nullptr ? line->name : feed.line;
        recipe.feeds.push_back({freshIn(used, stemOf(name, "input")), name, {}});
        return recipe.feeds.back();
    }

public:
    /// What is joined to the recipe's inputs, in their order.
    const std::vector<Feed>& joined() const { return m_feeds; }

private:
    const Project& m_project;
    Network m_network;
    const Look* m_look;
    std::vector<Node> m_nodes;
    bool m_known = false;
    std::unordered_set<std::string> m_own;
    std::unordered_map<std::string, std::size_t> m_inputs;
    std::vector<Feed> m_feeds;
};

/// A look's changes of packed steps become those of the one step, as far as its controls say.
void rewrite(Changes& changes, const Recipe& recipe, const std::string& step,
             const std::unordered_set<std::string>& packed, const std::string& where,
             std::vector<std::string>& notes) {
    std::map<std::string, std::string> controlOf;
    for (const RecipeControl& control : recipe.controls) controlOf[control.targets.front()] = control.id;
    Changes next;
    bool isOn = false, isOff = false;
    for (const auto& [key, value] : changes) {
        const Address address = Address::of(key);
        if (!packed.contains(std::string(address.step))) {
            next.insert({key, value});
        } else if (const auto control = controlOf.find(key); control != controlOf.end()) {
            next[step + "." + control->second] = value;
        } else if (address.control == kBypass.id) {
            (value == ControlValue(true) ? isOff : isOn) = true;
        } else if (!where.empty()) {
            notes.push_back(fmt::format("what {} changes of {} is not kept", where, key));
        }
    }
    if (isOn || isOff) next[step + ".bypass"] = !isOn;
    changes = std::move(next);
}

/// True if these steps are switched on and off together: in the base, and wherever looks change it.
bool switchTogether(const Project& project, const std::vector<std::string>& steps) {
    bool areTogether = true;
    const auto check = [&](const std::function<std::optional<bool>(const std::string&)>& isOff) {
        for (const std::string& step : steps)
            areTogether = areTogether && isOff(step) == isOff(steps.front());
    };
    check([&](const std::string& step) -> std::optional<bool> {
        const auto place = project.findStep(step);
        return place && project.stepAt(*place).bypass;
    });
    const auto checkChanges = [&](const Changes& changes) {
        check([&](const std::string& step) -> std::optional<bool> {
            const auto change = changes.find(step + ".bypass");
            if (change == changes.end()) return std::nullopt;
            return change->second == ControlValue(true);
        });
    };
    checkChanges(project.allLooks);
    for (const auto& look : project.looks) checkChanges(look->changes);
    return areTogether;
}

/// "hsv-shift" as one reads it.
std::string wordsOfType(const Project& project, const Step& step) {
    if (const Recipe* recipe = project.findRecipe(recipeOf(step.type))) return recipe->name;
    std::string words = step.type;
    std::replace(words.begin(), words.end(), '-', ' ');
    return words;
}

/// The wish with every control that any look changes of these steps: so that all looks stay as they are.
PackWish withChanged(const Project& project, const std::vector<std::string>& steps, PackWish wish) {
    std::set<std::string> told;
    const bool areTogether = switchTogether(project, steps);
    for (const RecipeControl& control : wish.controls)
        told.insert(control.targets.begin(), control.targets.end());
    const auto expose = [&](const Changes& changes) {
        for (const auto& [key, value] : changes) {
            const Address address = Address::of(key);
            const std::string step(address.step), control(address.control);
            if ((control == kBypass.id && areTogether) ||
                std::find(steps.begin(), steps.end(), step) == steps.end() || !told.insert(key).second)
                continue;
            std::string name = control;
            name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(name[0])));
            if (const auto place = project.findStep(step); control == kBypass.id && place)
                name += " " + wordsOfType(project, project.stepAt(*place));
            wish.controls.push_back({"", name, "Of looks", {key}, {}, {}});
        }
    };
    expose(project.allLooks);
    for (const auto& look : project.looks) expose(look->changes);
    return wish;
}

}  // namespace

Result<Recipe> recipeOfSteps(const Project& project, const std::string& look,
                             const std::vector<std::string>& steps, const PackWish& wish) {
    Packer packer(project, look, steps);
    if (const std::string fault = packer.fault(); !fault.empty()) return refused(fault);
    if (wish.name.find_first_not_of(" \t\n") == std::string::npos)
        return refused("The recipe has no name. Type one to keep it.");
    Recipe recipe = packer.recipe(wish);
    // As the look shows it all of them are on; a recipe that begins switched off would be none.
    if (std::all_of(recipe.steps.begin(), recipe.steps.end(), [](const auto& s) { return s->bypass; }))
        for (Shared<Step>& step : recipe.steps) step.edit().bypass = false;
    if (const std::string fault = faultOf(recipe); !fault.empty())
        return refused(fmt::format("These steps make no recipe: {}.", fault));
    return recipe;
}

Result<Project> packSteps(const Project& project, const std::string& look,
                          const std::vector<std::string>& steps, const PackWish& wanted, std::string& step,
                          std::vector<std::string>& notes) {
    const PackWish wish = withChanged(project, steps, wanted);
    // With the base's values: each look lays its own over them, as before.
    auto recipe = recipeOfSteps(project, {}, steps, wish);
    if (!recipe) return fail(recipe.error());
    Packer packer(project, {}, steps);
    packer.recipe(wish);
    // Steps that looks switch one by one keep what the base says of each.
    const bool areTogether = switchTogether(project, steps);
    if (!areTogether)
        for (Shared<Step>& one : recipe->steps)
            one.edit().bypass = project.stepAt(*project.findStep(one->id)).bypass;
    std::unordered_set<std::string> packed;
    for (const auto& one : recipe->steps) packed.insert(one->id);
    const std::string last = recipe->steps.back()->id;
    const Network& network = packer.network();
    for (Node node = 0; node < network.size(); ++node) {
        const Step& other = network.step(node);
        if (packed.contains(other.id) || packer.ownLines().contains(network.line(node).id)) continue;
        for (const auto& [name, feed] : other.feeds)
            if (feed.after != last && packed.contains(feed.after))
                return refused(fmt::format(
                    "{} on {} reads what {} gives, in the middle of these steps. Join it to another "
                    "place, or pack fewer.",
                    other.id, network.line(node).name, feed.after));
    }
    std::string id;
    Project next = takeRecipe(project, *recipe, id);
    // The one step stands where the last one stood, and whoever read that one reads it.
    step = last;
    Step one;
    one.id = last;
    one.type = kRecipe + id;
    one.bypass = areTogether && network.step(packer.nodes().front()).bypass;
    for (std::size_t i = 0; i < packer.joined().size(); ++i)
        one.feeds[recipe->feeds[i].id] = packer.joined()[i];
    Line& line = next.lines[network.lineIndex(packer.nodes().front())].edit();
    const auto first =
        line.steps.begin() + static_cast<std::ptrdiff_t>(network.index(packer.nodes().front()));
    *first = Shared<Step>(std::move(one));
    line.steps.erase(first + 1, first + static_cast<std::ptrdiff_t>(packer.nodes().size()));
    std::erase_if(next.lines, [&](const auto& l) { return packer.ownLines().contains(l->id); });
    for (const auto& own : recipe->lines)
        for (const auto& inner : own->steps) packed.insert(inner->id);
    rewrite(next.allLooks, *recipe, last, packed, {}, notes);
    for (Shared<Look>& other : next.looks)
        rewrite(other.edit().changes, *recipe, last, packed, other->id == look ? std::string() : other->name,
                notes);
    return next;
}

}  // namespace kettle::edits
