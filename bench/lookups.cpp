// Trilinear lookups: our bounded store of maps against OpenImageIO's TextureSystem, the same places in the
// same picture, at footprints between two levels.
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/texture.h>
#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "bench/bench.h"
#include "bench/reference_chain.h"
#include "core/engine/run.h"
#include "core/image/image.h"
#include "core/image/image_store.h"

namespace kettle::bench {
namespace {

constexpr int kSide = 1024, kView = 600;
constexpr float kFootprint = 1.5f / kSide;  // between level 0 and level 1

/// A turned and shrunk view of the picture, as of a flat wall that is looked at from the front.
PointSet viewPoints() {
    PointSet p = PointSet::grid(kView, kView);
    for (std::size_t i = 0; i < p.size(); ++i) {
        const float u = p.u[i] - 0.5f, v = p.v[i] - 0.5f;
        p.u[i] = 0.5f + (u * 0.95f - v * 0.31f) * 0.7f;
        p.v[i] = 0.5f + (u * 0.31f + v * 0.95f) * 0.7f;
        p.footprint[i] = kFootprint;
    }
    return p;
}

struct Lookup {
    std::filesystem::path folder = std::filesystem::temp_directory_path() / "pale-kettle-lookups";
    PointSet points = viewPoints();
    std::vector<Plane> ours;
    std::vector<float> theirs = std::vector<float>(points.size() * 3);
    ImageStore store;
    OIIO::TextureSystem* system = OIIO::TextureSystem::create(false);
    OIIO::TextureSystem::TextureHandle* handle = nullptr;

    Lookup() {
        std::filesystem::create_directories(folder);
        PixelBuffer p = PixelBuffer::make(kSide, kSide, 3, Depth::U8);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide * 3; ++x)
                p.row<std::uint8_t>(y)[x] = static_cast<std::uint8_t>(
                    128 + 100 * std::sin(x * 0.05 + y * 0.031) * std::cos(y * 0.043));
        if (!writeImage(folder / "picture.png", p, FileFormat::Png8, "")) std::exit(1);
        OIIO::ImageSpec config;
        config.attribute("maketx:filtername", "box");
        const std::string texture = (folder / "picture.tx").string();
        if (!OIIO::ImageBufAlgo::make_texture(OIIO::ImageBufAlgo::MakeTxTexture,
                                              OIIO::ImageBuf((folder / "picture.png").string()), texture,
                                              config)) {
            std::fprintf(stderr, "The texture for the peer could not be made: %s\n",
                         OIIO::geterror().c_str());
            std::exit(1);
        }
        handle = system->get_texture_handle(OIIO::ustring(texture));
        for (int c = 0; c < 3; ++c) ours.emplace_back(points.size());
    }
    ~Lookup() { OIIO::TextureSystem::destroy(system); }

    void runOurs() {
        const auto image = store.get(folder / "picture.png", "raw", ColourManagement::shipped());
        parallelFor(points.size(), 4096, [&](std::size_t begin, std::size_t end) {
            float* const out[4]{ours[0].data() + begin, ours[1].data() + begin, ours[2].data() + begin,
                                nullptr};
            (*image)->sample({points.u.data() + begin, points.v.data() + begin,
                              points.footprint.data() + begin, end - begin},
                             7, out);
        });
    }
    void runTheirs() {
        parallelFor(points.size(), 4096, [&](std::size_t begin, std::size_t end) {
            OIIO::TextureOpt options;
            options.mipmode = OIIO::TextureOpt::MipModeTrilinear;
            options.interpmode = OIIO::TextureOpt::InterpBilinear;
            options.swrap = options.twrap = OIIO::TextureOpt::WrapPeriodic;
            auto* thread = system->get_perthread_info();
            for (std::size_t i = begin; i < end; ++i)
                system->texture(handle, thread, options, points.u[i], 1 - points.v[i], kFootprint, 0, 0,
                                kFootprint, 3, theirs.data() + 3 * i);
        });
    }
};

Lookup& lookup() {
    static Lookup l;
    return l;
}

void checkEqual() {
    Lookup& l = lookup();
    l.runOurs();
    l.runTheirs();
    float worst = 0;
    for (std::size_t i = 0; i < l.points.size(); ++i)
        for (std::size_t c = 0; c < 3; ++c)
            worst = std::max(worst, std::fabs(l.ours[c][i] - l.theirs[3 * i + c]));
    if (worst * 255 <= 1) return;
    std::fprintf(stderr, "The lookups differ by %.2f codes, so they are not measured.\n",
                 static_cast<double>(worst * 255));
    std::exit(1);
}

}  // namespace

void registerLookups() {
    const auto add = [](const char* name, auto body) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(7)
            ->Iterations(3);
    };
    add("lookups-360000-trilinear-threads-2", [](benchmark::State& s) {
        checkEqual();
        const ThreadLimit limit(2);
        for (auto _ : s) lookup().runOurs();
    });
    add("lookups-360000-trilinear-texturesystem-threads-2", [](benchmark::State& s) {
        checkEqual();
        const ThreadLimit limit(2);
        for (auto _ : s) lookup().runTheirs();
    });
}

}  // namespace kettle::bench
