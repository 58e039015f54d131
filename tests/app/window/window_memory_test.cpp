// What the window remembers from one start to the next.
#include "app/window/window_memory.h"

#include <QMenuBar>
#include <QSplitter>
#include <QTemporaryDir>
#include <fstream>

#include "app/board/finder.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class WindowMemoryTest final : public QObject, DemoWindow {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString at(const char* name) { return m_folder.filePath(QString::fromUtf8(name)); }
    void touch(const char* name) { std::ofstream(at(name).toStdString()) << "{}"; }
    QMenu* menuOf(const char* title) {
        for (const QAction* a : window().menuBar()->actions())
            if (a->text() == QString::fromUtf8(title)) return a->menu();
        return nullptr;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { m_window.reset(); }

    void projectsAreKeptNewestFirstEachOnce() {
        WindowMemory memory(at("a.ini"));
        QVERIFY(memory.projects().isEmpty());
        for (const char* name : {"one", "two", "three", "one"}) {
            touch(name);
            memory.addProject(at(name));
        }
        QCOMPARE(WindowMemory(at("a.ini")).projects(), QStringList({at("one"), at("three"), at("two")}));
        QFile::remove(at("three"));
        QCOMPARE(memory.projects(), QStringList({at("one"), at("two")}));
        for (int i = 0; i < 20; ++i) {
            const std::string name = "p" + std::to_string(i);
            touch(name.c_str());
            memory.addProject(at(name.c_str()));
        }
        QCOMPARE(memory.projects().size(), WindowMemory::kMostProjects);
        QCOMPARE(memory.projects().front(), at("p19"));
    }
    void aDamagedFileCountsAsNone() {
        std::ofstream(at("b.ini").toStdString()) << std::string("\x00\xff[shape\n0=@ByteArray(\n", 24);
        m_window = std::make_unique<MainWindow>(kData);
        window().remember(at("b.ini"));
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        QVERIFY(window().findChildren<QSplitter*>().front()->sizes().front() > 0);
    }
    void theNextWindowStandsAsThisOneDid() {
        const QString demo = kDemo;
        QVERIFY(openDemo());
        window().remember(at("c.ini"));
        QVERIFY(session().open(demo));
        window().resize(1100, 700);
        auto* columns = window().findChildren<QSplitter*>().front();
        columns->setSizes({700, 400});
        const QList<int> divided = columns->sizes();
        QTest::keyClick(&board(), Qt::Key_Slash);
        QTest::keyClicks(board().finder().findChild<QLineEdit*>(), QStringLiteral("Levels"));
        QTest::keyClick(board().finder().findChild<QLineEdit*>(), Qt::Key_Return);
        QVERIFY(session().shownStep(session().selectedStep())->type == "levels");
        session().undo();
        QTest::keyClick(&window(), Qt::Key_F11);  // the board alone: not how the next one should begin
        QVERIFY(window().close());

        QVERIFY(openDemo());
        window().remember(at("c.ini"));
        QCOMPARE(window().size(), QSize(1100, 700));
        QTRY_COMPARE(window().findChildren<QSplitter*>().front()->sizes(), divided);
        QVERIFY(window().tuner().isVisible());
        QCOMPARE(board().finder().recent(), QStringList({QStringLiteral("levels")}));
    }
    void aProjectIsOpenedAgainFromTheMenu() {
        touch("gone.palekettle");
        WindowMemory memory(at("d.ini"));
        memory.addProject(at("gone.palekettle"));
        memory.addProject(kDemo);
        QFile::remove(at("gone.palekettle"));
        m_window = std::make_unique<MainWindow>(kData);
        window().remember(at("d.ini"));
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        QMenu* file = menuOf("File");
        Q_EMIT file->aboutToShow();
        QAction* again = entryOf(*file, QStringLiteral("ferry-kitchen.palekettle  in  data"));
        QVERIFY(again != nullptr && again->isEnabled());
        again->trigger();
        QVERIFY(session().filePath().endsWith(QStringLiteral("ferry-kitchen.palekettle")));
        // What is open is not offered.
        Q_EMIT file->aboutToShow();
        QVERIFY(entryOf(*file, QStringLiteral("ferry-kitchen.palekettle  in  data")) == nullptr);
    }
};

QTEST_MAIN(WindowMemoryTest)
#include "window_memory_test.moc"
