// The reference of the shipped library: each recipe with its picture, controls and inputs; ramps, palettes
// and layers by name.
#include <fmt/format.h>

#include "batch/step_reference.h"
#include "core/document/edits.h"
#include "core/document/recipe_edits.h"
#include "core/document/sources.h"
#include "core/exchange/library.h"
#include "core/geometry/mesh_facts.h"
#include "core/steps/map.h"
#include "core/steps/recipe_steps.h"
#include "core/steps/vary.h"

namespace kettle::batch {
namespace {

constexpr const char* kExample = "example";

namespace fs = std::filesystem;

/// The kettle's paint, grain or normals with the recipe behind; its inputs read the grain or the paint.
Result<Project> exampleOf(const Recipe& recipe) {
    Project p = exampleStage();
    const Kind kind = recipe.kinds.front();
    Line line;
    line.id = line.name = "example";
    line.kind = kind;
    Step map;
    map.id = "example-map", map.type = "map", map.set = "kettle";
    map.role = kind == Kind::Colour ? "base-colour" : kind == Kind::Normal ? "normal" : "grain";
    line.steps.emplace_back(std::move(map));
    p.lines.emplace_back(std::move(line));
    std::string id;
    p = edits::takeRecipe(p, recipe, id);
    Step step;
    step.id = "example", step.type = kRecipe + id;
    auto next = edits::insertStep(p, {}, "example", 1, std::move(step));
    for (const RecipeFeed& feed : recipe.feeds) {
        Feed join;
        join.line = feed.id == channel::kBaseColour ? "paint" : "grain";
        // Where it works is left open: everywhere.
        if (feed.id != kWhere.id && next) next = edits::setFeed(*next, "example", feed.id, join);
    }
    return next;
}

std::string tablesOf(const Recipe& recipe) {
    const StepSpec spec = specOfRecipe(recipe, shippedSteps());
    std::string text;
    if (!spec.controls.empty()) text += "\n| section | control | id | range | |\n|---|---|---|---|---|\n";
    for (const ControlSpec& c : spec.controls)
        text += fmt::format(
            "| {} | {} | `{}` | {} | {} |\n", c.section, c.name, c.id,
            c.type == ControlType::Number ? fmt::format("{} to {}{}", c.low, c.high, c.unit) : std::string(),
            c.tip);
    if (!spec.feeds.empty()) text += "\n| input | id | kind | |\n|---|---|---|---|\n";
    for (const FeedSpec& f : spec.feeds)
        text += fmt::format("| {} | `{}` | {} | {} |\n", f.name, f.id,
                            f.kind ? nameOf(*f.kind) : "like the line", f.tip);
    return text;
}

std::string namesOf(const std::vector<LibraryEntry>& entries, EntryKind kind) {
    std::string names;
    for (const LibraryEntry& entry : entries)
        if (entry.kind == kind) {
            names += fmt::format("- {}", entry.name);
            if (!entry.purpose.empty()) names += ": " + entry.purpose;
            names += '\n';
        }
    return names;
}

}  // namespace

Result<std::string> recipeReference(const fs::path& data) {
    const auto entries = readLibrary({{data / "library", EntryOrigin::Shipped}});
    std::string text =
        "# The shipped library\n\nWritten by `./kettle docs` from the library's own files; the pictures are "
        "made by "
        "the engine from the demo set.\n\n# Recipes\n";
    for (const LibraryEntry& entry : entries) {
        if (!entry.problem.empty()) return fail(ErrorKind::Invalid, entry.problem);
        const auto* recipe = std::get_if<Recipe>(&entry.content);
        if (recipe == nullptr) continue;
        const auto project = exampleOf(*recipe);
        if (!project) return fail(project.error());
        Resources resources(data, *project);
        resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(data / "models")));
        const std::string stem =
            entry.file.filename().string().substr(0, entry.file.filename().string().find('.'));
        // Copies that differ are shown on the shelf of cups.
        Project shown = *project;
        const bool varies = recipe->steps.front()->type == vary::kType;
        if (varies) {
            shown.view.model = "cups";
            Step plain;
            plain = plainSource(Kind::Colour, {0.45f, 0.5f, 0.4f});
            plain.id = "example-map";
            for (Shared<Line>& line : shown.lines)
                if (line->id == kExample) line.edit().steps.front() = Shared<Step>(plain);
        }
        auto done = paintExample(shown, "example", resources,
                                 data / "library" / folderOf(EntryKind::Recipe) / (stem + ".png"), varies);
        if (!done) return fail(done.error());
        std::string kinds;
        for (const Kind kind : recipe->kinds)
            kinds += (kinds.empty() ? "" : ", ") + std::string(nameOf(kind));
        text += fmt::format(
            "\n## {0}\n\n![{0}](../demo/data/library/recipes/{1}.png)\n\n{2} Fits lines: {3}; {4} "
            "steps.\n",
            recipe->name, stem, recipe->purpose, kinds, recipe->steps.size());
        text += tablesOf(*recipe);
    }
    text += "\n# Layers\n\nA folder of maps that is dropped on one of them fills it.\n\n" +
            namesOf(entries, EntryKind::Layer);
    text += "\n# Ramps\n\n" + namesOf(entries, EntryKind::Ramp);
    text += "\n# Palettes\n\n" + namesOf(entries, EntryKind::Palette);
    return text;
}

}  // namespace kettle::batch
