// The small pictures of the step reference: the demo kettle's paint through each step and each blend mode.
#include <fmt/format.h>

#include "batch/step_reference.h"
#include "core/analysis/board_pictures.h"
#include "core/colour/encoding.h"
#include "core/geometry/mesh_facts.h"
#include "core/image/image.h"
#include "core/shading/preview.h"
#include "core/steps/blend.h"
#include "core/steps/map.h"
#include "core/steps/step.h"

namespace kettle::batch {
namespace {

constexpr int kWidth = 144, kHeight = 90;

Step makeStep(std::string id, std::string type, Controls controls = {}) {
    Step s;
    s.id = std::move(id);
    s.type = std::move(type);
    s.controls = std::move(controls);
    return s;
}

Step makeMap(std::string id, std::string set, std::string role) {
    Step s = makeStep(std::move(id), "map");
    s.set = std::move(set);
    s.role = std::move(role);
    return s;
}

Line makeLine(const std::string& id, Kind kind, std::vector<Step> steps) {
    Line line{id, id, kind, "", {}, {}};
    for (Step& s : steps) line.steps.emplace_back(std::move(s));
    return line;
}

/// The sets and the lines that examples read: paint and tile (colour), wear and grain (grey).
Project makeStage() {
    Project p;
    p.sets.emplace_back(TextureSet{"kettle",
                                   "Enamel kettle",
                                   "enamel_kettle",
                                   {{"base-colour", "kettle_basecolor.png", "auto", {}},
                                    {"wear", "kettle_wear.png", "auto", {}},
                                    {"normal", "kettle_normal.png", "auto", {}},
                                    {"grain", "kettle_grain.png", "auto", {}}},
                                   {}});
    p.sets.emplace_back(TextureSet{
        "tile", "Glazed tile", "glazed_tile", {{"base-colour", "Tile_BaseColor.png", "auto", {}}}, {}});
    p.lines.emplace_back(makeLine("paint", Kind::Colour, {makeMap("paint-map", "kettle", "base-colour")}));
    p.lines.emplace_back(makeLine("tile", Kind::Colour, {makeMap("tile-map", "tile", "base-colour")}));
    p.lines.emplace_back(makeLine("wear", Kind::Scalar, {makeMap("wear-map", "kettle", "wear")}));
    p.lines.back().edit().steps.front().edit().controls = {kMapComponent(Component::Alpha)};
    p.lines.emplace_back(makeLine("grain", Kind::Scalar, {makeMap("grain-map", "kettle", "grain")}));
    return p;
}

/// What an example's feed reads: the grain where a grey will do, the paint where hues are looked at.
Feed feedFor(const FeedSpec& feed) {
    Feed f;
    static const std::map<std::string, std::string> others{{"reference", "tile"}, {"first", "wear"}};
    const auto other = others.find(feed.id);
    f.line = other != others.end() ? other->second : feed.kind == Kind::Colour ? "paint" : "grain";
    return f;
}

/// What follows the model is shown on it.
Result<std::vector<std::uint32_t>> paintOnModel(const Project& project, const std::string& line,
                                                const Resources& resources) {
    Preview preview(resources.folder() / "models", resources.folder() / "environments");
    PreviewRequest request;
    request.project = project;
    request.project.view.surround = "pale";
    request.lookHere = LookHere{line, "", {}};
    request.width = kWidth, request.height = kHeight;
    auto scene = preview.scene(project.view.model);
    if (!scene) return fail(scene.error());
    request.camera.frame((*scene)->mesh(), static_cast<float>(kWidth) / kHeight);
    auto picture = preview.renderAtRest(request, resources);
    if (!picture) return fail(picture.error());
    return std::move(picture->pixels);
}

Result<void> paint(const Project& project, const std::string& line, const Resources& resources,
                   const std::filesystem::path& file, bool onModel = false) {
    FlatPainter painter;
    FlatRequest request{line, "", {}, kWidth, kHeight, 0.02, 0.32, 0.62, 0.695};
    std::vector<std::uint32_t> pixels;
    if (onModel ||
        compile(project, nullptr, {{line, "", 3, false}}, resources.rules()).program.readsModel()) {
        auto shown = paintOnModel(project, line, resources);
        if (!shown) return fail(shown.error());
        pixels = std::move(*shown);
    } else {
        pixels = painter.paint(project, "", request, resources);
    }
    PixelBuffer out = PixelBuffer::make(kWidth, kHeight, 3, Depth::U8);
    for (std::size_t i = 0; i < pixels.size(); ++i)
        for (int c = 0; c < 3; ++c)
            out.bytes[i * 3 + static_cast<std::size_t>(c)] =
                static_cast<std::byte>(pixels[i] >> (16 - 8 * c));
    return writeImage(file, out, FileFormat::Png8, encoding::kSrgb);
}

Project exampleOf(const StepSpec& spec) {
    Project p = makeStage();
    const Kind kind = spec.kinds.front();
    std::vector<Step> steps;
    if (!spec.source)
        steps.push_back(makeMap("example-map", "kettle", kind == Kind::Colour ? "base-colour" : "grain"));
    Step step = spec.editor == StepEditor::MapFile ? makeMap("example", "kettle", "base-colour")
                                                   : makeStep("example", spec.type);
    step.controls = spec.example;
    static const std::set<std::string> leftOut{"mask", "alpha", "reads-from", "b", "c"};
    for (const FeedSpec& feed : spec.feeds)
        if (!leftOut.contains(feed.id)) step.feeds[feed.id] = feedFor(feed);
    steps.push_back(std::move(step));
    p.lines.emplace_back(makeLine("example", kind, std::move(steps)));
    return p;
}

}  // namespace

Project exampleStage() {
    return makeStage();
}

Result<void> paintExample(const Project& project, const std::string& line, const Resources& resources,
                          const std::filesystem::path& file, bool onModel) {
    return paint(project, line, resources, file, onModel);
}

Result<void> writeStepPictures(const std::filesystem::path& data, const std::filesystem::path& folder) {
    std::error_code code;
    std::filesystem::create_directories(folder, code);
    if (code)
        return fail(ErrorKind::Write,
                    fmt::format("Cannot make the folder {}. Choose another.", folder.string()),
                    code.message());
    Resources resources(data);
    resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(data / "models")));
    for (const StepSpec& spec : shippedSteps()) {
        auto done = paint(exampleOf(spec), "example", resources, folder / (spec.type + ".png"));
        if (!done) return done;
    }
    for (const BlendModeInfo& mode : kBlendModes) {
        Project p = exampleOf(*shippedSteps().find(kBlend));
        Step& step = p.lines.back().edit().steps.back().edit();
        put(step.controls, kBlendMode(mode.mode));
        // A component mode needs colours on both sides.
        if (mode.needsColour()) step.feeds[kOver.id].line = "tile";
        auto done = paint(p, "example", resources, folder / fmt::format("blend-{}.png", mode.id));
        if (!done) return done;
    }
    return {};
}

}  // namespace kettle::batch
