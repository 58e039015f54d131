// The demo kettle under layers, for the figures of layers.
#pragma once

#include <string>

#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/layer_edits.h"

namespace kettle::bench {

/// The demo project as received under `layers` layers over its first `channelCount` channels (missing ones
/// are added as values). Each mask is a noise with a ramp behind it; "mask-ramp" is the lowest's.
inline Project layeredProject(const std::filesystem::path& data, int layers, std::size_t channelCount) {
    Project p = *loadProject(data / "ferry-kitchen.palekettle");
    p.looks.clear();
    for (const Line* layer : layersOf(p, "")) p = *edits::removeLayer(Project(p), std::string(layer->id));
    const auto source = [&p](const char* type, Controls controls) {
        Step s;
        s.type = type;
        s.controls = std::move(controls);
        s.id = edits::freshId(p, "s");
        return s;
    };
    std::vector<std::string> lines;
    for (const ChannelSpec& c : channels()) {
        if (lines.size() == channelCount) break;
        if (p.lineOfChannel(c.id) == nullptr) {
            Line line;
            line.id = edits::freshId(p, c.id);
            line.name = c.name;
            line.kind = c.kind;
            line.channel = c.id;
            line.steps.emplace_back(source(c.kind == Kind::Colour   ? "colour"
                                           : c.kind == Kind::Scalar ? "value"
                                                                    : "flat-normal",
                                           {}));
            p.lines.emplace_back(std::move(line));
        }
        lines.push_back(p.lineOfChannel(c.id)->id);
    }
    for (int i = 0; i < layers; ++i) {
        std::string id, fill;
        p = *edits::addLayer(p, "", {"Layer", "", ""}, id);
        p = *edits::replaceSource(p, id, source("noise", {{"repeats", 4.0 + i}, {"seed", 1.0 + i}}));
        Step ramp = source("ramp-remap", {});
        if (i == 0) ramp.id = "mask-ramp";
        p = *edits::insertStep(p, "", id, 1, ramp);
        for (const std::string& on : lines) {
            const Kind kind = p.findLine(on)->kind;
            const float g = 0.1f + 0.03f * static_cast<float>(i % 20);
            p = *edits::cover(p, "", id, on,
                              source(kind == Kind::Colour   ? "colour"
                                     : kind == Kind::Scalar ? "value"
                                                            : "flat-normal",
                                     kind == Kind::Colour   ? Controls{{"colour", Colour{g, g / 2, g / 3}}}
                                     : kind == Kind::Scalar ? Controls{{"value", static_cast<double>(g)}}
                                                            : Controls{}),
                              fill);
        }
    }
    return p;
}

/// The grey ramp of a slider's next place.
inline Ramp rampAt(double middle) {
    Ramp ramp;
    ramp.stops.clear();
    const auto m = static_cast<float>(middle);
    for (const auto& [at, grey] : {std::pair{0.0f, 0.0f}, {m, 0.2f}, {m + 0.2f, 0.9f}, {1.0f, 1.0f}})
        ramp.stops.push_back({at, {grey, grey, grey}});
    return ramp;
}

}  // namespace kettle::bench
