#include "core/exchange/kept_layers.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/document/layers.h"
#include "core/exchange/set_channels.h"
#include "core/steps/invert.h"

namespace kettle {
namespace {

/// The channel that a line of kept layers is laid over; empty for a mask and for what nobody lays.
std::string channelOf(const Project& layers, const std::string& id) {
    for (const auto& line : layers.lines)
        for (const auto& step : line->steps)
            if (const auto over = step->feeds.find(kOver.id);
                step->type == kFill && over != step->feeds.end() && over->second.line == id)
                return line->channel;
    return {};
}

void takeOff(Project& layers, const std::string& id) {
    for (Shared<Line>& line : layers.lines) {
        const auto reads = [&](const Shared<Step>& step) {
            const auto over = step->feeds.find(kOver.id);
            return step->type == kFill && over != step->feeds.end() && over->second.line == id;
        };
        if (std::any_of(line->steps.begin(), line->steps.end(), reads))
            std::erase_if(line.edit().steps, reads);
    }
    std::erase_if(layers.lines, [&](const auto& line) { return line->id == id; });
}

/// Roughness that is kept as gloss is turned round.
Step invertGloss(const std::string& line) {
    Step step;
    step.id = line + "-from-gloss";
    step.type = invert::kType;
    step.controls = {invert::kFrom(invert::Reason::Gloss)};
    return step;
}

}  // namespace

std::string setFor(const KeptLayer& layer, const Project& project) {
    std::set<std::string> roles;
    for (const auto& slot : layer.layers.sets)
        for (const Map& map : slot->maps) roles.insert(map.role);
    for (const auto& set : project.sets)
        for (const SetChannel& has : channelsOfSet(project, set->id))
            if (roles.contains(has.channel)) return set->id;
    return {};
}

Result<KeptLayer> filledFrom(const KeptLayer& layer, const Project& project, const std::string& set,
                             std::vector<std::string>& lacking) {
    const TextureSet* from = project.findSet(set);
    if (from == nullptr)
        return fail(ErrorKind::Refused, "There is no such set in the project. Choose another.");
    KeptLayer filled = layer;
    const auto has = channelsOfSet(project, set);
    const std::vector<std::string> slots = layer.slots();
    const auto isSlot = [&](const std::string& id) {
        return std::find(slots.begin(), slots.end(), id) != slots.end();
    };
    bool any = false;
    std::vector<std::string> gone;
    for (Shared<Line>& line : filled.layers.lines) {
        if (line->steps.empty() || !isSlot(line->steps.front()->set)) continue;
        const std::string fills = channelOf(filled.layers, line->id),
                          wanted = fills.empty() ? line->steps.front()->role : fills;
        const auto at =
            std::find_if(has.begin(), has.end(), [&](const SetChannel& c) { return c.channel == wanted; });
        if (at == has.end()) {
            lacking.push_back(wanted);
            if (!fills.empty()) gone.push_back(line->id);
            continue;
        }
        any = true;
        Step& source = line.edit().steps.front().edit();
        source.role = at->source.role;
        for (const char* said : {"component", "green"}) source.controls.erase(said);
        for (const auto& [control, value] : at->source.controls) source.controls[control] = value;
        if (at->isGloss)
            line.edit().steps.insert(line->steps.begin() + 1, Shared<Step>(invertGloss(line->id)));
    }
    if (!any && !slots.empty())
        return fail(ErrorKind::Refused,
                    fmt::format("{} has no map for anything that {} lays. Choose another folder.", from->name,
                                layer.name));
    for (const std::string& id : gone) takeOff(filled.layers, id);
    for (Shared<TextureSet>& slot : filled.layers.sets)
        if (isSlot(slot->id)) {
            TextureSet own = *from;
            own.id = slot->id;
            slot = Shared<TextureSet>(std::move(own));
        }
    return filled;
}

}  // namespace kettle
