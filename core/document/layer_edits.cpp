#include "core/document/layer_edits.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <unordered_map>
#include <utility>

#include "core/document/edits.h"
#include "core/document/network.h"
#include "core/document/refused.h"
#include "core/document/sources.h"

namespace kettle::edits {
namespace {

Result<const Line*> findLayer(const Project& project, const std::string& id) {
    const Line* line = project.findLine(id);
    if (line == nullptr || !isLayer(*line))
        return refused(fmt::format("There is no layer {} in the project. Choose another.", id));
    return line;
}

Shared<Line>* lineForWriting(Project& p, const std::string& id) {
    for (Shared<Line>& line : p.lines)
        if (line->id == id) return &line;
    return nullptr;
}

std::unordered_map<std::string, std::size_t> ranksOf(const Project& project, const std::string& surface) {
    std::unordered_map<std::string, std::size_t> ranks;
    for (const Line* layer : layersOf(project, surface)) ranks.try_emplace(layer->id, ranks.size());
    return ranks;
}

/// The places of a line where a fill of that rank may stand: behind the last fill below, up to the first
/// above.
std::pair<std::size_t, std::size_t> roomFor(const Line& line, std::size_t rank,
                                            const std::unordered_map<std::string, std::size_t>& ranks) {
    std::size_t from = 1, to = line.steps.size();
    for (std::size_t i = 1; i < line.steps.size(); ++i) {
        const auto at = ranks.find(layerOf(*line.steps[i]));
        if (at == ranks.end()) continue;
        if (at->second < rank) from = i + 1;
        if (at->second > rank) return {from, std::min(to, i)};
    }
    return {from, to};
}

/// What is checked before a channel is covered.
Result<const Line*> channelToCover(const Project& project, const Line& layer, const std::string& id) {
    const Line* line = project.findLine(id);
    if (line == nullptr)
        return refused(fmt::format("There is no line {} in the project. Choose another.", id));
    if (line->channel.empty() || line->surface != layer.surface)
        return refused(
            fmt::format("{} is no channel of the surface that {} lies on. Choose one of its channels.",
                        line->name, layer.name));
    for (const auto& step : line->steps)
        if (layerOf(*step) == layer.id)
            return refused(
                fmt::format("{} covers {} already. Change its fill instead.", layer.name, line->name));
    return line;
}

std::string ownLineName(const Line& layer, const Line& line) {
    return layer.name + ", " + line.name;
}

}  // namespace

Result<Project> addLayer(const Project& project, const std::string& look, const LayerWish& wish,
                         std::string& id) {
    if (wish.name.empty()) return refused("A layer needs a name. Type one.");
    if (!wish.surface.empty() && project.findSurface(wish.surface) == nullptr)
        return refused(fmt::format("There is no surface {} in the project. Choose another.", wish.surface));
    Line mask;
    mask.id = freshIdOf(project, wish.name, "layer");
    mask.name = wish.name;
    mask.kind = Kind::Scalar;
    mask.surface = wish.surface;
    Step source = plainSource(Kind::Scalar, {1, 1, 1}), head;
    source.id = freshId(project, "s");
    head.type = kLayerHead;
    head.id = freshId(project, mask.id + "-head");
    mask.steps = {Shared<Step>(source), Shared<Step>(head)};
    Project p = project;
    for (Shared<Look>& one : p.looks)
        if (one->id == look) {
            one.edit().changes[head.id + ".bypass"] = false;
            mask.steps.back().edit().bypass = true;
        }
    auto at = p.lines.end();
    if (!wish.below.empty())
        at = std::find_if(p.lines.begin(), p.lines.end(),
                          [&](const auto& line) { return line->id == wish.below; });
    if (!wish.below.empty() && at == p.lines.end())
        return refused(fmt::format("There is no layer {} in the project. Choose another.", wish.below));
    id = mask.id;
    p.lines.insert(at, Shared<Line>(std::move(mask)));
    return p;
}

Result<Project> coverFrom(const Project& project, const std::string& look, const std::string& layer,
                          const std::string& line, const Feed& over, std::string& fill,
                          std::optional<std::size_t> index) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    const auto channel = channelToCover(project, **mask, line);
    if (!channel) return fail(channel.error());
    const auto ranks = ranksOf(project, (*mask)->surface);
    const auto [from, to] = roomFor(**channel, ranks.at(layer), ranks);
    Step step;
    step.type = kFill;
    step.id = fill = freshId(project, "s");
    step.feeds[kOver.id] = over;
    step.feeds[kMask.id].line = layer;
    // A layer that is off in the base is switched by its head; its fills need no switch of their own.
    const std::string where = headOf(**mask).bypass ? std::string() : look;
    return insertStep(project, where, line, std::clamp(index.value_or(to), from, to), std::move(step));
}

