#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "bench/bench.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/json.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/exchange/export.h"

namespace kettle::bench {
namespace {

constexpr int kSide = 2048;
const std::filesystem::path kData = KETTLE_DATA_DIR;

/// The base colour line of the look Celadon, with its samples in memory: what remains is the chain itself.
struct Chain {
    Project project = *loadProject(kData / "ferry-kitchen.palekettle");
    Resources resources{kData};
    Compiled compiled = compile(project, project.findLook("celadon"), {{"base-colour", "", 3, false}});
    ResolvedMaps maps = resources.resolve(project, compiled.program);
    PointSet points = PointSet::grid(kSide, kSide);
    SampleCache samples;
    std::vector<Plane> outputs;
    Chain() { samples.prepare(compiled.program, maps, points); }
    const float* source(int set, int component) {
        for (const SourceReg& s : compiled.program.sourceRegs)
            if (compiled.program.sources[static_cast<std::size_t>(s.source)].map()->role ==
                    (set == 0   ? "base-colour"
                     : set == 1 ? "wear"
                                : "grain") &&
                s.component == component)
                return samples.plane(compiled.program, maps, s);
        std::fprintf(stderr, "The demo chain no longer reads what the bench expects.\n");
        std::exit(1);
    }
};

Chain& chain() {
    static Chain c;
    return c;
}

void evaluate(benchmark::State& state, int threads) {
    Chain& c = chain();
    const ThreadLimit limit(threads);
    for (auto _ : state) run(c.compiled.program, c.maps, c.samples, c.points.size(), c.outputs);
}

/// The same chain in one loop, as a programmer would write it for this look alone.
void fuse(std::vector<Plane>& out) {
    Chain& c = chain();
    const std::size_t count = c.points.size();
    const float *r = c.source(0, 0), *g = c.source(0, 1), *b = c.source(0, 2), *wear = c.source(1, 3),
                *grain = c.source(2, 0);
    out.resize(3);
    for (Plane& p : out)
        if (p.size() != count) p = Plane(count);
    const float turn = 152, saturation = 0.50f, value = 0.86f, amount = 0.30f;
    const auto overlay = [](float u, float o) {
        return u <= 0.5f ? 2 * u * o : o + (2 * u - 1) - o * (2 * u - 1);
    };
    const auto encode = [](float x) {
        return x <= 0.0031308f ? 12.92f * x : 1.055f * std::pow(x, 1 / 2.4f) - 0.055f;
    };
    const auto decode = [](float x) {
        return x <= 0.04045f ? x / 12.92f : std::pow((x + 0.055f) / 1.055f, 2.4f);
    };
    for (std::size_t i = 0; i < count; ++i) {
        const float enamel = 1 - std::clamp((wear[i] - 0.15f) / 0.45f, 0.0f, 1.0f);
        Hsv h = hsvOf({r[i], g[i], b[i]});
        h.hue += turn;
        h.saturation = std::min(h.saturation * saturation, 1.0f);
        h.value *= value;
        const Vec3 shifted = mix({r[i], g[i], b[i]}, rgbOf(h), enamel);
        const float w = amount * enamel;
        const auto blend = [&](float u) {
            const float e = encode(u);
            return decode(e + w * (overlay(e, grain[i]) - e));
        };
        out[0][i] = blend(shifted.x);
        out[1][i] = blend(shifted.y);
        out[2][i] = blend(shifted.z);
    }
}

/// Both must agree before either is measured.
void checkEqual() {
    Chain& c = chain();
    std::vector<Plane> byHand;
    fuse(byHand);
    run(c.compiled.program, c.maps, c.samples, c.points.size(), c.outputs);
    for (std::size_t k = 0; k < 3; ++k)
        for (std::size_t i = 0; i < c.points.size(); ++i)
            if (std::abs(int{toByte(linearToSrgb(byHand[k][i]))} -
                         int{toByte(linearToSrgb(
                             c.outputs[static_cast<std::size_t>(c.compiled.planes[0][k])][i]))}) > 1) {
                std::fprintf(stderr, "The program and the loop by hand differ at point %zu.\n", i);
                std::exit(1);
            }
}

void exportAll(benchmark::State& state, int threads) {
    const Project project = *loadProject(kData / "ferry-kitchen.palekettle");
    const Resources resources{kData};
    ExportOptions options;
    options.folder = std::filesystem::temp_directory_path() / "pale-kettle-bench";
    options.looks = {"celadon"};
    options.size = kSide;
    const ThreadLimit limit(threads);
    for (auto _ : state)
        if (!exportMaps(project, resources, options)) state.SkipWithError("the export failed");
    std::filesystem::remove_all(options.folder);
}

void renderBase(benchmark::State& state, int threads) {
    Chain& c = chain();
    const ExportItem item{"celadon", "base-colour", 1001, kSide, kSide, {}};
    const ThreadLimit limit(threads);
    PixelBuffer pixels;
    std::vector<std::string> notes;
    for (auto _ : state)
        if (!renderItem(c.project, c.resources, item, FileFormat::Png8, pixels, notes))
            state.SkipWithError("the map failed");
}

}  // namespace

void registerChain() {
    const auto add = [](const char* name, auto body, int repetitions = 7) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(repetitions)
            ->Iterations(1);
    };
    for (const int threads : {1, 2}) {
        const std::string suffix = "2048-threads-" + std::to_string(threads);
        add(("chain-evaluate-" + suffix).c_str(), [threads](benchmark::State& s) { evaluate(s, threads); });
        add(("chain-sample-evaluate-encode-" + suffix).c_str(),
            [threads](benchmark::State& s) { renderBase(s, threads); });
        add(("export-six-maps-png8-" + suffix).c_str(),
            [threads](benchmark::State& s) { exportAll(s, threads); }, 3);
    }
    add("chain-fused-by-hand-2048-threads-1", [](benchmark::State& s) {
        checkEqual();
        std::vector<Plane> out;
        fuse(out);
        for (auto _ : s) fuse(out);
    });
}

}  // namespace kettle::bench
