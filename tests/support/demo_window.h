// The whole window on the demo project, for tests that work in it as an artist does.
#pragma once

#include <QMenu>
#include <QTemporaryDir>
#include <QtTest>
#include <memory>

#include "app/board/board_view.h"
#include "app/tuner/tuner_view.h"
#include "app/window/main_window.h"
#include "app/window/message_bar.h"
#include "core/analysis/board_pictures.h"
#include "core/document/layers.h"
#include "tests/support/pointer.h"

namespace kettle::test {

inline const std::filesystem::path kData = KETTLE_DATA_DIR;
inline const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

/// To inherit from beside QObject; init() and cleanup() belong into the slots of the same names.
class DemoWindow {
protected:
    std::unique_ptr<MainWindow> m_window;
    MainWindow& window() { return *m_window; }
    Session& session() { return m_window->session(); }
    BoardView& board() { return m_window->board(); }

    /// A new window with the demo project, shown. As on an artist's machine, light and models lie prepared
    /// when it was open before.
    bool openDemo() {
        static const QTemporaryDir prepared;
        m_window = std::make_unique<MainWindow>(kData);
        window().prepareIn(prepared.path().toStdString());
        window().show();
        const bool opened = QTest::qWaitForWindowExposed(&window()) && session().open(kDemo);
        QCoreApplication::processEvents();
        return opened;
    }
    bool settled() {
        return QTest::qWaitFor([this] { return window().isSettled(); }, 60000);
    }
    QString message() { return window().findChild<MessageBar*>()->text(); }
    void clickCard(const std::string& step, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseClick(&board(), Qt::LeftButton, keys, board().cardRect(step).center());
    }
    /// Without what layers lay there.
    QStringList stepsOf(const char* line) {
        QStringList ids;
        for (const auto& s : session().project().findLine(line)->steps)
            if (layerOf(*s).empty()) ids << QString::fromStdString(s->id);
        return ids;
    }
    /// A widget of the tuner by its object's name.
    template <class W>
    W* control(const char* name) {
        return window().tuner().findChild<W*>(QString::fromUtf8(name));
    }
    StepView viewOf(const Step& s) {
        return {*shippedSteps().find(s.type), s, session().selectedLine()->kind};
    }
    double number(const char* step, const char* control) {
        const Step s = *session().shownStep(step);
        return StepView(*shippedSteps().find(s.type), s, Kind::Colour)[NumberHandle{control}];
    }
    /// The finder's way: a slash, a word, Enter. `hands` counts.
    template <class Hands>
    bool addByFinder(Hands& hands, const QString& word) {
        board().setFocus();
        hands.chord(Qt::Key_Slash);
        hands.type(word);
        // Without a window manager nobody gives the window the keys back when the finder closes.
        window().activateWindow();
        return QTest::qWaitForWindowActive(&window());
    }
    /// What a line gives in the look in force, at a place; by its channel or its id.
    Vec3 valueAt(const std::string& line, float u, float v) {
        const Line* of = session().project().lineOfChannel(line);
        const auto p = probe(session().project(), session().look(), of != nullptr ? of->id : line, "", u, v,
                             session().resources());
        return p ? Vec3{p->linear[0], p->linear[1], p->linear[2]} : Vec3{-9, -9, -9};
    }
    /// The entry of a menu (or of its submenus) with these words; null if there is none.
    static QAction* entryOf(const QMenu& menu, const QString& words) {
        for (QAction* action : menu.actions()) {
            if (action->text() == words) return action;
            if (action->menu() != nullptr)
                if (QAction* inner = entryOf(*action->menu(), words)) return inner;
        }
        return nullptr;
    }
};

}  // namespace kettle::test
