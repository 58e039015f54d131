#include "core/exchange/kept_ramps.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/exchange/palette.h"

using namespace kettle;
namespace fs = std::filesystem;

class KeptRampsTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    fs::path folder() const { return fs::path(m_folder.path().toStdString()) / "ramps"; }
    static Ramp rust() {
        Ramp ramp;
        ramp.stops = {{0, {0.01f, 0, 0}}, {0.4f, {0.3f, 0.1f, 0.02f}}, {1, {0.8f, 0.6f, 0.3f}}};
        ramp.interpolation = RampInterpolation::Spline;
        ramp.mixing = RampMixing::Oklab;
        return ramp;
    }

private Q_SLOTS:
    void init() { fs::remove_all(folder()); }

    void aFolderThatIsNotThereKeepsNothing() {
        QVERIFY(keptRamps(folder()).ramps.empty());
        QVERIFY(keptRamps(folder()).problems.empty());
    }
    void whatIsKeptComesBackByName() {
        QVERIFY(keepRamp(folder(), " Galley rust ", rust()));
        QVERIFY(keepRamp(folder(), "Bilge", Ramp{}));
        const KeptRamps kept = keptRamps(folder());
        QCOMPARE(kept.ramps.size(), std::size_t{2});
        QCOMPARE(kept.ramps[0].name, std::string("Bilge"));
        QCOMPARE(kept.ramps[1].name, std::string("Galley rust"));
        QVERIFY(kept.ramps[1].ramp == rust());
        QCOMPARE(kept.ramps[1].file.filename().string(), std::string("galley-rust.ramp.json"));
        QVERIFY(isGrey(kept.ramps[0].ramp) && !isGrey(kept.ramps[1].ramp));
    }
    void theSameNameReplacesAndOthersNever() {
        QVERIFY(keepRamp(folder(), "Rust!", Ramp{}));
        QVERIFY(keepRamp(folder(), "Rust?", Ramp{}));  // the same letters, another name
        QVERIFY(keepRamp(folder(), "Rust?", rust()));
        const KeptRamps kept = keptRamps(folder());
        QCOMPARE(kept.ramps.size(), std::size_t{2});
        QVERIFY(kept.ramps[0].ramp == Ramp{});
        QVERIFY(kept.ramps[1].ramp == rust());
    }
    void namesThatAreNoFileNames() {
        QVERIFY(keepRamp(folder(), "../../etc/ümlaut", Ramp{}));
        QVERIFY(keepRamp(folder(), "水", Ramp{}));
        QCOMPARE(keptRamps(folder()).ramps.size(), std::size_t{2});
        QVERIFY(!keepRamp(folder(), "  ", Ramp{}));
    }
    void forgottenIsGone() {
        QVERIFY(keepRamp(folder(), "Rust", rust()));
        QVERIFY(forgetRamp(keptRamps(folder()).ramps.front()));
        QVERIFY(keptRamps(folder()).ramps.empty());
    }
    void aFileThatIsNoRampIsToldAndTheOthersGoOn() {
        QVERIFY(keepRamp(folder(), "Rust", rust()));
        const std::pair<const char*, const char*> bad[]{
            {"a.ramp.json", "{"},
            {"b.ramp.json", R"({"format": "pale-kettle-project"})"},
            {"c.ramp.json", R"({"format": "pale-kettle-ramp", "name": "x", "ramp": 3})"},
            {"d.ramp.json", R"({"format": "pale-kettle-ramp", "name": "x", "ramp": {"stops": []}})"},
            {"e.ramp.json", R"({"format": "pale-kettle-ramp", "ramp": {"stops": [{"at": 0, "grey": 1}]}})"},
            {"f.ramp.json", R"([7])"},
            {"g.ramp.json", R"({"format": 7})"},
            {"h.ramp.json",
             R"({"format": "pale-kettle-ramp", "version": 99, "name": "x", "ramp": {"stops": []}})"}};
        for (const auto& [name, text] : bad) QVERIFY(writeFileAtomically(folder() / name, text));
        QVERIFY(writeFileAtomically(folder() / "notes.txt", "no ramp and none of ours"));
        const KeptRamps kept = keptRamps(folder());
        QCOMPARE(kept.ramps.size(), std::size_t{1});
        QCOMPARE(kept.problems.size(), std::size(bad));
        QVERIFY(kept.problems[3].find("ramp.stops is empty") != std::string::npos);
        QVERIFY(kept.problems[5].find("it should be an object") != std::string::npos);
        QVERIFY(kept.problems[6].find("format should be a text") != std::string::npos);
        for (const std::string& p : kept.problems) QVERIFY(p.ends_with('.'));
    }
    void aFolderThatCannotBeMadeIsASentence() {
        std::ofstream(folder()) << "a file stands here";
        const auto done = keepRamp(folder(), "Rust", rust());
        QVERIFY(!done);
        QCOMPARE(done.error().kind, ErrorKind::Write);
    }
};

QTEST_GUILESS_MAIN(KeptRampsTest)
#include "kept_ramps_test.moc"
