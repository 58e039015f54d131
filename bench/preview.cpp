#include <benchmark/benchmark.h>

#include "bench/bench.h"
#include "bench/view.h"
#include "core/analysis/board_pictures.h"
#include "core/analysis/picture_difference.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/handover/contact_sheet.h"
#include "core/shading/preview.h"

namespace kettle::bench {
namespace {

struct HueView : View {
    double hue = 0;
    HueView() : View(*loadProject(kData / "ferry-kitchen.palekettle"), "celadon") {}
    void moveSlider() {
        hue += 1.5;
        request.project = *edits::setControl(request.project, "celadon", "glaze", "hue", hue);
    }
};

HueView& view() {
    static HueView v;
    return v;
}

void sliderTo(benchmark::State& state, int stage) {
    HueView& v = view();
    // Another figure may have turned the camera; the view of this one is cast before it is measured.
    if (!v.preview.render(v.request, v.resources, stage)) state.SkipWithError("no picture");
    for (auto _ : state) {
        v.moveSlider();
        if (!v.preview.render(v.request, v.resources, stage)) state.SkipWithError("no picture");
    }
}

void cameraTo(benchmark::State& state, int stage) {
    HueView& v = view();
    for (auto _ : state) {
        v.request.camera.turn += 1;
        if (!v.preview.render(v.request, v.resources, stage)) state.SkipWithError("no picture");
    }
}

/// Two looks and their difference: one side changes.
void sliderToCompare(benchmark::State& state, int stage) {
    HueView& v = view();
    PreviewRequest request = v.request;
    request.others = {PreviewSide{request.project, "marmalade", {}}};
    if (!v.preview.render(request, v.resources, stage)) state.SkipWithError("no picture");
    for (auto _ : state) {
        v.moveSlider();
        static_cast<PreviewSide&>(request) = v.request;
        const auto picture = v.preview.render(request, v.resources, stage);
        if (!picture) return state.SkipWithError("no picture");
        const auto& covered = v.preview.covered();
        benchmark::DoNotOptimize(differenceOfPictures(picture->pixels.data(),
                                                      v.preview.others()[0].pixels.data(),
                                                      picture->pixels.size(), covered.data()));
    }
}

/// From a camera that has moved to the last pass, with depth in centimetres.
void cameraToRest(benchmark::State& state, double depth, int lastStage) {
    HueView& v = view();
    PreviewRequest request = v.request;
    request.project.view.displacement = depth;
    for (auto _ : state) {
        request.camera.turn += 1;
        // Another middle each time, so that the mesh is moved anew.
        if (depth > 0) request.project.view.displacementMiddle += 0.001;
        for (int stage = 0; stage <= lastStage; ++stage)
            if (!v.preview.render(request, v.resources, stage)) return state.SkipWithError("no picture");
    }
}

/// The handle of a range to all candidates: so many sides of one view, and how far each is from the first.
void explore(benchmark::State& state, int count, int width, int height) {
    HueView& v = view();
    Preview preview(kData / "models", kData / "environments");
    PreviewRequest request = v.request;
    request.width = width, request.height = height;
    double low = -180;
    const auto candidates = [&] {
        low += 1;
        request.others.clear();
        for (int i = 0; i < count; ++i)
            request.others.push_back(
                {*edits::setControl(request.project, "celadon", "glaze", "hue", low + 180.0 * i / count),
                 "celadon",
                 {}});
    };
    candidates();
    if (!preview.render(request, v.resources, 1)) return state.SkipWithError("no picture");
    for (auto _ : state) {
        candidates();
        const auto now = preview.render(request, v.resources, 1);
        if (!now) return state.SkipWithError("no picture");
        const auto& covered = preview.covered();
        for (const Picture& one : preview.others())
            benchmark::DoNotOptimize(
                differenceOfPictures(now->pixels.data(), one.pixels.data(), one.pixels.size(), covered.data())
                    .mean);
    }
}

/// Four looks from three sides, as fine as they get.
void contactSheet(benchmark::State& state) {
    HueView& v = view();
    const auto scenes = std::make_shared<SceneStore>(kData / "models");
    SheetPlan plan;
    plan.looks = {"celadon", "marmalade", "night-ferry", "forty-years-afloat"};
    Camera camera;
    camera.frame((*scenes->load("kettle", "auto"))->mesh(), 1.6f);
    for (const char* side : {"front", "right", "back"}) plan.views.push_back(*viewFrom(camera, side));
    for (auto _ : state)
        if (!makeContactSheet(v.request.project, v.resources, scenes, kData / "environments", plan, ""))
            state.SkipWithError("no sheet");
}

void board(benchmark::State& state) {
    HueView& v = view();
    BoardPictures pictures(102, 50, 14);
    for (auto _ : state) {
        v.moveSlider();
        if (pictures.paint(v.request.project, "celadon", v.resources).empty())
            state.SkipWithError("no pictures");
    }
}

}  // namespace

void registerPreview() {
    const auto add = [](const char* name, auto body) {
        benchmark::RegisterBenchmark(name, body)
            ->Unit(benchmark::kMillisecond)
            ->UseRealTime()
            ->Repetitions(7)
            ->Iterations(5);
    };
    add("slider-to-first-picture-900x600", [](benchmark::State& s) { sliderTo(s, 0); });
    add("slider-to-full-picture-900x600", [](benchmark::State& s) { sliderTo(s, 1); });
    add("camera-to-first-picture-900x600", [](benchmark::State& s) { cameraTo(s, 0); });
    add("slider-to-compare", [](benchmark::State& s) { sliderToCompare(s, 1); });
    add("slider-to-compare-first", [](benchmark::State& s) { sliderToCompare(s, 0); });
    add("camera-to-displaced-900x600", [](benchmark::State& s) { cameraToRest(s, 0.3, 1); });
    add("camera-to-antialiased-900x600",
        [](benchmark::State& s) { cameraToRest(s, 0, Preview::kLastStage); });
    add("slider-to-board-pictures", board);
    add("explore-12", [](benchmark::State& s) { explore(s, 12, 306, 194); });
    add("explore-48", [](benchmark::State& s) { explore(s, 48, 306, 194); });
    benchmark::RegisterBenchmark("contact-sheet-4-by-3-640x400", contactSheet)
        ->Unit(benchmark::kMillisecond)
        ->UseRealTime()
        ->Repetitions(3)
        ->Iterations(1);
}

}  // namespace kettle::bench
