// The galley's shelf and its wall: 48 cups and 300 tiles that do not look stamped. One look of the shelf from
// one kiln, one of five glazes at random.
#include <fmt/format.h>

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

/// A shelf's or a wall's surfaces: what is glazed, over the objects of a name, and what holds it.
void addSurfaces(Project& p, const char* glazed, int count, const char* holding,
                 std::vector<std::string> rest) {
    Surface first, second;
    first.id = "glaze", first.name = "Glaze";
    for (int k = 1; k <= count; ++k) first.parts.push_back(fmt::format("{}-{}", glazed, k));
    second.id = "holding", second.name = holding;
    second.parts = std::move(rest);
    p.surfaces.emplace_back(std::move(first));
    p.surfaces.emplace_back(std::move(second));
    for (Shared<Line>& line : p.lines)
        if (!line->channel.empty()) line.edit().surface = "glaze";
}

/// Plain wood or mortar under it all.
void addHolding(Project& p, Colour colour, double roughness) {
    Line base = lineOf("holding-colour", "Base colour", Kind::Colour, "base-colour",
                       {made("holding-paint", "colour", {{"colour", colour}})});
    Line rough = lineOf("holding-roughness", "Roughness", Kind::Scalar, "roughness",
                        {made("holding-rough", "value", {{"value", roughness}})});
    base.surface = rough.surface = "holding";
    p.lines.emplace_back(std::move(base));
    p.lines.emplace_back(std::move(rough));
}

}  // namespace

Result<void> writeShelf(const std::filesystem::path& folder) {
    Project p;
    p.view.model = "shelf";
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
        lineOf("glazes", "Glazes at random", Kind::Colour, "",
               {made("number", "object-value", {{"reads", std::string("random")}, {"seed", 3.0}}),
                made("five", "ramp-remap", {{"ramp", glazes()}, {"scale", std::string("linear")}})}));
    addSurfaces(p, "cup", 48, "Wood",
                {"plank-1", "plank-2", "plank-3", "plank-4", "plank-5", "post-left", "post-right"});
    addHolding(p, glaze(0.23f, 0.13f, 0.07f), 0.6);
    // Three of a set stand apart and bear one number.
    p.objects.edit().objects = {{"cup-18", 17}, {"cup-19", 17}, {"cup-20", 17}};
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

Result<void> writeWall(const std::filesystem::path& folder) {
    Project p;
    p.view.model = "wall";
    p.lines.emplace_back(
        lineOf("base-colour", "Base colour", Kind::Colour, "base-colour",
               {made("slip", "colour", {{"colour", glaze(0.62f, 0.62f, 0.55f)}}),
                made("fired", "vary", {{"hue", 10.0}, {"saturation", 0.3}, {"value", 0.12}})}));
    p.lines.emplace_back(lineOf("roughness", "Roughness", Kind::Scalar, "roughness",
                                {made("gloss", "value", {{"value", 0.25}}),
                                 made("dulled", "vary", {{"value", 0.5}, {"seed", 2.0}})}));
    addSurfaces(p, "tile", 300, "Mortar", {"wall"});
    addHolding(p, glaze(0.45f, 0.43f, 0.40f), 0.9);
    return saveProject(p, folder / "galley-wall.palekettle");
}

}  // namespace kettle::demo
