#include "app/board/changed_steps.h"

#include <algorithm>

#include "core/document/handles.h"
#include "core/document/layers.h"

namespace kettle::board {
namespace {

template <class T>
bool allEqual(const std::vector<Shared<T>>& a, const std::vector<Shared<T>>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end());
}

/// What it shows is on its own card alone.
bool speaksForItself(const Line& line, const Step& step) {
    return !isLayer(line) && step.type != kFill && recipeOf(step.type).empty();
}

bool addOfLine(const Line& before, const Line& after, std::set<std::string>& changed) {
    const auto about = [](const Line& l) {
        return std::tie(l.id, l.name, l.kind, l.channel, l.surface, l.note);
    };
    if (about(before) != about(after) || before.steps.size() != after.steps.size()) return false;
    for (std::size_t i = 0; i < after.steps.size(); ++i) {
        if (before.steps[i].sameAs(after.steps[i])) continue;
        const Step &old = *before.steps[i], &now = *after.steps[i];
        if (old == now) continue;
        if (old.id != now.id || old.type != now.type || !speaksForItself(after, now)) return false;
        changed.insert(now.id);
    }
    return true;
}

/// Of two looks, or of what holds in all.
bool addOfChanges(const Changes& before, const Changes& after, const Project& project,
                  std::set<std::string>& changed) {
    const std::set<std::string> keys = changedKeys(before, after);
    return std::all_of(keys.begin(), keys.end(), [&](const std::string& key) {
        const std::string step = stepOfKey(key);
        const auto place = project.findStep(step);
        if (!place || !speaksForItself(*project.lines[place->line], project.stepAt(*place))) return false;
        changed.insert(step);
        return true;
    });
}

/// True if one of these steps stands on a line that a fill lays: the fill's card bears its words too.
bool isLaid(const Project& project, const std::set<std::string>& changed) {
    std::set<std::string> laid;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (step->type == kFill)
                if (const auto over = step->feeds.find(kOver.id); over != step->feeds.end())
                    laid.insert(over->second.line);
    return !laid.empty() && std::any_of(project.lines.begin(), project.lines.end(), [&](const auto& line) {
        return laid.contains(line->id) &&
               std::any_of(line->steps.begin(), line->steps.end(),
                           [&](const auto& step) { return changed.contains(step->id); });
    });
}

}  // namespace

std::set<std::string> changedKeys(const Changes& before, const Changes& after) {
    std::set<std::string> keys;
    const auto addNewIn = [&](const Changes& a, const Changes& b) {
        for (const auto& [key, value] : a)
            if (const auto at = b.find(key); at == b.end() || at->second != value) keys.insert(key);
    };
    addNewIn(before, after);
    addNewIn(after, before);
    return keys;
}

std::string stepOfKey(const std::string& key) {
    return key.substr(0, key.find('.'));
}

std::optional<std::set<std::string>> changedSteps(const Project& before, const Project& after) {
    if (before.lines.size() != after.lines.size() || before.looks.size() != after.looks.size() ||
        !allEqual(before.sets, after.sets) || !allEqual(before.surfaces, after.surfaces) ||
        !allEqual(before.recipes, after.recipes) || !(before.objects == after.objects))
        return std::nullopt;
    std::set<std::string> changed;
    for (std::size_t i = 0; i < after.lines.size(); ++i)
        if (!before.lines[i].sameAs(after.lines[i]) && !addOfLine(*before.lines[i], *after.lines[i], changed))
            return std::nullopt;
    for (std::size_t i = 0; i < after.looks.size(); ++i) {
        const auto &old = before.looks[i], &now = after.looks[i];
        if (old.sameAs(now)) continue;
        if (old->id != now->id || !addOfChanges(old->changes, now->changes, after, changed))
            return std::nullopt;
    }
    if (!addOfChanges(before.allLooks, after.allLooks, after, changed) || isLaid(after, changed))
        return std::nullopt;
    return changed;
}

}  // namespace kettle::board
