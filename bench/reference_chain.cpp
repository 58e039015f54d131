#include "bench/reference_chain.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "bench/bench.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/exchange/export.h"
#include "core/image/image.h"

namespace kettle::bench {
namespace {

Step makeStep(const char* id, const char* type, Controls controls = {}) {
    Step s;
    s.id = id;
    s.type = type;
    s.controls = std::move(controls);
    return s;
}
Step makeMap(const char* id, const char* role) {
    Step s = makeStep(id, "map");
    s.set = "set";
    s.role = role;
    return s;
}
Feed fromLine(const char* id) {
    Feed f;
    f.line = id;
    return f;
}
template <std::size_t kStops>
Ramp rampOf(const std::array<ChainStop, kStops>& stops) {
    Ramp ramp;
    ramp.stops.clear();
    for (const ChainStop& s : stops) ramp.stops.push_back({s.at, {s.r, s.g, s.b}});
    return ramp;
}
Line makeLine(const char* id, Kind kind, const char* channel, std::vector<Step> steps) {
    Line line{id, id, kind, channel, {}, {}};
    for (Step& s : steps) line.steps.emplace_back(std::move(s));
    return line;
}

/// The chain as an artist would lay it on the board.
Project chainProject() {
    Project p;
    p.sets.emplace_back(TextureSet{
        "set", "Set", "", {{"base-colour", "base.png", "sRGB", {}}, {"grey", "grey.png", "raw", {}}}, {}});
    Step shift = makeStep(
        "shift", "hsv-shift",
        {{"hue", kHue}, {"saturation", kSaturation}, {"value", kValue}, {"works-in", std::string("linear")}});
    Step blend = makeStep("blend", "blend", {{"mode", std::string("multiply")}, {"amount", kAmount}});
    blend.feeds = {{"over", fromLine("over")}, {"mask", fromLine("mask")}};
    Step over = makeStep("over-ramp", "ramp-remap", {{"ramp", rampOf(kOverRamp)}});
    over.feeds["reads-from"] = fromLine("grey");
    p.lines.emplace_back(
        makeLine("base", Kind::Colour, "base-colour", {makeMap("m1", "base-colour"), shift, blend}));
    p.lines.emplace_back(makeLine("over", Kind::Colour, "", {makeStep("c", "colour"), over}));
    p.lines.emplace_back(makeLine("grey", Kind::Scalar, "", {makeMap("m2", "grey")}));
    p.lines.emplace_back(makeLine(
        "mask", Kind::Scalar, "",
        {makeMap("m3", "grey"), makeStep("mask-ramp", "ramp-remap", {{"ramp", rampOf(kMaskRamp)}})}));
    return p;
}

/// The project with its maps on disk, and in the store once they were read.
struct OurChain {
    std::filesystem::path folder = std::filesystem::temp_directory_path() / "pale-kettle-reference-chain";
    Project project = chainProject();
    Resources resources{folder};
    PixelBuffer pixels;  // as the other loops write into one place each
    OurChain() {
        std::filesystem::create_directories(folder);
        const auto write = [&](const char* name, const std::vector<std::uint8_t>& bytes, int channels) {
            PixelBuffer p = PixelBuffer::make(kChainSide, kChainSide, channels, Depth::U8);
            std::memcpy(p.bytes.data(), bytes.data(), bytes.size());
            if (!writeImage(folder / name, p, FileFormat::Png8, "")) std::exit(1);
        };
        if (!std::filesystem::exists(folder / "grey.png")) {
            write("base.png", chainPictures().rgb, 3);
            write("grey.png", chainPictures().grey, 1);
        }
    }
    void render() {
        const ExportItem item{"", "base", 1001, kChainSide, kChainSide, {}};
        std::vector<std::string> notes;
        if (!renderItem(project, resources, item, FileFormat::Png8, pixels, notes)) std::exit(1);
    }
    std::vector<std::uint8_t> bytes() {
        render();
        std::vector<std::uint8_t> out(pixels.bytes.size());
        std::memcpy(out.data(), pixels.bytes.data(), out.size());
        return out;
    }
};
OurChain& ours() {
    static OurChain chain;
    return chain;
}

void checked(const char* who, const std::vector<std::uint8_t>& out) {
    const int worst = worstCode(out);
    if (worst <= 1) return;
    std::fprintf(stderr, "%s differs from the plain loop by %d codes, so it is not measured.\n", who, worst);
    std::exit(1);
}

void programBytes(benchmark::State& state, int threads) {
    OurChain& c = ours();
    const ThreadLimit limit(threads);
    checked("The program", c.bytes());
    for (auto _ : state) c.render();
}

void fuseOver(std::vector<std::uint8_t>& out) {
    const ChainPictures& in = chainPictures();
    parallelFor(kChainSide, 8, [&](std::size_t begin, std::size_t end) {
        const std::size_t at = begin * kChainSide;
        fusedChain(in.rgb.data() + 3 * at, in.grey.data() + at, (end - begin) * kChainSide,
                   out.data() + 3 * at);
    });
}

void fusedBytes(benchmark::State& state, int threads) {
    std::vector<std::uint8_t> out(chainPictures().rgb.size());
    const ThreadLimit limit(threads);
    fuseOver(out);
    checked("The fused loop", out);
    for (auto _ : state) fuseOver(out);
}

/// 540,000 points, a view of 900 x 600, with their samples in memory.
struct Points {
    static constexpr std::size_t kCount = 540000;
    Compiled compiled = compile(ours().project, nullptr, {{"base", "", 3}});
    ResolvedMaps maps = ours().resources.resolve(ours().project, compiled.program);
    SampleCache samples;
    std::vector<Plane> outputs;
    const float* in[4]{};
    Points() {
        samples.prepare(compiled.program, maps, PointSet::grid(900, 600));
        for (const SourceReg& s : compiled.program.sourceRegs) {
            const bool grey =
                compiled.program.sources[static_cast<std::size_t>(s.source)].map()->role == "grey";
            in[grey ? 3 : s.component] = samples.plane(compiled.program, maps, s);
        }
    }
};
Points& points() {
    static Points p;
    return p;
}

void fuseOver(Points& p, std::vector<Plane>& out) {
    parallelFor(Points::kCount / 512 + 1, 32, [&](std::size_t begin, std::size_t end) {
        const std::size_t at = begin * 512, n = std::min(end * 512, Points::kCount) - at;
        const float* const in[4]{p.in[0] + at, p.in[1] + at, p.in[2] + at, p.in[3] + at};
        float* const to[3]{out[0].data() + at, out[1].data() + at, out[2].data() + at};
        fusedChainPlanes(in, (n + 15) / 16 * 16, to);
    });
}

void programPoints(benchmark::State& state, int threads) {
    Points& p = points();
    const ThreadLimit limit(threads);
    for (auto _ : state) run(p.compiled.program, p.maps, p.samples, Points::kCount, p.outputs);
}

void fusedPoints(benchmark::State& state, int threads) {
    Points& p = points();
    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.emplace_back(Points::kCount);
    const ThreadLimit limit(threads);
    const auto once = [&] { fuseOver(p, out); };
    once();
    run(p.compiled.program, p.maps, p.samples, Points::kCount, p.outputs);
    for (std::size_t c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < Points::kCount; ++i)
            if (std::fabs(out[c][i] - p.outputs[static_cast<std::size_t>(p.compiled.planes[0][c])][i]) >
                1e-5f) {
                std::fprintf(stderr, "The program and the fused loop differ at point %zu.\n", i);
                std::exit(1);
            }
    for (auto _ : state) once();
}

double secondsOf(const std::function<void()>& body) {
    const auto start = std::chrono::steady_clock::now();
    body();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// The first's time over the second's: the median of rounds in which both run one after the other.
double inTurn(const std::function<void()>& ours, const std::function<void()>& theirs, int rounds) {
    std::vector<double> ratios;
    for (int round = 0; round < rounds; ++round) {
        const double seconds = secondsOf(ours);
        ratios.push_back(seconds / secondsOf(theirs));
    }
    std::sort(ratios.begin(), ratios.end());
    return ratios[ratios.size() / 2];
}

using Peer = bool (*)(std::vector<std::uint8_t>&, int);
void peerBytes(benchmark::State& state, Peer peer, const char* name, int threads) {
    std::vector<std::uint8_t> out;
    if (!peer(out, threads)) return state.SkipWithError("the library is not installed");
    checked(name, out);
    for (auto _ : state) peer(out, threads);
}

}  // namespace

ChainPictures::ChainPictures()
    : rgb(static_cast<std::size_t>(kChainSide) * kChainSide * 3),
      grey(static_cast<std::size_t>(kChainSide) * kChainSide) {
    for (int y = 0; y < kChainSide; ++y)
        for (int x = 0; x < kChainSide; ++x) {
            const std::size_t i = static_cast<std::size_t>(y) * kChainSide + static_cast<std::size_t>(x);
            const unsigned noise = static_cast<unsigned>(i) * 2654435761u >> 27;
            rgb[3 * i] = static_cast<std::uint8_t>((x / 16 + static_cast<int>(noise)) & 255);
            rgb[3 * i + 1] = static_cast<std::uint8_t>((y / 16 + 2 * static_cast<int>(noise)) & 255);
            rgb[3 * i + 2] = static_cast<std::uint8_t>(((x + y) / 32 + static_cast<int>(noise)) & 255);
            grey[i] = static_cast<std::uint8_t>(((x - y) / 8 + 3 * static_cast<int>(noise)) & 255);
        }
}

const ChainPictures& chainPictures() {
    static const ChainPictures pictures;
    return pictures;
}

std::array<std::uint8_t, 3> plainChain(const std::uint8_t* rgb, std::uint8_t grey) {
    const auto decode = [](double x) {
        return x <= 0.04045 ? x / 12.92 : std::pow((x + 0.055) / 1.055, 2.4);
    };
    const auto encode = [](double x) {
        return x <= 0.0031308 ? 12.92 * x : 1.055 * std::pow(x, 1 / 2.4) - 0.055;
    };
    const double r = decode(rgb[0] / 255.0), g = decode(rgb[1] / 255.0), b = decode(rgb[2] / 255.0);
    const double v = std::max({r, g, b}), c = v - std::min({r, g, b});
    double h = c <= 0 ? 0 : v == r ? (g - b) / c : v == g ? 2 + (b - r) / c : 4 + (r - g) / c;
    h = std::fmod(h + 6 + static_cast<double>(kHue) / 60, 6.0);
    const double s = c <= 0 ? 0 : std::min(1.0, c / v * static_cast<double>(kSaturation)),
                 value = v * static_cast<double>(kValue);
    const auto part = [&](double n) {
        const double k = std::fmod(n + h, 6);
        return value - value * s * std::clamp(std::min(k, 4 - k), 0.0, 1.0);
    };
    const double x = grey / 255.0;
    const auto ramp = [&](const auto& stops, float ChainStop::*component) -> double {
        if (x <= static_cast<double>(stops.front().at)) return static_cast<double>(stops.front().*component);
        for (std::size_t i = 1; i < stops.size(); ++i)
            if (x < static_cast<double>(stops[i].at)) {
                const double from = stops[i - 1].at, to = stops[i].at, a = stops[i - 1].*component,
                             e = stops[i].*component;
                return a + (x - from) / (to - from) * (e - a);
            }
        return static_cast<double>(stops.back().*component);
    };
    const double w = static_cast<double>(kAmount) * ramp(kMaskRamp, &ChainStop::r);
    const auto finish = [&](double u, double o) {
        return static_cast<std::uint8_t>(std::clamp(encode(u + w * (u * o - u)), 0.0, 1.0) * 255 + 0.5);
    };
    return {finish(part(5), ramp(kOverRamp, &ChainStop::r)), finish(part(3), ramp(kOverRamp, &ChainStop::g)),
            finish(part(1), ramp(kOverRamp, &ChainStop::b))};
}

double bytesRatio(int threads) {
    std::vector<std::uint8_t> out(chainPictures().rgb.size());
    const ThreadLimit limit(threads);
    return inTurn([&] { ours().render(); }, [&] { fuseOver(out); }, 41);
}

double pointsRatio(int threads) {
    Points& p = points();
    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.emplace_back(Points::kCount);
    const ThreadLimit limit(threads);
    const auto program = [&] { run(p.compiled.program, p.maps, p.samples, Points::kCount, p.outputs); };
    return inTurn(
        program, [&] { fuseOver(p, out); }, 201);
}

int worstCode(const std::vector<std::uint8_t>& out) {
    const ChainPictures& in = chainPictures();
    if (out.size() != in.rgb.size()) return 255;
    int worst = 0;
    for (std::size_t i = 0; i < in.pixels(); i += 7) {
        const auto right = plainChain(in.rgb.data() + 3 * i, in.grey[i]);
        for (std::size_t c = 0; c < 3; ++c)
            worst = std::max(worst, std::abs(int{right[c]} - int{out[3 * i + c]}));
    }
    return worst;
}

void registerReferenceChain() {
    const auto add = [](const std::string& name, auto body, int iterations, int repetitions = 7) {
        benchmark::RegisterBenchmark(name.c_str(), body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(repetitions)
            ->Iterations(iterations);
    };
    for (const int threads : {1, 2}) {
        const std::string t = "-threads-" + std::to_string(threads);
        add(
            "reference-program-4096" + t, [threads](benchmark::State& s) { programBytes(s, threads); }, 6);
        add(
            "reference-fused-4096" + t, [threads](benchmark::State& s) { fusedBytes(s, threads); }, 6);
        add(
            "reference-program-540000-points" + t,
            [threads](benchmark::State& s) { programPoints(s, threads); }, 20);
        add(
            "reference-fused-540000-points" + t, [threads](benchmark::State& s) { fusedPoints(s, threads); },
            20);
    }
    add(
        "reference-opencv-4096-threads-2",
        [](benchmark::State& s) { peerBytes(s, opencvChain, "OpenCV", 2); }, 1);
    add(
        "reference-libvips-4096-threads-2",
        [](benchmark::State& s) { peerBytes(s, vipsChain, "libvips", 2); }, 1);
    add(
        "reference-openimageio-4096-threads-2",
        [](benchmark::State& s) { peerBytes(s, openImageIoChain, "OpenImageIO", 2); }, 1, 3);
}

}  // namespace kettle::bench
