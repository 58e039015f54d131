// Ten thousand steps on a line and ten thousand lines beside it, in the window.
#include <sys/resource.h>

#include "app/preview/model_view.h"
#include "bench/window_bench.h"
#include "core/document/json.h"

namespace kettle::bench {
namespace {

constexpr int kMany = 10000;

Step stepOf(std::string id, const char* type) {
    Step s;
    s.id = std::move(id), s.type = type;
    return s;
}

/// The kettle's base colour through ten thousand shifts of which one changes anything, and as many shared
/// lines of two steps.
Project manySteps() {
    Project p;
    p.view.model = "kettle";
    Line base;
    base.id = base.channel = "base-colour";
    base.name = "Base colour";
    base.steps.emplace_back(stepOf("clay", "colour"));
    for (int i = 0; i < kMany; ++i) base.steps.emplace_back(stepOf("s" + std::to_string(i), "hsv-shift"));
    base.steps[kMany / 2].edit().controls = {{"hue", 30.0}};
    p.lines.emplace_back(base);
    for (int i = 0; i < kMany; ++i) {
        Line line;
        line.id = "l" + std::to_string(i);
        line.name = "Line " + std::to_string(i);
        line.steps.emplace_back(stepOf("c" + std::to_string(i), "colour"));
        line.steps.emplace_back(stepOf("t" + std::to_string(i), "tone"));
        p.lines.emplace_back(line);
    }
    return p;
}

}  // namespace

nlohmann::ordered_json stepFigures(const QString& file) {
    nlohmann::ordered_json out;
    if (!saveProject(manySteps(), file.toStdString())) return out;
    MainWindow window(KETTLE_DATA_DIR);
    standOpen(window);
    bool isLit = false;
    QObject::connect(&window.pictures(), &PictureService::modelReady, &window, [&] { isLit = true; });
    EventWatch::begin();
    QElapsedTimer time;
    time.start();
    const auto now = [&] { return static_cast<double>(time.nsecsElapsed()) / 1e6; };
    if (!window.session().open(file)) return out;
    waitUntil([&] { return isLit; }, 120000);
    out["open"] = now();
    out["open-longest-event"] = EventWatch::longest();
    out["open-longest-event-own-time"] = EventWatch::longestOwn();
    settle(window);
    const std::string step = "s" + std::to_string(kMany / 2 - 1);
    window.session().selectStep(step);
    settle(window);
    EventWatch::begin();
    std::vector<double> times;
    for (int i = 0; i < 15; ++i) {
        isLit = false;
        time.restart();
        // As an event, as the hand's movement would be: it counts as one.
        const auto edit = [&] {
            window.session().setControl(step, "hue", 40.0 + i, window.session().newGesture());
        };
        QMetaObject::invokeMethod(&window, edit, Qt::QueuedConnection);
        waitUntil([&] { return isLit; }, 10000);
        times.push_back(now());
    }
    settle(window);
    out["edit"] = median(times);
    out["edit-longest-event"] = EventWatch::longest();
    out["edit-longest-event-own-time"] = EventWatch::longestOwn();
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    out["memory"] = static_cast<double>(usage.ru_maxrss) / 1024;
    return out;
}

}  // namespace kettle::bench
