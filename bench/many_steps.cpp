// What a step costs besides its own work: a hundred of them against one, and the set-up of a block.
#include <algorithm>
#include <chrono>
#include <vector>

#include "bench/bench.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"

namespace kettle::bench {
namespace {

constexpr std::size_t kPoints = 540000;

/// A line of `count` HSV shifts, none of which can be left out or joined with its neighbour.
struct Shifts {
    Compiled compiled;
    ResolvedMaps maps;
    SampleCache samples;
    std::vector<Plane> outputs;
    explicit Shifts(int count, const std::string& worksIn = "linear") {
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"base-colour", "base.png", "sRGB", {}}}, {}});
        Line line{"base", "base", Kind::Colour, "base-colour", {}, {}};
        Step map;
        map.id = "m";
        map.type = "map";
        map.set = "set";
        map.role = "base-colour";
        line.steps.emplace_back(map);
        for (int i = 0; i < count; ++i) {
            Step shift;
            shift.id = "s" + std::to_string(i);
            shift.type = "hsv-shift";
            shift.controls = {{"hue", 1.0 + i}, {"saturation", 1.01}, {"value", 0.99}, {"works-in", worksIn}};
            line.steps.emplace_back(shift);
        }
        p.lines.emplace_back(line);
        compiled = compile(p, nullptr, {{"base", "", 3}});
        // No file: the same colour at every point costs as much as any other.
        maps = Resources("/nowhere").resolve(p, compiled.program);
        maps.holes.front() = {{0.4f, 0.2f, 0.1f, 1.0f}};
        samples.prepare(compiled.program, maps, PointSet::grid(900, 600));
    }
    double seconds(std::size_t count, std::size_t block) {
        const auto start = std::chrono::steady_clock::now();
        run(compiled.program, maps, samples, count, outputs, {}, block);
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    }
};

double medianOf(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
}

}  // namespace

StepCosts stepCosts() {
    const ThreadLimit limit(1);
    Shifts one(1), hundred(100);
    std::vector<double> ratios, setUps;
    // The first round fetches memory.
    for (int round = 0; round < 32; ++round) {
        const double single = one.seconds(kPoints, kBlock), many = hundred.seconds(kPoints, kBlock);
        // Blocks of one vector are nearly all set-up.
        constexpr std::size_t kBlocks = 2048;
        const double blocks = hundred.seconds(kBlocks * kPad, kPad) - one.seconds(kBlocks * kPad, kPad);
        if (round == 0) continue;
        ratios.push_back(many / single);
        setUps.push_back(blocks / (99.0 * kBlocks) * 1e6);
    }
    return {medianOf(ratios), medianOf(setUps)};
}

double displayStepsRatio() {
    const ThreadLimit limit(1);
    Shifts linear(10), display(10, "encoded");
    std::vector<double> ratios;
    for (int round = 0; round < 64; ++round) {
        const double light = linear.seconds(kPoints, kBlock), shown = display.seconds(kPoints, kBlock);
        if (round > 0) ratios.push_back(shown / light);
    }
    return medianOf(ratios);
}

}  // namespace kettle::bench
