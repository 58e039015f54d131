// What the session promises about files: nobody's work is dropped, and what changed on the disk is seen.
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "app/session/session.h"
#include "app/session/source_watch.h"
#include "core/base/files.h"
#include "core/document/json.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

class TrustTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    QString at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)); }
    QString saved() const {
        const QString file = at("one.palekettle");
        QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
        return saveProject(twoLines(), file.toStdString()) ? file : QString();
    }

private Q_SLOTS:
    void aFileThatAnotherWindowSavedIsNotReplacedWithoutAWord() {
        const QString file = saved();
        Session first, second;
        QVERIFY(first.open(file));
        QVERIFY(second.open(file));
        QCOMPARE(first.concernOf(file), Session::SaveConcern::None);
        first.insertStep("base", 1, "tint");
        QVERIFY(first.save(file));
        // Its own saving is no other's.
        QCOMPARE(first.concernOf(file), Session::SaveConcern::None);
        QCOMPARE(second.concernOf(file), Session::SaveConcern::Changed);
        QCOMPARE(second.concernOf(at("elsewhere.palekettle")), Session::SaveConcern::None);
        QVERIFY(second.open(file));
        QCOMPARE(second.concernOf(file), Session::SaveConcern::None);
        QCOMPARE(second.project().findLine("base")->steps.size(), 3u);
    }
    void aFileThatIsGoneIsSimplyWritten() {
        const QString file = saved();
        Session s;
        QVERIFY(s.open(file));
        QVERIFY(QFile::remove(file));
        QCOMPARE(s.concernOf(file), Session::SaveConcern::None);
    }
    void aReadOnlyFileIsAskedAbout() {
        const QString file = saved();
        Session s;
        QVERIFY(s.open(file));
        QFile::setPermissions(file, QFile::ReadOwner);
        QCOMPARE(s.concernOf(file), Session::SaveConcern::ReadOnly);
        QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
    }
    void aSourceThatChangesIsToldOnceItIsWhole() {
        const fs::path file = at("map.png").toStdString();
        std::ofstream(file) << "first";
        SourceWatch watch([file] { return SourceWatch::Files{file}; }, std::chrono::milliseconds(40));
        QSignalSpy changed(&watch, &SourceWatch::changed);
        QTest::qWait(150);
        QCOMPARE(changed.size(), 0);
        // Written in three goes, each longer than a look takes.
        for (const char* more : {"a", "bb", "ccc"}) {
            std::ofstream(file, std::ios::app) << more;
            QTest::qWait(25);
        }
        QTRY_COMPARE(changed.size(), 1);
        QCOMPARE(changed[0][0].toStringList(), QStringList{QStringLiteral("map.png")});
        QVERIFY(watch.changing().isEmpty());
        QTest::qWait(150);
        QCOMPARE(changed.size(), 1);
    }
    void aFileThatIsAddedHasNotChanged() {
        const fs::path first = at("a.png").toStdString(), second = at("b.png").toStdString();
        std::ofstream(first) << "1";
        std::ofstream(second) << "2";
        SourceWatch::Files files{first};
        SourceWatch watch([&files] { return files; }, std::chrono::milliseconds(30));
        QSignalSpy changed(&watch, &SourceWatch::changed);
        QTest::qWait(100);
        files.push_back(second);
        QTest::qWait(150);
        QCOMPARE(changed.size(), 0);
        fs::remove(second);
        QTRY_COMPARE(changed.size(), 1);
    }
    void theSessionReadsAChangedMapAgain() {
        const fs::path maps = at("maps").toStdString();
        fs::create_directories(maps);
        QVERIFY(writePicture(maps / "m.png", 8, 8, 3, [](int, int, int) { return 255; }));
        Project p = twoLines();
        p.sets.emplace_back(TextureSet{"set", "Set", "maps", {{"base-colour", "m.png", "sRGB", {}}}, {}});
        p.lines[0].edit().steps[0] = Shared<Step>(mapStep("source", "base-colour"));
        const QString file = at("watched.palekettle");
        QVERIFY(saveProject(p, file.toStdString()));
        Session s;
        QVERIFY(s.open(file));
        QSignalSpy arrived(&s, &Session::mapsArrived), told(&s, &Session::sourcesChanged);
        QTest::qWait(1600);
        QCOMPARE(told.size(), 0);
        QVERIFY(writePicture(maps / "m.png", 16, 16, 3, [](int, int, int) { return 0; }));
        QTRY_COMPARE_WITH_TIMEOUT(told.size(), 1, 6000);
        QVERIFY(!arrived.isEmpty());
        const auto image = s.resources().map(*s.project().sets[0], s.project().sets[0]->maps[0]);
        QVERIFY(image.has_value());
        QCOMPARE((*image)->width(), 16);
    }
};

QTEST_GUILESS_MAIN(TrustTest)
#include "trust_test.moc"
