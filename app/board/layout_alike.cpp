#include "app/board/layout_alike.h"

#include <algorithm>

#include "app/board/changed_steps.h"
#include "core/document/layers.h"
#include "core/document/sources.h"

namespace kettle::board {
namespace {

template <class T, class Alike>
bool allAlike(const std::vector<Shared<T>>& a, const std::vector<Shared<T>>& b, const Alike& alike) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [&](const Shared<T>& x, const Shared<T>& y) { return x.sameAs(y) || alike(*x, *y); });
}

/// Of these the layout reads what they say: a mask that is white everywhere, a layer that goes by height.
bool isRead(const Step& step) {
    return step.type == kValueSource || step.type == kLayerHead || step.type == kFill;
}

bool alikeSteps(const Step& a, const Step& b) {
    if (isRead(a)) return a == b;
    return a.id == b.id && a.type == b.type && a.set == b.set && a.role == b.role && a.bypass == b.bypass &&
           a.feeds == b.feeds && a.note.empty() == b.note.empty();
}

bool alikeLines(const Line& a, const Line& b) {
    return a.id == b.id && a.name == b.name && a.kind == b.kind && a.channel == b.channel &&
           a.surface == b.surface && a.note.empty() == b.note.empty() &&
           allAlike(a.steps, b.steps, alikeSteps);
}

/// What looks change matters to layers that may go by height.
bool alikeChanges(const Changes& a, const Changes& b, const Project& project) {
    const std::set<std::string> keys = changedKeys(a, b);
    return std::none_of(keys.begin(), keys.end(), [&](const std::string& key) {
        const auto place = project.findStep(stepOfKey(key));
        return place && isRead(project.stepAt(*place));
    });
}

}  // namespace

bool laysOutAlike(const Project& a, const Project& b) {
    const auto equal = [](const auto& x, const auto& y) { return x == y; };
    if (!allAlike(a.surfaces, b.surfaces, equal) || !allAlike(a.recipes, b.recipes, equal) ||
        !allAlike(a.lines, b.lines, alikeLines))
        return false;
    const auto alikeLooks = [&](const Look& x, const Look& y) {
        return x.id == y.id && alikeChanges(x.changes, y.changes, b);
    };
    return (allAlike(a.looks, b.looks, alikeLooks) && alikeChanges(a.allLooks, b.allLooks, b)) ||
           std::none_of(a.lines.begin(), a.lines.end(), [](const auto& l) { return isLayer(*l); });
}

bool laysOutAlike(const LayoutOptions& a, const LayoutOptions& b) {
    return a.folded == b.folded && a.foldedSurfaces == b.foldedSurfaces && a.foldedBands == b.foldedBands &&
           a.openFills == b.openFills && a.openRecipes == b.openRecipes && a.onlyWorked == b.onlyWorked;
}

}  // namespace kettle::board
