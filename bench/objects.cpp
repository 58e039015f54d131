// Copies and the library: a spread dragged over the wall of 300 tiles, a model of 10,000 objects, a library
// of 1,000 entries.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "bench/bench.h"
#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/exchange/library.h"
#include "core/geometry/mesh_facts.h"
#include "core/shading/preview.h"

namespace kettle::bench {
namespace {

namespace fs = std::filesystem;
const fs::path kData = KETTLE_DATA_DIR;

/// The wall in a view of 900 x 600, shown once in full.
struct Wall {
    std::shared_ptr<SceneStore> scenes = std::make_shared<SceneStore>(kData / "models");
    Preview preview{scenes, kData / "environments"};
    Resources resources{kData};
    PreviewRequest request;
    double hue = 10;
    Wall() {
        request.project = *loadProject(kData / "galley-wall.palekettle");
        resources.setModels(std::make_shared<FactsStore>(scenes));
        request.width = 900, request.height = 600;
        request.camera.frame((*preview.scene("wall"))->mesh(), 1.5f);
        for (const int stage : {0, 1}) (void)preview.render(request, resources, stage).has_value();
    }
    void moveSlider() {
        hue = hue > 30 ? 10 : hue + 0.5;
        request.project = *edits::setControl(request.project, "", "fired", "hue", hue);
    }
};

/// A folder with a thousand entries: copies of the shipped ones under names of their own.
fs::path largeLibrary() {
    const fs::path folder = fs::temp_directory_path() / "kettle-bench-library";
    if (fs::exists(folder / "recipes" / "copy-0.recipe.json")) return folder;
    const auto shipped = readLibrary({{kData / "library", EntryOrigin::Shipped}});
    fs::create_directories(folder / "recipes");
    std::size_t made = 0;
    while (made < 1000)
        for (const LibraryEntry& entry : shipped)
            if (const auto* recipe = std::get_if<Recipe>(&entry.content); recipe != nullptr && made < 1000) {
                Recipe copy = *recipe;
                copy.name += fmt::format(" {}", made);
                (void)writeFileAtomically(folder / "recipes" / fmt::format("copy-{}.recipe.json", made),
                                          recipeToText(copy))
                    .has_value();
                ++made;
            }
    return folder;
}

}  // namespace

void registerObjects() {
    const auto add = [](const char* name, auto body, int iterations) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(7)
            ->Iterations(iterations);
    };
    add(
        "vary-300-spread-slider-to-full-picture-900x600",
        [](benchmark::State& s) {
            static Wall wall;
            for (auto _ : s) {
                wall.moveSlider();
                if (!wall.preview.render(wall.request, wall.resources, 1)) s.SkipWithError("no picture");
            }
        },
        9);
    add(
        "library-1000-read",
        [](benchmark::State& s) {
            static const fs::path folder = largeLibrary();
            for (auto _ : s) benchmark::DoNotOptimize(readLibrary({{folder, EntryOrigin::Own}}));
        },
        3);
}

}  // namespace kettle::bench
