#include "core/exchange/relink.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/document/json.h"
#include "core/engine/resources.h"
#include "core/exchange/recognise.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class RelinkTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;

    fs::path path() const { return m_dir.path().toStdString(); }

private Q_SLOTS:
    void whatWasMovedIsFoundByItsName() {
        fs::create_directories(path() / "old");
        for (const char* file : {"sail_color.1001.png", "sail_color.1002.png", "sail_rough.1001.png"})
            QVERIFY(writePicture(path() / "old" / file, 8, 8, 3, [](int x, int, int) { return x * 9; }));
        QVERIFY(writePicture(path() / "old" / "sail_height.png", 8, 8, 1, [](int x, int, int) { return x; }));
        Project p = projectFromFolder(path() / "old")->project;
        p.view.model = writeStove(path() / "old").string();
        QVERIFY(missingFiles(p).empty());
        // Everything moves into another folder, the tiles one deeper; one map is lost.
        fs::create_directories(path() / "new" / "deep");
        for (const char* file : {"sail_color.1001.png", "sail_color.1002.png", "sail_rough.1001.png"})
            fs::rename(path() / "old" / file, path() / "new" / "deep" / file);
        fs::rename(path() / "old" / "galley-stove.obj", path() / "new" / "galley-stove.obj");
        fs::remove(path() / "old" / "sail_height.png");
        QCOMPARE(missingFiles(p).size(), std::size_t{4});
        const Relinked now = lookInFolder(p, path() / "new");
        QCOMPARE(now.found, 3);
        QCOMPARE(now.missing.size(), std::size_t{1});
        QCOMPARE(now.missing[0].filename().string(), std::string("sail_height.png"));
        QCOMPARE(fs::path(now.project.view.model), path() / "new" / "galley-stove.obj");
        const Resources resources(path());
        QCOMPARE(resources.problemsOf(now.project).size(), std::size_t{1});
        QVERIFY(now.project.lines == p.lines);
        // Nothing is missing: nothing changes.
        QVERIFY(lookInFolder(now.project, path() / "old").project == now.project);
    }
    void theNearestOfTwoCounts() {
        fs::create_directories(path() / "a" / "b");
        for (const fs::path& where : {path() / "a", path() / "a" / "b"})
            QVERIFY(writePicture(where / "oar.png", 8, 8, 3, [](int x, int, int) { return x * 9; }));
        Project p;
        TextureSet set;
        set.id = "oar";
        set.folder = (path() / "gone").string();
        set.maps.push_back({"base-colour", "oar.png", "auto", {}});
        p.sets.emplace_back(std::move(set));
        const Relinked now = lookInFolder(p, path() / "a");
        QCOMPARE(
            (fs::path(now.project.sets[0]->folder) / now.project.sets[0]->maps[0].file).lexically_normal(),
            path() / "a" / "oar.png");
        QCOMPARE(lookInFolder(p, path() / "nowhere").found, 0);
    }
};

QTEST_GUILESS_MAIN(RelinkTest)
#include "relink_test.moc"
