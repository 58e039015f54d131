#include "core/document/layer_views.h"

#include <algorithm>

#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/sources.h"

namespace kettle {
namespace {

void bypassEverywhere(Project& p, Shared<Step>& step) {
    const std::string key = step->id + ".bypass";
    step.edit().bypass = true;
    p.allLooks.erase(key);
    for (Shared<Look>& look : p.looks)
        if (look->changes.contains(key)) look.edit().changes.erase(key);
}

const Line* findLayer(const Project& project, const std::string& id) {
    const Line* line = project.findLine(id);
    return line != nullptr && isLayer(*line) ? line : nullptr;
}

Step neutralSource(const Line& line) {
    const ChannelSpec* channel = findChannel(line.channel);
    return plainSource(line.kind, channel != nullptr ? channel->neutral : Vec3{0.5f, 0.5f, 0.5f});
}

}  // namespace

namespace {

/// Bypasses everything above a layer; with `takesLayer` false its own fills as well.
Project cutAt(const Project& project, const std::string& id, bool takesLayer) {
    const Line* layer = findLayer(project, id);
    if (layer == nullptr) return project;
    const auto order = layersOf(project, layer->surface);
    const auto rankOf = [&](const Step& step) {
        const std::string& of = layerOf(step);
        return std::find_if(order.begin(), order.end(), [&](const Line* l) { return l->id == of; }) -
               order.begin();
    };
    const auto top = std::find(order.begin(), order.end(), layer) - order.begin();
    Project shown = project;
    for (std::size_t l = 0; l < project.lines.size(); ++l) {
        const Line& line = *project.lines[l];
        if (line.channel.empty() || line.surface != layer->surface) continue;
        // A line that the layer covers ends with its fill; any other before the first fill above it.
        std::size_t end = line.steps.size();
        for (std::size_t i = line.steps.size(); i-- > 0;) {
            if (layerOf(*line.steps[i]).empty()) continue;
            const auto rank = rankOf(*line.steps[i]);
            if (rank > top || (rank == top && !takesLayer)) end = i;
            if (rank == top && takesLayer) {
                end = i + 1;
                break;
            }
        }
        for (std::size_t i = end; i < line.steps.size(); ++i)
            bypassEverywhere(shown, shown.lines[l].edit().steps[i]);
    }
    return shown;
}

}  // namespace

Project upToLayer(const Project& project, const std::string& id) {
    return cutAt(project, id, true);
}

Project belowLayer(const Project& project, const std::string& id) {
    return cutAt(project, id, false);
}

Project onlyLayer(const Project& project, const std::string& id) {
    const Line* layer = findLayer(project, id);
    if (layer == nullptr) return project;
    Project shown = project;
    std::vector<Line> alone;
    for (Shared<Line>& line : shown.lines) {
        if (line->channel.empty() || line->surface != layer->surface) continue;
        // What the mask reads of the line stays; the channel is driven by a line of the fill alone.
        Line bare = *line;
        bare.id = edits::freshId(shown, line->id + "-alone");
        Step source = neutralSource(*line);
        source.id = bare.id + "-source";
        bare.steps = {Shared<Step>(std::move(source))};
        for (const auto& step : line->steps)
            if (layerOf(*step) == id) bare.steps.push_back(step);
        line.edit().channel.clear();
        alone.push_back(std::move(bare));
    }
    for (Line& line : alone) shown.lines.emplace_back(std::move(line));
    return shown;
}

Project withMaskShown(const Project& project, const std::string& id) {
    const Line* layer = findLayer(project, id);
    const Line* line =
        layer != nullptr ? project.lineOfChannel(channel::kBaseColour, layer->surface) : nullptr;
    if (line == nullptr) return project;
    Project shown = project;
    const auto made = [&](const char* type) {
        Step step;
        step.type = type;
        step.id = edits::freshId(shown, "shown-mask");
        return step;
    };
    for (Shared<Line>& l : shown.lines) {
        if (l->id != line->id) continue;
        Step grey = made("desaturate");
        l.edit().steps.emplace_back(grey);
        Step tint = made("blend");
        Feed colour;
        colour.constant = Colour{0.9f, 0.22f, 0.01f};
        tint.feeds[kOver.id] = colour;
        tint.feeds[kMask.id].line = id;
        l.edit().steps.emplace_back(tint);
        break;
    }
    return shown;
}

}  // namespace kettle
