#include "core/shading/wanted.h"

#include "core/document/channels.h"

namespace kettle {
Wanted wantedOf(const PreviewSide& side, const std::set<std::string>& off, const SurfacePoints& group) {
    Wanted w;
    const Line* looked = side.lookHere ? side.project.findLine(side.lookHere->line) : nullptr;
    // One surface's line is shown on its own parts; the rest stands beside it in neutral grey.
    const bool isBeside = !group.isCovered ||
                          (looked != nullptr && !looked->surface.empty() && looked->surface != group.surface);
    if (isBeside) return w;
    if (looked != nullptr) {
        w.isLooked = true;
        w.isRaw = looked->kind != Kind::Colour || side.lookHere->component.has_value();
        w.wants.push_back({looked->id, side.lookHere->after, 3, looked->kind == Kind::Normal});
        w.wants.back().component = side.lookHere->component;
        w.first.push_back(std::nullopt);
        return w;
    }
    const auto add = [&](const char* id, std::optional<SurfaceNumber> first) {
        const Line* line = side.project.lineOfChannel(id, group.surface);
        if (line == nullptr || line->steps.empty() || off.contains(id)) return;
        w.wants.push_back(wantOfLine(*line));
        w.first.push_back(first);
    };
    for (const ChannelSpec& channel : channels())
        if (channel.shaded) add(channel.id, channel.shaded);
    add(channel::kOpacity, std::nullopt);
    return w;
}

std::vector<std::uint64_t> partsOf(const ResolvedMaps& maps, const Compiled& compiled, const Wanted& wanted) {
    std::vector<std::uint64_t> parts;
    for (const auto& map : maps.maps) parts.push_back(map ? map->id() : 0);
    for (const auto& field : maps.fields) parts.push_back(field ? field->id() : 0);
    for (std::size_t w = 0; w < wanted.wants.size(); ++w) {
        parts.push_back(wanted.first[w] ? static_cast<std::uint64_t>(*wanted.first[w]) + 1 : 0);
        for (const int plane : compiled.planes[w]) parts.push_back(static_cast<std::uint64_t>(plane));
    }
    return parts;
}

}  // namespace kettle
