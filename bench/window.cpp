// The window's figures, printed as JSON for the bench: a real window on the offscreen platform. A watchdog
// measures how long each event holds the window's thread.
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTemporaryDir>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <nlohmann/json.hpp>
#include <vector>

#include "app/board/board_view.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "bench/layered_project.h"
#include "bench/window_bench.h"
#include "core/document/edits.h"
#include "core/image/picture_library.h"

namespace {

using namespace kettle;
using namespace kettle::bench;

/// What this thread has computed so far, in ms: without the time that others took from it.
double ownMs() {
    timespec t{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return static_cast<double>(t.tv_sec) * 1e3 + static_cast<double>(t.tv_nsec) / 1e6;
}

/// How long this thread has stood ready without a core so far, in ms. The rest of an event's time that is not
/// its own it waited for other threads, or the machine had its cores elsewhere.
double readyMs() {
    unsigned long long ran = 0, ready = 0;
    if (std::FILE* f = std::fopen("/proc/thread-self/schedstat", "r")) {
        if (std::fscanf(f, "%llu %llu", &ran, &ready) != 2) ready = 0;
        std::fclose(f);
    }
    return static_cast<double>(ready) / 1e6;
}

/// Every event passes through here, so the longest one is known, by the clock and by what the thread itself
/// did.
class Watched final : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        if (m_depth > 0) return QApplication::notify(receiver, event);
        static const bool kTells = std::getenv("KETTLE_WATCH") != nullptr;
        ++m_depth;
        const double ready = kTells ? readyMs() : 0;
        QElapsedTimer time;
        time.start();
        const double ownBefore = ownMs();
        const bool done = QApplication::notify(receiver, event);
        const double ms = static_cast<double>(time.nsecsElapsed()) / 1e6, own = ownMs() - ownBefore;
        m_longest = std::max(m_longest, ms);
        m_longestOwn = std::max(m_longestOwn, own);
        if (ms > 8 && kTells)
            std::fprintf(stderr, "%.1f ms, %.1f its own, %.1f without a core: event %d of %s\n", ms, own,
                         readyMs() - ready, static_cast<int>(event->type()),
                         receiver->metaObject()->className());
        --m_depth;
        return done;
    }
    void begin() { m_longest = m_longestOwn = 0; }
    double longest() const { return m_longest; }
    double longestOwn() const { return m_longestOwn; }

private:
    int m_depth = 0;
    double m_longest = 0, m_longestOwn = 0;
};

}  // namespace

void kettle::bench::EventWatch::begin() {
    static_cast<Watched*>(qApp)->begin();
}
double kettle::bench::EventWatch::longest() {
    return static_cast<Watched*>(qApp)->longest();
}
double kettle::bench::EventWatch::longestOwn() {
    return static_cast<Watched*>(qApp)->longestOwn();
}

