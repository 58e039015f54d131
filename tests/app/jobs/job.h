// A job: what an artist comes to do, from one of the two starts, with a check that fails before and holds
// after.
#pragma once

#include <QDir>
#include <QLineEdit>
#include <QScrollArea>
#include <QTemporaryDir>
#include <QToolButton>
#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <string_view>

#include "app/fields/number_field.h"
#include "core/analysis/sampling.h"
#include "core/document/layers.h"
#include "tests/app/jobs/hand.h"

namespace kettle::jobs {

/// To inherit from beside QObject. A test function calls startEmpty() or startDemo(), sets the check, and
/// does the job.
class Job {
protected:
    std::unique_ptr<MainWindow> m_window;
    std::unique_ptr<ActionCounter> m_counter;
    std::unique_ptr<Guard> m_guard;
    std::unique_ptr<Hand> m_hand;
    std::unique_ptr<QTemporaryDir> m_folder;

    MainWindow& window() { return *m_window; }
    Hand& hand() { return *m_hand; }
    /// To be read, never to be changed by a call: the guard names what was.
    const Session& session() const { return m_window->session(); }
    const Project& project() const { return session().project(); }

    /// The program as it starts for the first time: no project, folders of its own.
    bool startEmpty() { return start({}); }
    /// The ferry's kitchen as the program opens it when it is started with that file; in a folder of its own,
    /// since what is exported goes beside it.
    bool startDemo() { return start({QStringLiteral("demo/ferry-kitchen.palekettle")}); }
    /// Closed without saving and begun anew, empty, with what it keeps beside projects.
    bool startAgain() {
        close();
        QDir(own(QStringLiteral("unsaved"))).removeRecursively();
        return open({});
    }
    void end() {
        close();
        m_folder.reset();
    }
    /// A file or folder of the artist's, in the job's own folder.
    QString own(const QString& name) const { return m_folder->filePath(name); }

    /// What is asked of the result: empty if it holds, else what is wrong. It must fail before the first
    /// action.
    using Check = std::function<QString()>;
    void setCheck(Check check) {
        m_check = std::move(check);
        m_before = m_check();
        m_counter->beginAnew();
    }
    /// Prints the job's line and tells whether all held: the check before and after, the guard, and the
    /// count, which is recorded so that one that falls is looked at as one that rises.
    bool done(int number, int recorded) {
        const int actions = m_counter->actions();
        qInfo("JOB %d|%d", number, actions);
        const QString after = m_check();
        if (m_before.isEmpty()) qWarning("The check holds before anything is done.");
        if (!after.isEmpty()) qWarning("After the job: %s", qPrintable(after));
        for (const QString& fault : m_guard->faults())
            qWarning("Without a hand %s changed.", qPrintable(fault));
        if (actions != recorded) qWarning("%d actions, recorded are %d.", actions, recorded);
        return !m_before.isEmpty() && after.isEmpty() && m_guard->faults().isEmpty() && actions == recorded;
    }

