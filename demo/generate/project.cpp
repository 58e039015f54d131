// The demo project: the kettle as received, three looks of it, and one made of layers (layers.cpp).
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/exchange/recognise.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

Step makeStep(const char* id, const char* type, Controls controls = {},
              std::map<std::string, Feed> feeds = {}, bool bypass = false) {
    Step step;
    step.id = id;
    step.type = type;
    step.controls = std::move(controls);
    step.feeds = std::move(feeds);
    step.bypass = bypass;
    return step;
}

Feed lineFeed(const char* line, const char* after = "") {
    Feed feed;
    feed.line = line;
    feed.after = after;
    return feed;
}

Ramp greyRamp(std::initializer_list<std::pair<float, float>> stops, RampInterpolation interpolation) {
    Ramp ramp;
    ramp.stops.clear();
    for (const auto& [at, grey] : stops) ramp.stops.push_back({at, {grey, grey, grey}});
    ramp.interpolation = interpolation;
    return ramp;
}

Line& lineOf(Project& project, const std::string& id) {
    for (auto& line : project.lines)
        if (line->id == id) return line.edit();
    return project.lines.front().edit();
}

}  // namespace

Result<void> writeProject(const std::filesystem::path& folder) {
    auto made = projectFromFolder(folder / "enamel_kettle");
    if (!made) return fail(made.error());
    Project p = std::move(made->project);

    // The enamel alone: what is not worn. Hue and grain keep off the rust with it.
    Line enamel = *p.findLine("wear");
    enamel.id = "enamel";
    enamel.name = "Enamel";
    enamel.steps.front().edit().id = "e1";
    enamel.steps.emplace_back(makeStep("e2", "levels", {{"in-black", 0.15}, {"in-white", 0.6}}));
    enamel.steps.emplace_back(makeStep("e3", "invert"));
    p.lines.emplace_back(std::move(enamel));

    Line& base = lineOf(p, "base-colour");
    base.steps.emplace_back(makeStep("glaze", "hsv-shift", {}, {{"mask", lineFeed("enamel")}}));
    base.steps.emplace_back(makeStep("streaks", "blend", {{"mode", std::string("overlay")}, {"amount", 0.0}},
                                     {{"over", lineFeed("grain")}, {"mask", lineFeed("enamel")}}));
    lineOf(p, "roughness")
        .steps.emplace_back(makeStep("wetness", "ramp-remap",
                                     {{"ramp", greyRamp({{0, 0}, {1, 1}}, RampInterpolation::Linear)}}));

    const Ramp wet =
        greyRamp({{0, 0.02f}, {0.25f, 0.05f}, {0.7f, 0.35f}, {1, 0.6f}}, RampInterpolation::Spline);
    const Ramp dry = greyRamp({{0, 0.32f}, {0.3f, 0.46f}, {1, 0.95f}}, RampInterpolation::Linear);
    const auto look = [&](const char* id, const char* name, std::map<std::string, ControlValue> changes) {
        p.looks.emplace_back(Look{id, name, std::move(changes), {}});
    };
    look("celadon", "Celadon",
         {{"glaze.hue", 152.0},
          {"glaze.saturation", 0.50},
          {"glaze.value", 0.86},
          {"streaks.amount", 0.30},
          {"wetness.ramp", wet}});
    look("marmalade", "Marmalade",
         {{"glaze.hue", 26.0}, {"glaze.saturation", 1.02}, {"glaze.value", 1.45}, {"streaks.amount", 0.18}});
    look("night-ferry", "Night ferry",
         {{"glaze.hue", -141.0},
          {"glaze.saturation", 0.82},
          {"glaze.value", 0.28},
          {"streaks.amount", 0.4},
          {"wetness.ramp", dry}});
    const auto layered = withLayers(p, folder);
    if (!layered) return fail(layered.error());
    return saveProject(*layered, folder / "ferry-kitchen.palekettle");
}

}  // namespace kettle::demo