Result<Project> cover(const Project& project, const std::string& look, const std::string& layer,
                      const std::string& line, Step source, std::string& fill,
                      std::optional<std::size_t> index) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    const auto channel = channelToCover(project, **mask, line);
    if (!channel) return fail(channel.error());
    Line own;
    own.id = freshId(project, layer + "-" + (*channel)->channel);
    own.name = ownLineName(**mask, **channel);
    own.kind = (*channel)->kind;
    own.surface = (*mask)->surface;
    source.id = freshId(project, "s");
    own.steps.emplace_back(std::move(source));
    Feed over;
    over.line = own.id;
    auto added = addLine(project, std::move(own));
    return added ? coverFrom(*added, look, layer, line, over, fill, index) : added;
}

Result<Project> uncover(const Project& project, const std::string& fill) {
    const auto at = project.findStep(fill);
    if (!at || project.stepAt(*at).type != kFill)
        return refused(fmt::format("There is no fill {} in the project. Choose another.", fill));
    const Line* own = ownLineOf(project, project.stepAt(*at));
    auto without = removeStep(project, fill);
    return without && own != nullptr ? removeLine(*without, own->id) : without;
}

Result<Project> replaceSource(const Project& project, const std::string& line, Step source) {
    Project p = project;
    Shared<Line>* found = lineForWriting(p, line);
    if (found == nullptr || (*found)->steps.empty())
        return refused(fmt::format("There is no line {} in the project. Choose another.", line));
    // The place keeps its id, so that taps stay; what looks changed of the old source is gone with it.
    const std::string prefix = (*found)->steps.front()->id + ".";
    const auto isOfSource = [&](const auto& change) { return change.first.starts_with(prefix); };
    std::erase_if(p.allLooks, isOfSource);
    for (Shared<Look>& look : p.looks)
        if (std::any_of(look->changes.begin(), look->changes.end(), isOfSource))
            std::erase_if(look.edit().changes, isOfSource);
    source.id = (*found)->steps.front()->id;
    found->edit().steps.front() = Shared<Step>(std::move(source));
    if (auto cycle = findCycle(p)) return fail(ErrorKind::Refused, *cycle);
    return p;
}

Result<Project> setFillSource(const Project& project, const std::string& fill, Step source) {
    const auto at = project.findStep(fill);
    if (!at || project.stepAt(*at).type != kFill)
        return refused(fmt::format("There is no fill {} in the project. Choose another.", fill));
    const Line& line = *project.lines[at->line];
    if (const Line* own = ownLineOf(project, project.stepAt(*at)))
        return replaceSource(project, own->id, std::move(source));
    const Line* layer = project.findLine(layerOf(project.stepAt(*at)));
    return feedFromNewLine(project, fill, "over", layer != nullptr ? ownLineName(*layer, line) : line.name,
                           line.kind, std::move(source));
}

Result<Project> removeLayer(const Project& project, const std::string& layer) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    Result<Project> next = project;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (next && layerOf(*step) == layer) next = uncover(*next, step->id);
    return next ? removeLine(*next, layer) : next;
}

Result<Project> renameLayer(const Project& project, const std::string& layer, const std::string& name) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    if (name.empty()) return refused("A layer needs a name. Type one, or keep the old one.");
    Project p = project;
    lineForWriting(p, layer)->edit().name = name;
    // Lines of its own follow, unless they bear another name.
    for (const FillPlace& fill : fillsOf(project, layer))
        if (const Line* own = ownLineOf(project, *fill.step);
            own != nullptr && own->name == ownLineName(**mask, *fill.line))
            lineForWriting(p, own->id)->edit().name = name + ", " + fill.line->name;
    return p;
}

