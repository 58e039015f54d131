// A farm: what a plan and its state cost, and how well simulated workers share a thousand items.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include "bench/bench.h"
#include "bench/view.h"
#include "core/geometry/mesh_facts.h"
#include "core/handover/farm.h"

namespace kettle::bench {
namespace {

namespace fs = std::filesystem;

double millisecondsOf(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

/// The demo's, with models for what follows their shape.
Resources resourcesOf() {
    Resources resources(kData);
    resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(kData / "models")));
    return resources;
}

/// The demo with so many looks more, each another hue: six files a look.
Project manyLooks(int count) {
    Project p = *loadProject(kData / "ferry-kitchen.palekettle");
    for (int i = 0; i < count; ++i)
        p.looks.emplace_back(
            Look{"n" + std::to_string(i), "N", {{"glaze.hue", static_cast<double>(i % 360)}}, {}});
    return p;
}

ExportOptions optionsOf(const Project& p, std::size_t items, int size) {
    ExportOptions o;
    o.folder = fs::temp_directory_path() / "pale-kettle-bench-farm";
    o.size = size;
    o.looks.clear();
    for (const auto& look : p.looks)
        if (o.looks.size() * 6 < items) o.looks.push_back(look->id);
    return o;
}

void plan(benchmark::State& state) {
    const Project p = manyLooks(1670);
    const Resources resources = resourcesOf();
    const ExportOptions options = optionsOf(p, 10'000, 64);
    for (auto _ : state) {
        const auto made = planFarm(p, resources, kData / "ferry-kitchen.palekettle", options);
        if (!made || made->items.size() < 10'000) return state.SkipWithError("no plan");
    }
}

/// Status of a thousand items that are done.
void status(benchmark::State& state) {
    const Project p = manyLooks(170);
    const Resources resources = resourcesOf();
    const auto made = planFarm(p, resources, kData / "ferry-kitchen.palekettle", optionsOf(p, 1000, 16));
    if (!made || !bakeFarm(*made, p, resources, 0, made->items.size())) return state.SkipWithError("no farm");
    for (auto _ : state) benchmark::DoNotOptimize(statesOf(*made));
    fs::remove_all(made->folder);
}

/// The time of 64 workers with a thousand items of 2048 pixels, each worker's as it was measured here on one
/// core at a time: its start, and for each item the work and what is recorded. Told as a percentage of the
/// work alone.
void efficiency(benchmark::State& state) {
    const Project p = manyLooks(4);
    const Resources resources = resourcesOf();
    ExportOptions options = optionsOf(p, 24, 2048);
    for (auto _ : state) {
        FarmPlan made;
        const double start = millisecondsOf([&] {
            made = *planFarm(*loadProject(kData / "ferry-kitchen.palekettle"), resourcesOf(),
                             kData / "ferry-kitchen.palekettle", options = optionsOf(p, 24, 2048));
        });
        made = *planFarm(p, resources, kData / "ferry-kitchen.palekettle", options);
        fs::remove_all(made.folder);
        bool isWhole = true;
        const double baked =
            millisecondsOf([&] { isWhole = bakeFarm(made, p, resources, 0, made.items.size()).has_value(); });
        ExportOptions whole = options;
        whole.folder = fs::temp_directory_path() / "pale-kettle-bench-whole";
        fs::create_directories(whole.folder);
        const auto items = *planExport(p, resources, whole);
        const double work = millisecondsOf([&] {
            PixelBuffer pixels;
            std::vector<std::string> notes;
            for (const ExportItem& item : items) {
                isWhole = isWhole &&
                          renderItem(p, resources, item, whole.format, pixels, notes).has_value() &&
                          writeImage(item.file, pixels, whole.format, "", whole.choices).has_value();
            }
        });
        if (!isWhole) return state.SkipWithError("no farm");
        const double perItem = baked / static_cast<double>(made.items.size()),
                     workAlone = work / static_cast<double>(items.size());
        constexpr double kWorkers = 64, kItems = 1000;
        const double makespan = start + std::ceil(kItems / kWorkers) * std::max(perItem, workAlone);
        state.SetIterationTime(100 * kItems * workAlone / (kWorkers * makespan) / 1000);
        fs::remove_all(made.folder);
        fs::remove_all(whole.folder);
    }
}

}  // namespace

void registerFarm() {
    const auto add = [](const char* name, auto body) {
        return benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->Repetitions(3)
            ->Iterations(1);
    };
    add("farm-plan-10000", plan)->UseRealTime();
    add("farm-status-1000", status)->UseRealTime();
    add("farm-efficiency-64-percent", efficiency)->UseManualTime();
}

}  // namespace kettle::bench
