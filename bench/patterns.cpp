// Patterns, placements and what the model tells: noise beside a plain loop that the compiler vectorises,
// lookups of placed maps beside straight ones, occlusion, places found on the model.
#include <benchmark/benchmark.h>

#include <cmath>

#include "bench/bench.h"
#include "bench/view.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/engine/fact_reader.h"
#include "core/geometry/mesh_facts.h"
#include "core/shading/preview.h"

namespace kettle::bench {
namespace {

constexpr int kSide = 1024;

Step sourceStep(const char* type, Controls controls) {
    Step s;
    s.id = "s";
    s.type = type;
    s.controls = std::move(controls);
    return s;
}

/// One line of one source over a grid, sampled before, so that the program alone is measured.
struct Pattern {
    Project project;
    Resources resources{kData};
    Compiled compiled;
    ResolvedMaps maps;
    SampleCache samples;
    PointSet points = PointSet::grid(kSide, kSide);
    std::vector<Plane> outputs;
    explicit Pattern(Step source) {
        Line line{"l", "l", Kind::Scalar, "", {}, {}};
        line.steps.emplace_back(std::move(source));
        project.lines.emplace_back(std::move(line));
        compiled = compile(project, nullptr, {{"l", "", 1, false}});
        maps = resources.resolve(project, compiled.program);
        samples.prepare(compiled.program, maps, points);
    }
    void run() { kettle::run(compiled.program, maps, samples, points.size(), outputs); }
};

/// The same sum of four octaves of gradient noise as a programmer writes it, left to the compiler.
float fade(float t) {
    return t * t * t * (t * (t * 6 - 15) + 10);
}
float slope(std::uint32_t h, float x, float y) {
    const float more = (h >> 26 & 1u) != 0 ? y : x, less = (h >> 26 & 1u) != 0 ? x : y;
    return (h >> 31 != 0 ? -more : more) * 0.92387953f + ((h >> 28 & 1u) != 0 ? -less : less) * 0.38268343f;
}
std::uint32_t hashed(std::uint32_t h) {
    h ^= h >> 15;
    h *= 0x2C1B3C6Du;
    h ^= h >> 12;
    h *= 0x297A2D39u;
    return h ^ h >> 15;
}
void plainNoise(const float* u, const float* v, float* out, std::size_t count) {
    for (std::size_t i = 0; i < count; ++i) {
        float sum = 0, weight = 1, frequency = 8;
        for (std::uint32_t o = 0; o < 4; ++o) {
            const float x = u[i] * frequency, y = v[i] * frequency;
            const float cx = std::floor(x), cy = std::floor(y), fx = x - cx, fy = y - cy;
            const std::uint32_t hx = static_cast<std::uint32_t>(static_cast<std::int32_t>(cx)) * 0x9E3779B1u,
                                hy = static_cast<std::uint32_t>(static_cast<std::int32_t>(cy)) * 0x85EBCA77u ^
                                     o;
            const float a = slope(hashed(hx ^ hy), fx, fy),
                        b = slope(hashed((hx + 0x9E3779B1u) ^ hy), fx - 1, fy);
            const float c = slope(hashed(hx ^ (hy + 0x85EBCA77u)), fx, fy - 1),
                        d = slope(hashed((hx + 0x9E3779B1u) ^ (hy + 0x85EBCA77u)), fx - 1, fy - 1);
            const float wx = fade(fx), wy = fade(fy), low = a + (b - a) * wx, high = c + (d - c) * wx;
            sum += weight * (low + (high - low) * wy);
            weight *= 0.5f, frequency *= 2;
        }
        out[i] = sum;
    }
}

/// Straight, from three sides, broken up: the same map at the same points of the kettle.
struct Placing {
    Resources resources{kData};
    Project project = *loadProject(kData / "ferry-kitchen.palekettle");
    std::shared_ptr<SceneStore> scenes = std::make_shared<SceneStore>(kData / "models");
    PointSet points;
    Placing() {
        resources.setModels(std::make_shared<FactsStore>(scenes));
        Camera camera;
        const auto scene = *scenes->load("kettle", "auto");
        camera.frame(scene->mesh(), 1.5f);
        ViewOptions options;
        options.places = true;
        points = std::move(castView(*scene, camera, 900, 600, options).points);
    }
    void sample(benchmark::State& state, Controls controls) {
        Project p = project;
        Step source = sourceStep("map", std::move(controls));
        source.set = "enamel_kettle", source.role = "base-colour";
        Line line{"l", "l", Kind::Colour, "", {}, {}};
        line.steps.emplace_back(std::move(source));
        p.lines.emplace_back(std::move(line));
        const Compiled c = compile(p, nullptr, {{"l", "", 3, false}});
        const ResolvedMaps maps = resources.resolve(p, c.program);
        const ThreadLimit limit(1);
        for (auto _ : state) {
            SampleCache samples;
            samples.prepare(c.program, maps, points);
            std::vector<Plane> outputs;
            kettle::run(c.program, maps, samples, points.size(), outputs);
        }
    }
};
Placing& placing() {
    static Placing p;
    return p;
}

Controls triplanar() {
    return {{"lies", std::string("sides")}, {"size", 12.0}};
}

/// A base colour that noise shines through, and its view.
Project withNoise() {
    Project p = *loadProject(kData / "ferry-kitchen.palekettle");
    Line line{"noise", "Noise", Kind::Scalar, "", {}, {}};
    line.steps.emplace_back(sourceStep("noise", {{"octaves", 4.0}}));
    line.steps.front().edit().id = "noise-source";
    p.lines.emplace_back(std::move(line));
    Feed feed;
    feed.line = "noise";
    return *edits::setFeed(p, "glaze", "mask", feed);
}

struct NoiseView : View {
    double repeats = 8;
    NoiseView() : View(withNoise(), "celadon") {}
};

}  // namespace

void registerPatterns() {
    const auto add = [](const char* name, auto body) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(7)
            ->Iterations(3);
    };
    add("noise-fractal-4-octaves", [](benchmark::State& s) {
        static Pattern pattern(sourceStep("noise", {{"octaves", 4.0}, {"repeats", 8.0}}));
        const ThreadLimit limit(1);
        for (auto _ : s) pattern.run();
    });
    add("noise-fractal-4-octaves-in-space", [](benchmark::State& s) {
        static Pattern pattern(sourceStep("noise", {{"octaves", 4.0}, {"space", std::string("model")}}));
        const ThreadLimit limit(1);
        for (auto _ : s) pattern.run();
    });
    add("noise-fractal-4-octaves-plain-loop", [](benchmark::State& s) {
        static const PointSet points = PointSet::grid(kSide, kSide);
        static Plane out(points.size());
        for (auto _ : s) {
            plainNoise(points.u.data(), points.v.data(), out.data(), out.size());
            benchmark::DoNotOptimize(out.data());
        }
    });
    add("lookup-straight", [](benchmark::State& s) { placing().sample(s, {{"repeats", 2.0}}); });
    add("lookup-triplanar", [](benchmark::State& s) { placing().sample(s, triplanar()); });
    add("lookup-break-up", [](benchmark::State& s) {
        placing().sample(s, {{"repeats", 2.0}, {"break-up", true}});
    });
    add("lookup-scattered-196-stamps", [](benchmark::State& s) {
        placing().sample(s, {{"lies", std::string("scattered")}, {"count", 14.0}});
    });
    add("atlas-kettle-4096", [](benchmark::State& s) {
        const auto scene = *placing().scenes->load("kettle", "auto");
        static const UvCells cells(scene->mesh());
        static const PointSet points = PointSet::grid(4096, 4096);
        static ModelPlaces places{
            std::vector<std::uint32_t>(points.size()), Plane(points.size()), Plane(points.size()), {}};
        const ThreadLimit limit(2);
        for (auto _ : s)
            parallelFor(points.size(), 4096, [&](std::size_t begin, std::size_t end) {
                cells.find(points.u.data() + begin, points.v.data() + begin, end - begin,
                           places.triangles.data() + begin, places.b1.data() + begin,
                           places.b2.data() + begin);
            });
    });
    add("occlusion-64-rays-540000", [](benchmark::State& s) {
        const auto scene = *placing().scenes->load("kettle", "auto");
        static const SurfaceSamples samples(scene->mesh(), 540'000);
        const ThreadLimit limit(2);
        for (auto _ : s) benchmark::DoNotOptimize(HiddenDistances(*scene, samples).hidden(3, 1));
        s.counters["places"] = static_cast<double>(samples.size());
    });
    add("slider-noise-to-full-picture-900x600", [](benchmark::State& s) {
        static NoiseView v;
        for (auto _ : s) {
            v.repeats += 0.1;
            v.request.project =
                *edits::setControl(v.request.project, "celadon", "noise-source", "repeats", v.repeats);
            if (!v.preview.render(v.request, v.resources, 1)) s.SkipWithError("no picture");
        }
    });
}

}  // namespace kettle::bench
