// pale-kettle: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <cstdio>
#include <cstdlib>
#include <memory>

#include "app/board/board_view.h"
#include "app/library/library_shelf.h"
#include "app/session/autosave.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/report.h"
#include "app/window/shots.h"
#include "app/window/window_memory.h"
#include "core/base/machine.h"
#include "core/image/picture_library.h"

namespace {

/// What is thrown in a slot ends there: it is told, and the work stays open.
class Application final : public QApplication {
public:
    using QApplication::QApplication;
    void tellIn(kettle::MainWindow* window) { m_window = window; }
    bool notify(QObject* receiver, QEvent* event) override {
        try {
            return QApplication::notify(receiver, event);
        } catch (...) {
            const kettle::Error error = kettle::errorOfException("do that");
            std::fprintf(stderr, "%s [%s]\n", error.sentence.c_str(), error.detail.c_str());
            if (m_window != nullptr)
                Q_EMIT m_window->session().told(QString::fromStdString(error.sentence), true);
            return false;
        }
    }

private:
    kettle::MainWindow* m_window = nullptr;
};

}  // namespace

int main(int argc, char** argv) {
    Application application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Pale Kettle"));
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/kettle.svg")));
    kettle::theme::apply(application);
    QCommandLineParser words;
    const QCommandLineOption version(QStringLiteral("version"), QStringLiteral("what it is")),
        help(QStringLiteral("help"), QStringLiteral("this")),
        shotsTo(QStringLiteral("shots"), QStringLiteral("pictures of the views"), QStringLiteral("folder"));
    words.addOptions({version, help, shotsTo});
    words.process(application);
    if (words.isSet(version) || words.isSet(help)) {
        std::printf("Pale Kettle %s\n", kettle::programVersion().c_str());
        if (words.isSet(help))
            std::printf(
                "pale-kettle [FILE…]   opens a project, or brings in maps and models\n"
                "  --version           what it is\n  --help              this\n");
        return 0;
    }
    const QStringList files = words.positionalArguments();
    const QString shots = words.value(shotsTo);
    // The light needs it: loaded later it would hold up whoever loads or forks meanwhile.
    static_cast<void>(kettle::pictureLibrary());
    kettle::MainWindow window(kettle::programData(KETTLE_DATA_DIR));
    application.tellIn(&window);
    if (shots.isEmpty()) {
        window.keepUnsavedWork(kettle::Autosave::standardFolder());
        window.learnNamesIn(kettle::LibraryShelf::standardFolder() / "names.json");
        window.keepLog(kettle::Report::standardFile());
        window.remember(kettle::WindowMemory::standardFile());
        if (const auto cache = kettle::PreparedMaps::standardFolder(); !cache.empty())
            window.prepareIn(cache);
    }
    window.begin(shots.isEmpty() ? files : QStringList());
    if (!shots.isEmpty() && (files.isEmpty() || !window.session().open(files.front()))) return 1;
    if (!shots.isEmpty()) {
        if (!kettle::takeShots(window, shots)) {
            std::fprintf(stderr, "Cannot save the pictures to %s. Check that the folder can be written.\n",
                         qPrintable(shots));
            return 1;
        }
        application.tellIn(nullptr);
        return 0;
    }
    const int ended = QApplication::exec();
    application.tellIn(nullptr);
    return ended;
}
