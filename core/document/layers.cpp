#include "core/document/layers.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <queue>
#include <set>
#include <unordered_map>

namespace kettle {
namespace {

/// The layers that lie over each other on the lines of one surface: for each line from the source to the end.
struct Stacks {
    std::vector<const Line*> layers;  ///< by their lines in the project
    std::unordered_map<std::string, std::size_t> placeOf;
    std::vector<std::pair<const Line*, std::vector<std::size_t>>> lines;

    Stacks(const Project& project, const std::string& surface) {
        for (const auto& line : project.lines)
            if (isLayer(*line) && line->surface == surface) {
                placeOf.try_emplace(line->id, layers.size());
                layers.push_back(&*line);
            }
        if (layers.empty()) return;
        for (const auto& line : project.lines) {
            if (line->channel.empty() || line->surface != surface) continue;
            std::vector<std::size_t> stack;
            for (const auto& step : line->steps)
                if (const auto at = placeOf.find(layerOf(*step)); at != placeOf.end())
                    if (std::find(stack.begin(), stack.end(), at->second) == stack.end())
                        stack.push_back(at->second);
            if (!stack.empty()) lines.emplace_back(&*line, std::move(stack));
        }
    }
};

}  // namespace

bool isLayer(const Line& line) {
    return line.kind == Kind::Scalar && line.channel.empty() && line.steps.size() > 1 &&
           line.steps.back()->type == kLayerHead;
}

const Step& headOf(const Line& layer) {
    return *layer.steps.back();
}

const std::string& layerOf(const Step& step) {
    static const std::string none;
    if (step.type != kFill) return none;
    const auto mask = step.feeds.find(kMask.id);
    return mask == step.feeds.end() || mask->second.constant || !mask->second.after.empty()
               ? none
               : mask->second.line;
}

bool goesByHeight(const Project& project, const Step& step) {
    if (step.type != kFill) return false;
    const auto isSo = [](const Controls& values, const std::string& key) {
        const auto at = values.find(key);
        return at != values.end() && at->second == kFillMode(BlendMode::ByHeight).second;
    };
    if (isSo(step.controls, kFillMode.id)) return true;
    const std::string key = step.id + "." + kFillMode.id;
    return isSo(project.allLooks, key) ||
           std::any_of(project.looks.begin(), project.looks.end(),
                       [&](const auto& look) { return isSo(look->changes, key); });
}

std::vector<FillPlace> fillsOf(const Project& project, const std::string& layer) {
    std::vector<FillPlace> fills;
    const Line* mask = project.findLine(layer);
    if (mask == nullptr) return fills;
    for (const auto& line : project.lines) {
        if (line->channel.empty() || line->surface != mask->surface) continue;
        for (std::size_t i = 0; i < line->steps.size(); ++i)
            if (layerOf(*line->steps[i]) == layer) {
                fills.push_back({&*line, i, &*line->steps[i]});
                break;
            }
    }
    return fills;
}

std::vector<const Line*> layersOf(const Project& project, const std::string& surface) {
    const Stacks stacks(project, surface);
    const std::size_t count = stacks.layers.size();
    // Each lies over its nearest on every line. Of those that nothing lies under the first in the project
    // comes next; where fills lie in turn, the first that is left.
    std::vector<std::set<std::size_t>> above(count);
    std::vector<std::size_t> under(count, 0);
    for (const auto& [line, stack] : stacks.lines)
        for (std::size_t i = 1; i < stack.size(); ++i)
            if (above[stack[i - 1]].insert(stack[i]).second) ++under[stack[i]];
    std::set<std::size_t> ready, left;
    for (std::size_t i = 0; i < count; ++i) {
        left.insert(i);
        if (under[i] == 0) ready.insert(i);
    }
    std::vector<const Line*> order;
    while (!left.empty()) {
        const std::size_t next = ready.empty() ? *left.begin() : *ready.begin();
        ready.erase(next);
        left.erase(next);
        order.push_back(stacks.layers[next]);
        for (const std::size_t over : above[next])
            if (left.contains(over) && under[over] > 0 && --under[over] == 0) ready.insert(over);
    }
    return order;
}

std::string layersInTurn(const Project& project, const std::string& surface) {
    const Stacks stacks(project, surface);
    std::vector<std::size_t> rank(stacks.layers.size());
    const auto order = layersOf(project, surface);
    for (std::size_t i = 0; i < order.size(); ++i) rank[stacks.placeOf.at(order[i]->id)] = i;
    for (const auto& [line, stack] : stacks.lines)
        for (std::size_t i = 1; i < stack.size(); ++i)
            if (rank[stack[i - 1]] > rank[stack[i]])
                return fmt::format(
                    "The layer {} lies over {} on {}, and under it on another line. Move its fill on {} so "
                    "that both lie alike everywhere.",
                    stacks.layers[stack[i]]->name, stacks.layers[stack[i - 1]]->name, line->name, line->name);
    return {};
}

const Line* ownLineOf(const Project& project, const Step& fill) {
    const auto over = fill.feeds.find(kOver.id);
    if (fill.type != kFill || over == fill.feeds.end() || over->second.constant ||
        !over->second.after.empty())
        return nullptr;
    const Line* line = project.findLine(over->second.line);
    if (line == nullptr || !line->channel.empty() || line->steps.empty() || isLayer(*line)) return nullptr;
    int readers = 0;
    for (const auto& other : project.lines)
        for (const auto& step : other->steps)
            for (const auto& [name, feed] : step->feeds)
                readers += !feed.constant && feed.line == line->id && (&*other != line);
    return readers == 1 ? line : nullptr;
}

std::unordered_map<std::string, std::string> layersOfLines(const Project& project) {
    std::unordered_map<std::string, std::string> of;
    std::unordered_map<std::string, int> readers;
    for (const auto& line : project.lines) {
        if (isLayer(*line)) of[line->id] = line->id;
        for (const auto& step : line->steps)
            for (const auto& [name, feed] : step->feeds) {
                if (feed.constant) continue;
                ++readers[feed.line];
                if (name == kOver.id && !layerOf(*step).empty()) of.try_emplace(feed.line, layerOf(*step));
            }
    }
    std::erase_if(of, [&](const auto& entry) {
        if (entry.first == entry.second) return false;
        const Line* line = project.findLine(entry.first);
        return line == nullptr || !line->channel.empty() || readers[entry.first] != 1;
    });
    return of;
}

}  // namespace kettle