    /// A channel's line (of the first surface) at its end, over a grid of the whole square: `components`
    /// planes from the top row down, linear or raw. Empty without such a line.
    std::vector<std::vector<float>> planesOf(const std::string& channel, int side = 64,
                                             const std::string& look = {}) const {
        const Line* line = project().lineOfChannel(channel);
        if (line == nullptr) return {};
        const int components = line->kind == Kind::Scalar ? 1 : 3;
        const Sampled s =
            sampleWants(project(), project().findLook(look.empty() ? session().look() : look),
                        {{line->id, "", components}}, session().resources(), PointSet::grid(side, side));
        std::vector<std::vector<float>> planes;
        for (int c = 0; c < components; ++c) {
            const float* plane = s.plane(0, static_cast<std::size_t>(c));
            planes.emplace_back(plane, plane + s.count);
        }
        return planes;
    }
    /// A picture's own pixels, shrunk to the same grid by plain means of blocks: as displayed (0..1), four
    /// components.
    static std::vector<std::array<double, 4>> pixelsOf(const QString& file, int side = 64) {
        const QImage image = QImage(file).convertToFormat(QImage::Format_RGBA8888);
        std::vector<std::array<double, 4>> pixels;
        const int w = image.width() / side, h = image.height() / side;
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x) {
                std::array<double, 4> mean{};
                for (int j = 0; j < h; ++j)
                    for (int i = 0; i < w; ++i) {
                        const auto* p = image.constScanLine(y * h + j) + 4 * (x * w + i);
                        for (std::size_t c = 0; c < 4; ++c) mean[c] += p[c] / 255.0 / (w * h);
                    }
                pixels.push_back(mean);
            }
        return pixels;
    }
    template <class W>
    W* inTuner(const char* name) {
        return window().tuner().findChild<W*>(QString::fromLatin1(name));
    }
    /// A number or a hex typed into a field of the tuner: the click, the entry.
    bool write(const char* name, const char* entry) {
        auto* field = inTuner<QLineEdit>(name);
        if (field == nullptr) return false;
        bringIntoView(*field);
        hand().click(*field);
        hand().type(QString::fromLatin1(entry));
        return hand().look();
    }
    /// One drag of a slider of the tuner.
    bool slide(const char* name, double to) {
        auto* slider = inTuner<ValueSlider>(name);
        if (slider == nullptr) return false;
        bringIntoView(*slider);
        const int y = slider->height() / 2;
        hand().drag(*slider, QPoint(static_cast<int>(slider->positionOf(slider->value())), y),
                    QPoint(static_cast<int>(slider->positionOf(to)), y));
        return hand().look();
    }
    /// Scrolling is looking, and free.
    void bringIntoView(QWidget& row) {
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(&row);
    }
    /// A chip of the board's foot, or the entry that it has become where there is no room.
    bool addLineFor(const QString& channel) {
        QToolButton* more = nullptr;
        for (auto* chip : window().board().foot().findChildren<QToolButton*>()) {
            if (chip->menu() != nullptr) more = chip;
            if (chip->text() != channel || !chip->isVisible()) continue;
            hand().click(*chip);
            return hand().look();
        }
        return more != nullptr && hand().chooseFrom(*more, channel) && hand().look();
    }
    void clickCard(const std::string& step) {
        hand().click(window().board(), window().board().cardRect(step).center());
    }

private:
    void close() {
        m_hand.reset();
        m_guard.reset();
        m_counter.reset();
        m_window.reset();
    }
    bool start(const QStringList& given) {
        m_folder = std::make_unique<QTemporaryDir>();
        if (!copyInto(KETTLE_DATA_DIR "/../../tests/app/jobs/files", {}) ||
            (!given.isEmpty() && !copyInto(KETTLE_DATA_DIR, QStringLiteral("demo"))))
            return false;
        qputenv("XDG_DATA_HOME", own(QStringLiteral("kept")).toUtf8());
        QStringList files;
        for (const QString& file : given) files << own(file);
        return open(files);
    }
    bool open(const QStringList& files) {
        static const QTemporaryDir prepared;
        m_window = std::make_unique<MainWindow>(std::filesystem::path(KETTLE_DATA_DIR));
        m_window->resize(1280, 800);
        m_window->keepUnsavedWork(own(QStringLiteral("unsaved")));
        m_window->learnNamesIn(own(QStringLiteral("kept/names.json")).toStdString());
        m_window->prepareIn(prepared.path().toStdString());
        m_window->begin(files);
        const bool isShown = QTest::qWaitForWindowExposed(m_window.get()) &&
                             QTest::qWaitFor([this] { return m_window->isSettled(); }, 60000);
        m_counter = std::make_unique<ActionCounter>();
        m_guard = std::make_unique<Guard>(*m_window);
        m_hand = std::make_unique<Hand>(*m_window, *m_guard);
        return isShown;
    }
    bool copyInto(const std::filesystem::path& from, const QString& name) const {
        std::error_code code;
        std::filesystem::copy(from, own(name).toStdString(), std::filesystem::copy_options::recursive, code);
        return !code;
    }
    Check m_check;
    QString m_before;
};

}  // namespace kettle::jobs
