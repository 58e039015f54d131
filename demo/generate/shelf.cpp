// The galley's shelf: five cups that do not look stamped. One look from one kiln, one of five glazes by
// number.
#include "core/document/json.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

Step made(const char* id, const char* type, Controls controls = {}) {
    Step step;
    step.id = id;
    step.type = type;
    step.controls = std::move(controls);
    return step;
}

Line lineOf(const char* id, const char* name, Kind kind, const char* channel, std::vector<Step> steps) {
    Line line;
    line.id = id;
    line.name = name;
    line.kind = kind;
    line.channel = channel;
    for (Step& step : steps) line.steps.emplace_back(std::move(step));
    return line;
}

Colour glaze(float r, float g, float b) {
    return {r, g, b};
}

/// Five glazes, each held over a fifth.
Ramp glazes() {
    Ramp ramp;
    ramp.interpolation = RampInterpolation::Hold;
    ramp.stops.clear();
    const Colour all[] = {glaze(0.52f, 0.60f, 0.46f), glaze(0.08f, 0.16f, 0.30f), glaze(0.62f, 0.25f, 0.06f),
                          glaze(0.72f, 0.66f, 0.52f), glaze(0.30f, 0.05f, 0.04f)};
    for (std::size_t i = 0; i < 5; ++i)
        ramp.stops.push_back({0.2f * static_cast<float>(i), {all[i].r, all[i].g, all[i].b}});
    return ramp;
}

}  // namespace

Result<void> writeShelf(const std::filesystem::path& folder) {
    Project p;
    p.view.model = "cups";
    Step palette = made("palette", "blend", {{"amount", 0.0}});
    palette.feeds["over"].line = "glazes";
    p.lines.emplace_back(
        lineOf("base-colour", "Base colour", Kind::Colour, "base-colour",
               {made("clay", "colour", {{"colour", glaze(0.42f, 0.56f, 0.47f)}}), palette,
                made("differ", "vary", {{"hue", 0.0}, {"saturation", 0.0}, {"value", 0.0}})}));
    p.lines.emplace_back(lineOf(
        "roughness", "Roughness", Kind::Scalar, "roughness",
        {made("gloss", "value", {{"value", 0.22}}), made("fired", "vary", {{"value", 0.0}, {"seed", 2.0}})}));
    p.lines.emplace_back(
        lineOf("glazes", "Glazes by number", Kind::Colour, "",
               {made("number", "object-value", {{"reads", std::string("share")}}),
                made("five", "ramp-remap", {{"ramp", glazes()}, {"scale", std::string("linear")}})}));
    p.looks.emplace_back(
        Look{"one-kiln",
             "Out of one kiln",
             {{"differ.hue", 14.0}, {"differ.saturation", 0.35}, {"differ.value", 0.3}, {"fired.value", 0.6}},
             {}});
    p.looks.emplace_back(
        Look{"five-glazes",
             "Five glazes",
             {{"palette.amount", 1.0}, {"differ.hue", 4.0}, {"differ.value", 0.1}, {"fired.value", 0.4}},
             {}});
    return saveProject(p, folder / "galley-shelf.palekettle");
}

}  // namespace kettle::demo
