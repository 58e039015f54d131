// A farm: what a plan and its state cost, and how well simulated workers share a thousand items.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>
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

/// Renders and writes items without any farm; false if one cannot be.
bool writeAll(const Project& p, const Resources& resources, const std::vector<ExportItem>& items,
              FileFormat format) {
    PixelBuffer pixels;
    std::vector<std::string> notes;
    for (const ExportItem& item : items)
        if (!renderItem(p, resources, item, format, pixels, notes) ||
            !writeImage(item.file, pixels, format, ""))
            return false;
    return true;
}

/// The time of 64 workers with a thousand items of 4096 pixels, each worker's as it was measured here: its
/// start with the maps that it has to read, and for each item the work and what is recorded. Told as a
/// percentage of what the work alone would take.
void efficiency(benchmark::State& state) {
    const Project p = *loadProject(kData / "ferry-kitchen.palekettle");
    const Resources resources = resourcesOf();
    const ExportOptions options = optionsOf(p, 12, 4096);
    ExportOptions plain = options;
    plain.folder += "-plain";
    const fs::path file = fs::temp_directory_path() / "pale-kettle-bench-plan.json";
    for (auto _ : state) {
        const auto made = planFarm(p, resources, kData / "ferry-kitchen.palekettle", options);
        const auto items = planExport(p, resources, plain);
        fs::create_directories(plain.folder);
        bool isWhole = made && items && savePlan(*made, file);
        isWhole = isWhole && writeAll(p, resources, *items, plain.format);  // everything is warm from here on
        double baked = 1e9, work = 1e9;
        for (int round = 0; isWhole && round < 3; ++round) {
            fs::remove_all(made->folder);
            baked = std::min(baked, millisecondsOf([&] {
                                 isWhole = bakeFarm(*made, p, resources, 0, made->items.size()).has_value();
                             }));
            work = std::min(work, millisecondsOf([&] { writeAll(p, resources, *items, plain.format); }));
        }
        if (!isWhole) return state.SkipWithError("no farm");
        const auto count = static_cast<double>(items->size());
        double first = 1e9, warm = 1e9;
        for (int round = 0; round < 3; ++round) {
            fs::remove_all(made->folder);
            first = std::min(first, millisecondsOf([&] {
                                 const auto own = loadProject(kData / "ferry-kitchen.palekettle");
                                 const auto plan = loadPlan(file);
                                 (void)bakeFarm(*plan, *own, resourcesOf(), 0, 1);
                             }));
            // What the same item takes a worker that is warm is no part of its start.
            fs::remove_all(made->folder);
            warm = std::min(warm, millisecondsOf([&] { (void)bakeFarm(*made, p, resources, 0, 1); }));
        }
        constexpr double kWorkers = 64, kItems = 1000;
        const double start = std::max(0.0, first - warm);
        const double makespan = start + std::ceil(kItems / kWorkers) * std::max(baked, work) / count;
        state.SetIterationTime(100 * kItems * work / count / (kWorkers * makespan) / 1000);
        fs::remove_all(made->folder);
        fs::remove_all(plain.folder);
        fs::remove(file);
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