Result<Project> moveFills(const Project& project, const std::string& layer,
                          const std::map<std::string, std::size_t>& targets) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    Result<Project> next = project;
    for (const FillPlace& fill : fillsOf(project, layer))
        if (const auto to = targets.find(fill.line->id); next && to != targets.end())
            next = moveStep(*next, fill.step->id, fill.line->id, std::max<std::size_t>(1, to->second));
    if (!next) return next;
    if (const std::string turned = layersInTurn(*next, (*mask)->surface); !turned.empty())
        return refused(turned);
    return next;
}

Result<Project> moveLayer(const Project& project, const std::string& layer, int way) {
    const auto mask = findLayer(project, layer);
    if (!mask) return fail(mask.error());
    const auto order = layersOf(project, (*mask)->surface);
    const auto at = static_cast<std::size_t>(std::find(order.begin(), order.end(), *mask) - order.begin());
    if (way < 0 ? at == 0 : at + 1 >= order.size())
        return refused(
            fmt::format("{} is the {} layer already.", (*mask)->name, way < 0 ? "lowest" : "highest"));
    const std::string other = order[way < 0 ? at - 1 : at + 1]->id;
    Result<Project> next = project;
    for (const FillPlace& mine : fillsOf(project, layer))
        for (const FillPlace& theirs : fillsOf(project, other))
            if (next && mine.line == theirs.line)
                next = moveStep(*next, mine.step->id, mine.line->id, theirs.index + (way > 0 ? 1 : 0));
    if (!next) return next;
    // Where no line says so, the lines of the project do.
    Project p = std::move(*next);
    const auto placeOf = [&](const std::string& id) {
        return std::find_if(p.lines.begin(), p.lines.end(), [&](const auto& line) { return line->id == id; });
    };
    const auto mine = placeOf(layer), theirs = placeOf(other);
    if ((mine < theirs) == (way > 0)) std::iter_swap(mine, theirs);
    return p;
}

Result<Project> layerFromSteps(const Project& project, const std::string& look,
                               const std::vector<std::string>& steps, const LayerWish& wish,
                               std::string& id) {
    if (steps.empty()) return refused("No steps are chosen. Choose those that are to become a layer.");
    const auto first = project.findStep(steps.front());
    if (!first)
        return refused(fmt::format("There is no step {} in the project. Choose another.", steps.front()));
    const Line& line = *project.lines[first->line];
    if (line.channel.empty())
        return refused(fmt::format(
            "{} drives no channel, so no layer can lie on it. Choose steps of a channel.", line.name));
    std::set<std::string> wanted(steps.begin(), steps.end());
    std::size_t from = line.steps.size(), found = 0;
    for (std::size_t i = 0; i < line.steps.size(); ++i) {
        if (!wanted.contains(line.steps[i]->id)) continue;
        ++found;
        from = std::min(from, i);
        if (i == 0 || line.steps[i]->type == kFill)
            return refused("A source or a fill cannot become part of a layer. Choose the steps behind it.");
    }
    if (found < wanted.size()) return refused("The steps of one line can become a layer. Choose them there.");
    // The layer covers the line from itself, in front of the steps; then the steps go behind that.
    LayerWish place = wish;
    place.surface = line.surface;
    const auto ranks = ranksOf(project, line.surface);
    for (std::size_t i = from; i < line.steps.size() && place.below.empty(); ++i)
        if (ranks.contains(layerOf(*line.steps[i]))) place.below = layerOf(*line.steps[i]);
    auto next = addLayer(project, look, place, id);
    if (!next) return next;
    Step source;
    source.type = "line";
    source.feeds[kOf.id].line = line.id;
    source.feeds[kOf.id].after = line.steps[from - 1]->id;
    std::string fill;
    next = cover(*next, look, id, line.id, source, fill, from);
    if (!next) return next;
    const std::string own = ownLineOf(*next, next->stepAt(*next->findStep(fill)))->id;
    std::size_t to = 1;
    for (const auto& step : line.steps)
        if (next && wanted.contains(step->id)) next = moveStep(*next, step->id, own, to++);
    return next;
}

}  // namespace kettle::edits
