// The one door for what is written: sources, devices, pipes and links that lead away are refused on the final
// name.
#include "core/base/protected_files.h"

#include <sys/stat.h>

#include <QTemporaryDir>
#include <QtTest>

using namespace kettle;
namespace fs = std::filesystem;

class ProtectedFilesTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    fs::path at(const std::string& name) const { return fs::path(m_dir.path().toStdString()) / name; }

private Q_SLOTS:
    void init() {
        fs::remove_all(at("in"));
        fs::remove_all(at("out"));
        fs::create_directories(at("in"));
        fs::create_directories(at("out"));
        QVERIFY(writeFileAtomically(at("in/map.png"), "source"));
    }
    void aSourceIsRefusedByEveryName() {
        ProtectedFiles files;
        files.add(at("in/map.png"));
        fs::create_hard_link(at("in/map.png"), at("out/hard.png"));
        fs::create_symlink(at("in/map.png"), at("out/soft.png"));
        fs::create_directory_symlink(at("in"), at("out/linked"));
        for (const char* name :
             {"in/map.png", "in/../in/./map.png", "out/hard.png", "out/soft.png", "out/linked/map.png"}) {
            const auto done = files.write(at(name), "other");
            QVERIFY2(!done, name);
            QCOMPARE(done.error().kind, ErrorKind::Refused);
        }
        QCOMPARE(*readFile(at("in/map.png")), std::string("source"));
        QVERIFY(files.write(at("out/new.png"), "other"));
        QCOMPARE(*readFile(at("out/new.png")), std::string("other"));
    }
    void aLinkThatLeadsOutOfItsFolderIsRefused() {
        QVERIFY(writeFileAtomically(at("in/else.png"), "else"));
        fs::create_symlink(at("in/else.png"), at("out/away.png"));
        fs::create_symlink(at("out/near.png"), at("out/beside.png"));
        const ProtectedFiles none;
        const auto done = none.write(at("out/away.png"), "other");
        QVERIFY(!done);
        QVERIFY(done.error().sentence.find("outside of its folder") != std::string::npos);
        QCOMPARE(*readFile(at("in/else.png")), std::string("else"));
        QVERIFY(none.write(at("out/beside.png"), "near"));
        QVERIFY(fs::is_symlink(at("out/beside.png")));
        // A project's own file may be a link; it is asked for sources alone.
        QVERIFY(none.mayReplace(at("out/away.png")));
    }
    void devicesPipesAndFoldersAreNoFiles() {
        QCOMPARE(mkfifo(at("out/pipe").c_str(), 0600), 0);
        const ProtectedFiles none;
        for (const fs::path& target :
             {fs::path("/dev/full"), fs::path("/dev/null"), at("out/pipe"), at("in")}) {
            const auto done = none.write(target, "x");
            QVERIFY2(!done, target.c_str());
            QVERIFY(done.error().sentence.find("not a file that could be replaced") != std::string::npos);
            QVERIFY(!writeFileAtomically(target, "x"));
        }
        struct stat facts {};
        QCOMPARE(stat("/dev/full", &facts), 0);
        QVERIFY(S_ISCHR(facts.st_mode));
    }
};

QTEST_GUILESS_MAIN(ProtectedFilesTest)
#include "protected_files_test.moc"
