// What the files of the window's bench share.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>
#include <algorithm>
#include <nlohmann/json.hpp>
#include <vector>

#include "app/pictures/picture_service.h"
#include "app/window/main_window.h"

namespace kettle::bench {

/// Works on events as a window does, asleep between them, until something is so or the time is over.
template <class Condition>
void waitUntil(Condition&& isSo, int ms) {
    QElapsedTimer time;
    time.start();
    QTimer tick;  // wakes the loop, should no event come
    tick.start(20);
    while (!isSo() && time.elapsed() < ms) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
}

inline double median(std::vector<double> v) {
    std::sort(v.begin(), v.end());
    return v[v.size() / 2];
}

inline void settle(MainWindow& window) {
    QApplication::processEvents();
    waitUntil([&] { return window.isSettled(); }, 60000);
}

/// Shows an empty window that keeps maps prepared, and waits until it rests, as when somebody chooses a
/// folder.
inline void standOpen(MainWindow& window) {
    window.prepareIn(PreparedMaps::standardFolder());
    window.resize(1280, 800);
    window.show();
    QApplication::processEvents();
    waitUntil([&] { return window.pictures().isIdle(); }, 10000);
}

/// How long one event held the window's thread since begin(), in ms, by the clock and by what the thread
/// itself computed; kept by the bench's application.
struct EventWatch {
    static void begin();
    static double longest();
    static double longestOwn();
};

/// A project of ten thousand steps, written to `file` and opened: to the first picture, from an edit to the
/// next, the longest event, the most memory in MB.
nlohmann::ordered_json stepFigures(const QString& file);
/// A model of 10,000 objects: opened with its list, and what a choice of all of them costs.
void objectFigures(MainWindow& window, nlohmann::ordered_json& out);
/// A project of many tiles: first and complete picture in ms, a slider, the most memory in MB.
nlohmann::ordered_json tileFigures(const QString& project);
/// A library of 1,000 entries: opened, and found in as one types.
void libraryFigures(MainWindow& window, nlohmann::ordered_json& out);

}  // namespace kettle::bench