namespace {

/// Moves a slider and waits until the model's first new picture and the board's pictures are there.
std::vector<double> sliderTimes(MainWindow& window, const char* step, const char* control, int rounds) {
    std::vector<double> times;
    for (int i = 0; i < rounds; ++i) {
        bool model = false, board = false;
        const auto a =
            QObject::connect(&window.pictures(), &PictureService::modelReady, &window, [&] { model = true; });
        const auto b =
            QObject::connect(&window.pictures(), &PictureService::boardReady, &window, [&] { board = true; });
        QElapsedTimer time;
        time.start();
        window.session().setControl(step, control, 0.3 + 0.01 * i, window.session().newGesture());
        waitUntil([&] { return model && board; }, 5000);
        times.push_back(static_cast<double>(time.nsecsElapsed()) / 1e6);
        QObject::disconnect(a);
        QObject::disconnect(b);
        // Let what is finer begin, as it would under a hand.
        QEventLoop rest;
        QTimer::singleShot(16, &rest, &QEventLoop::quit);
        rest.exec();
    }
    return times;
}

/// The demo project with as many more steps as make 200.
Project longProject(Project p) {
    std::size_t count = 0;
    for (const auto& line : p.lines) count += line->steps.size();
    for (int i = 0; count < 200; ++i, ++count) {
        Line& line = p.lines[static_cast<std::size_t>(i) % 3].edit();
        Step s;
        s.id = "long" + std::to_string(i);
        s.type = line.kind == Kind::Colour ? "tone" : "levels";
        s.controls = line.kind == Kind::Colour ? Controls{{"exposure", 0.01}} : Controls{{"gamma", 1.01}};
        line.steps.emplace_back(std::move(s));
    }
    return p;
}

/// From bringing a folder in to the first lit picture, to the full one with everything read, and what held
/// the window's thread longest meanwhile; milliseconds.
nlohmann::ordered_json openFigures(Watched& application, const QString& folder) {
    nlohmann::ordered_json out;
    MainWindow window(KETTLE_DATA_DIR);
    standOpen(window);
    bool isLit = false, isFull = false;
    QObject::connect(&window.pictures(), &PictureService::modelReady, &window,
                     [&](quint64, const QImage&, int stage, const QString&) {
                         isLit = true;
                         isFull = isFull || stage >= 1;
                     });
    QObject::connect(&window.session(), &Session::mapsArrived, &window, [&] { isFull = false; });
    application.begin();
    QElapsedTimer time;
    time.start();
    const auto now = [&] { return static_cast<double>(time.nsecsElapsed()) / 1e6; };
    window.session().bringIn(folder);
    waitUntil([&] { return isLit; }, 60000);
    out["first"] = now();
    waitUntil([&] { return isFull && window.session().arrived().all == 0; }, 60000);
    out["complete"] = now();
    out["longest-event"] = application.longest();
    out["longest-event-own-time"] = application.longestOwn();
    settle(window);
    return out;
}

/// Twenty layers on eight channels under a slider of a mask, and a project with forty opened.
void layeredFigures(Watched& application, MainWindow& window, nlohmann::ordered_json& out) {
    window.session().setLook({});
    window.session().apply(layeredProject(KETTLE_DATA_DIR, 20, 8), QStringLiteral("Layers"));
    window.session().selectStep("mask-ramp");
    settle(window);
    application.begin();
    std::vector<double> times;
    for (int i = 0; i < 15; ++i) {
        bool board = false;
        const auto joined =
            QObject::connect(&window.pictures(), &PictureService::boardReady, &window, [&] { board = true; });
        QElapsedTimer time;
        time.start();
        window.session().setControl("mask-ramp", "ramp", bench::rampAt(0.2 + 0.02 * i),
                                    window.session().newGesture());
        waitUntil([&] { return board; }, 5000);
        times.push_back(static_cast<double>(time.nsecsElapsed()) / 1e6);
        QObject::disconnect(joined);
        QEventLoop rest;
        QTimer::singleShot(16, &rest, &QEventLoop::quit);
        rest.exec();
    }
    out["window-slider-to-board-20-layers"] = median(times);
    out["window-longest-event-20-layers"] = application.longest();
    out["window-longest-event-own-time-20-layers"] = application.longestOwn();
    QTemporaryDir folder;
    const std::string file = folder.filePath(QStringLiteral("forty.palekettle")).toStdString();
    if (!saveProject(layeredProject(KETTLE_DATA_DIR, 40, 8), file)) return;
    bool board = false, model = false;
    QObject::connect(&window.pictures(), &PictureService::boardReady, &window, [&] { board = true; });
    QObject::connect(&window.pictures(), &PictureService::modelReady, &window, [&] { model = true; });
    settle(window);
    board = model = false;
    QElapsedTimer time;
    time.start();
    if (!window.session().open(QString::fromStdString(file))) return;
    waitUntil([&] { return board && model; }, 30000);
    out["window-open-40-layers"] = static_cast<double>(time.nsecsElapsed()) / 1e6;
}

}  // namespace

int main(int argc, char** argv) {
    static_cast<void>(pictureLibrary());  // as the program does, before all else
    QElapsedTimer start;
    start.start();
    Watched application(argc, argv);
    theme::apply(application);
    if (argc == 3 && QString::fromLocal8Bit(argv[1]) == QStringLiteral("--open")) {
        std::printf("%s\n", openFigures(application, QString::fromLocal8Bit(argv[2])).dump().c_str());
        return 0;
    }
    if (argc == 3 && QString::fromLocal8Bit(argv[1]) == QStringLiteral("--tiles")) {
        std::printf("%s\n", tileFigures(QString::fromLocal8Bit(argv[2])).dump().c_str());
        return 0;
    }
    if (argc == 3 && QString::fromLocal8Bit(argv[1]) == QStringLiteral("--steps")) {
        std::printf("%s\n", stepFigures(QString::fromLocal8Bit(argv[2])).dump().c_str());
        return 0;
    }
    nlohmann::ordered_json out;
    MainWindow window(KETTLE_DATA_DIR);
    window.resize(1280, 800);
    window.show();
    if (!window.session().open(QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle"))) return 1;
    // Complete: model, flat and every card have a picture, if not yet the finest.
    bool board = false;
    QObject::connect(&window.pictures(), &PictureService::boardReady, &window, [&] { board = true; });
    waitUntil([&] { return window.model().shownStage() >= 1 && board && window.flat().isCurrent(); }, 30000);
    out["window-open-demo-to-complete"] = static_cast<double>(start.nsecsElapsed()) / 1e6;
    settle(window);
    window.session().setLook("celadon");
    window.session().selectStep("glaze");
    settle(window);
    application.begin();
    const auto demo = sliderTimes(window, "glaze", "value", 25);
    out["window-slider-to-board-and-model"] = median(demo);
    out["window-longest-event"] = application.longest();
    out["window-longest-event-own-time"] = application.longestOwn();
    window.session().apply(longProject(window.session().project()), QStringLiteral("Long"));
    settle(window);
    application.begin();
    const auto lengthy = sliderTimes(window, "glaze", "value", 15);
    out["window-slider-to-board-and-model-200-steps"] = median(lengthy);
    out["window-longest-event-200-steps"] = application.longest();
    out["window-longest-event-own-time-200-steps"] = application.longestOwn();
    layeredFigures(application, window, out);
    objectFigures(window, out);
    libraryFigures(window, out);
    std::printf("%s\n", out.dump().c_str());
    return 0;
}
