// pale-kettle: the window.
#include <QApplication>
#include <QIcon>
#include <cstdio>
#include <cstdlib>
#include <memory>

#include "app/board/board_view.h"
#include "app/session/autosave.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/shots.h"
#include "app/window/window_memory.h"

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Pale Kettle"));
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/kettle.svg")));
    kettle::theme::apply(application);
    QStringList files;
    QString shots;
    const QStringList arguments = QApplication::arguments();
    for (qsizetype i = 1; i < arguments.size(); ++i) {
        if (arguments[i] == QStringLiteral("--shots") && i + 1 < arguments.size())
            shots = arguments[++i];
        else
            files << arguments[i];
    }
    const char* chosen = std::getenv("PALE_KETTLE_DATA");
    kettle::MainWindow window(chosen != nullptr ? chosen : KETTLE_DATA_DIR);
    if (shots.isEmpty()) {
        window.keepUnsavedWork(kettle::Autosave::standardFolder());
        window.remember(kettle::WindowMemory::standardFile());
    }
    window.show();
    window.board().setFocus();
    if (!files.isEmpty() && !window.session().open(files.front()) && !shots.isEmpty()) return 1;
    if (!shots.isEmpty()) {
        if (!kettle::takeShots(window, shots)) {
            std::fprintf(stderr, "Cannot save the pictures to %s. Check that the folder can be written.\n",
                         qPrintable(shots));
            return 1;
        }
        return 0;
    }
    return QApplication::exec();
}
