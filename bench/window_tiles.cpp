// A project of many tiles in the window: how soon it is seen, what it takes, how it answers.
#include <sys/resource.h>

#include "app/pictures/picture_service.h"
#include "app/preview/model_view.h"
#include "bench/window_bench.h"
#include "core/document/edits.h"

namespace kettle::bench {
namespace {

/// The most memory that this process has had; a new process begins with a small one.
double peakMegabytes() {
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    return static_cast<double>(usage.ru_maxrss) / 1024;
}

}  // namespace

nlohmann::ordered_json tileFigures(const QString& project) {
    nlohmann::ordered_json out;
    MainWindow window(KETTLE_DATA_DIR);
    standOpen(window);
    bool isLit = false;
    QObject::connect(&window.pictures(), &PictureService::modelReady, &window, [&] { isLit = true; });
    QElapsedTimer time;
    time.start();
    const auto now = [&] { return static_cast<double>(time.nsecsElapsed()) / 1e6; };
    if (!window.session().open(project)) return out;
    waitUntil([&] { return isLit; }, 600000);
    out["first"] = now();
    // Complete: every tile has been read, and the picture that shows them all is there.
    const auto isWhole = [&] { return window.session().arrived().all == 0 && window.isSettled(); };
    for (int rounds = 0; rounds < 3; ++rounds) waitUntil(isWhole, 600000), settle(window);
    out["complete"] = now();
    // Turned as by a hand.
    for (int i = 0; i < 12; ++i) {
        isLit = false;
        window.model().lookFrom(static_cast<float>(7 * i - 40), 10);
        waitUntil([&] { return isLit; }, 10000);
    }
    settle(window);
    const Line* line = window.session().project().lineOfChannel("base-colour");
    if (line == nullptr) return out;
    window.session().insertStep(line->id, 1, "hsv-shift");
    const std::string step = window.session().selectedStep();
    settle(window);
    std::vector<double> times;
    for (int i = 0; i < 15; ++i) {
        isLit = false;
        time.restart();
        window.session().setControl(step, "hue", 5.0 + i, window.session().newGesture());
        waitUntil([&] { return isLit; }, 10000);
        times.push_back(now());
        settle(window);
    }
    out["slider-to-first"] = median(times);
    out["memory"] = peakMegabytes();
    return out;
}

}  // namespace kettle::bench
