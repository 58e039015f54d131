// Layers: a slider on a mask's ramp, and the board's pictures.
#include <benchmark/benchmark.h>

#include "bench/bench.h"
#include "bench/layered_project.h"
#include "bench/view.h"
#include "core/analysis/board_pictures.h"

namespace kettle::bench {
namespace {

struct LayeredView : View {
    double middle = 0.2;
    LayeredView(int layers, std::size_t channelCount)
        : View(layeredProject(kData, layers, channelCount), "") {}
    void moveSlider() {
        middle = middle > 0.6 ? 0.2 : middle + 0.01;
        request.project = *edits::setControl(request.project, "", "mask-ramp", "ramp", rampAt(middle));
    }
};

void slide(benchmark::State& s, LayeredView& view) {
    for (auto _ : s) {
        view.moveSlider();
        if (!view.preview.render(view.request, view.resources, 1)) s.SkipWithError("no picture");
    }
}

}  // namespace

void registerLayers() {
    const auto add = [](const char* name, auto body) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(7)
            ->Iterations(9);
    };
    add("layers-4-on-6-mask-slider-to-full-picture-900x600", [](benchmark::State& s) {
        static LayeredView view(4, 6);
        slide(s, view);
    });
    add("layers-20-on-8-mask-slider-to-full-picture-900x600", [](benchmark::State& s) {
        static LayeredView view(20, 8);
        slide(s, view);
    });
    add("layers-20-on-8-board-pictures", [](benchmark::State& s) {
        static LayeredView view(20, 8);
        static BoardPictures pictures(102, 50, 14);
        for (auto _ : s) {
            view.moveSlider();
            benchmark::DoNotOptimize(pictures.paint(view.request.project, "", view.resources, {}));
        }
    });
}

}  // namespace kettle::bench
