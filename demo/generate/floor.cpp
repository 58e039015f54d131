// The galley's floor: a large ground of two sets under grime whose repetition is broken up, with stains
// stamped on it and puddles that noise decides; one look dry and one after the rain.
#include "core/document/json.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

Step plain(const char* id, const char* type, Controls controls = {}, std::map<std::string, Feed> feeds = {}) {
    Step step;
    step.id = id;
    step.type = type;
    step.controls = std::move(controls);
    step.feeds = std::move(feeds);
    return step;
}

Step map(const char* id, const char* set, const char* role, Controls controls) {
    Step step = plain(id, "map", std::move(controls));
    step.set = set;
    step.role = role;
    return step;
}

Feed from(const char* line) {
    Feed feed;
    feed.line = line;
    return feed;
}
Feed constant(ControlValue value) {
    Feed feed;
    feed.constant = std::move(value);
    return feed;
}

void add(Project& p, const char* id, const char* name, Kind kind, const char* channel,
         std::vector<Step> steps) {
    Line line{id, name, kind, channel, {}, {}};
    for (Step& step : steps) line.steps.emplace_back(std::move(step));
    p.lines.emplace_back(std::move(line));
}

void addSets(Project& p, const std::filesystem::path& folder) {
    const auto set = [&](const char* id, const char* name, std::vector<Map> maps) {
        p.sets.emplace_back(TextureSet{id, name, (folder / id).string(), std::move(maps), {}});
    };
    set("glazed_tile", "Glazed tile",
        {{"base-colour", "Tile_BaseColor.png", "auto", {}},
         {"roughness", "Tile_Roughness.png", "auto", {}},
         {"normal", "Tile_Normal.png", "auto", {}}});
    set("rattan", "Rattan",
        {{"base-colour", "rattan-albedo.png", "auto", {}},
         {"roughness", "rattan-rgh.png", "auto", {}},
         {"normal", "rattan-nrm.png", "auto", {}}});
    set("enamel_kettle", "Enamel kettle", {{"wear", "kettle_wear.png", "auto", {}}});
}

}  // namespace

Result<void> writeFloor(const std::filesystem::path& folder) {
    Project p;
    p.view.model = "floor";
    p.view.exposure = -0.5;
    addSets(p, folder);
    const Controls ground{{"repeats", 6.0}}, mat{{"repeats", 7.0}, {"rotation", 14.0}};
    add(p, "base-colour", "Base colour", Kind::Colour, "base-colour",
        {map("ground-colour", "glazed_tile", "base-colour", ground),
         plain("mat-over", "blend", {}, {{"over", from("mat")}, {"mask", from("mat-place")}}),
         plain("grimy", "blend", {{"mode", std::string("multiply")}, {"amount", 0.7}},
               {{"over", constant(Colour{0.30f, 0.24f, 0.16f})}, {"mask", from("grime")}}),
         plain("stained", "blend", {{"mode", std::string("multiply")}, {"amount", 0.8}},
               {{"over", constant(Colour{0.16f, 0.10f, 0.05f})}, {"mask", from("stains")}}),
         plain("wet-colour", "shadow-colour", {{"darkness", 0.6}}, {{"mask", from("puddles")}})});
    add(p, "roughness", "Roughness", Kind::Scalar, "roughness",
        {map("ground-roughness", "glazed_tile", "roughness", ground),
         plain("mat-rough", "blend", {}, {{"over", from("mat-roughness")}, {"mask", from("mat-place")}}),
         plain("wet", "blend", {{"amount", 0.95}}, {{"over", constant(0.03)}, {"mask", from("puddles")}})});
    add(p, "normal", "Normal", Kind::Normal, "normal",
        {map("ground-normal", "glazed_tile", "normal", ground),
         plain("mat-relief", "stack-normals", {},
               {{"detail", from("mat-normal")}, {"mask", from("mat-place")}}),
         plain("calm", "flatten", {{"amount", 0.9}}, {{"mask", from("puddles")}})});
    add(p, "mat", "Mat", Kind::Colour, "", {map("mat-map", "rattan", "base-colour", mat)});
    add(p, "mat-roughness", "Mat roughness", Kind::Scalar, "", {map("mat-r", "rattan", "roughness", mat)});
    add(p, "mat-normal", "Mat normal", Kind::Normal, "", {map("mat-n", "rattan", "normal", mat)});
    add(p, "mat-place", "Where the mat lies", Kind::Scalar, "",
        {plain("mat-shape", "shape",
               {{"figure", std::string("rectangle")},
                {"repeats", 1.0},
                {"single", true},
                {"fills", 0.46},
                {"height", 0.6},
                {"round", 0.08},
                {"rotation", 14.0},
                {"offset-v", -0.125}})});
    add(p, "grime", "Grime", Kind::Scalar, "",
        {map("grime-map", "enamel_kettle", "wear",
             {{"repeats", 3.0}, {"break-up", true}, {"component", std::string("alpha")}}),
         plain("grime-levels", "levels", {{"in-black", 0.02}, {"in-white", 0.6}, {"gamma", 1.6}})});
    add(p, "stains", "Stains", Kind::Scalar, "",
        {map("stamps", "enamel_kettle", "wear",
             {{"lies", std::string("scattered")},
              {"count", 5.0},
              {"stamp", 0.9},
              {"spots", 3.0},
              {"component", std::string("alpha")},
              {"soft", 0.5},
              {"own-place", true}})});
    add(p, "puddles", "Puddles", Kind::Scalar, "",
        {plain("water", "noise", {{"repeats", 3.0}, {"octaves", 4.0}, {"seed", 6.0}, {"detail", 0.4}}),
         plain("shore", "levels", {{"in-black", 0.99}, {"in-white", 1.0}})});
    p.looks.emplace_back(Look{"swept", "Swept", {{"stained.amount", 0.0}, {"grimy.amount", 0.2}}, {}});
    p.looks.emplace_back(
        Look{"galley-floor", "Galley floor", {{"shore.in-black", 0.55}, {"shore.in-white", 0.60}}, {}});
    return saveProject(p, folder / "galley-floor.palekettle");
}

}  // namespace kettle::demo
