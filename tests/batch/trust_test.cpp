// The batch tool where something is against it: sources in the way, devices, full disks, no memory, odd
// names, documents that contradict themselves.
#include <QDir>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>
#include <map>

#include "core/base/files.h"
#include "core/document/json.h"
#include "core/image/image.h"
#include "tests/support/batch_tool.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

namespace {

const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

}  // namespace

class TrustTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)); }
    fs::path path(const char* name) const { return at(name).toStdString(); }
    /// A set of two maps in a folder of its own, and its project.
    QString made(const char* name) {
        const fs::path folder = path(name);
        fs::create_directories(folder);
        if (!writePicture(folder / "pan_basecolor.png", 8, 8, 3,
                          [](int x, int y, int c) { return x * 20 + y + c; }) ||
            !writePicture(folder / "pan_roughness.png", 8, 8, 1, [](int x, int, int) { return x * 30; }))
            return {};
        const QString project = at((std::string(name) + ".palekettle").c_str());
        return batch({QStringLiteral("new"), QString::fromStdString(folder.string()), QStringLiteral("-o"),
                      project})
                           .status == 0
                   ? project
                   : QString();
    }

private Q_SLOTS:
    void cleanupTestCase() { fs::remove_all(path("")); }  // Qt cannot remove names that are no UTF-8
    void sourcesAreSafeFromEveryCommand() {
        const QString project = made("safe");
        const fs::path map = path("safe/pan_basecolor.png");
        const std::string before = *readFile(map);
        fs::create_hard_link(map, path("hard.png"));
        fs::create_symlink(map, path("soft.png"));
        fs::create_directory_symlink(path("safe"), path("linked"));
        const QString refused = QStringLiteral("source maps, which are never written to");
        for (const char* target : {"safe/pan_basecolor.png", "hard.png", "soft.png",
                                   "linked/pan_basecolor.png", "safe/../safe/./pan_basecolor.png"}) {
            const Ran ran = batch({QStringLiteral("picture"), project, QStringLiteral("-o"), at(target),
                                   QStringLiteral("--size"), QStringLiteral("40x30")});
            QCOMPARE(ran.status, 1);
            QVERIFY2(ran.errors.contains(refused), target);
        }
        const Ran over = batch({QStringLiteral("new"), at("safe"), QStringLiteral("-o"),
                                at("safe/pan_basecolor.png"), QStringLiteral("--force")});
        QCOMPARE(over.status, 1);
        QVERIFY(over.errors.contains(refused));
        const Ran linked = batch({QStringLiteral("export"), project, QStringLiteral("--out"), at("linked"),
                                  QStringLiteral("--name"), QStringLiteral("pan_basecolor"),
                                  QStringLiteral("--channel"), QStringLiteral("base-colour")});
        QCOMPARE(linked.status, 1);
        QVERIFY(linked.errors.contains(refused));
        // Nor is the project itself pictured over.
        QCOMPARE(batch({QStringLiteral("picture"), project, QStringLiteral("-o"), project}).status, 1);
        QVERIFY(*readFile(map) == before);
    }
    void whatIsPrintedNowhereIsAFailure() {
        const QString full = QStringLiteral("/dev/full");
        for (const QStringList& command :
             {QStringList{QStringLiteral("info"), kDemo, QStringLiteral("--json")},
              {QStringLiteral("info"), kDemo},
              {QStringLiteral("probe"), kDemo, QStringLiteral("--line"), QStringLiteral("base-colour"),
               QStringLiteral("--uv"), QStringLiteral("0.5,0.5")},
              {QStringLiteral("steps")},
              {QStringLiteral("schema")},
              {QStringLiteral("check"), kDemo}}) {
            const Ran ran = batch(command, full);
            QVERIFY2(ran.status == 1, qPrintable(command.join(QLatin1Char(' '))));
            QVERIFY2(ran.errors.contains(QStringLiteral("Cannot print the result")), qPrintable(ran.errors));
        }
    }
    void devicesAreNoProjects() {
        const Ran zero = batch({QStringLiteral("info"), QStringLiteral("/dev/zero")});
        QCOMPARE(zero.status, 1);
        QVERIFY(zero.errors.contains(QStringLiteral("is a pipe or a device")));
    }
    void sizesThatCannotFitAreRefusedBefore() {
        constexpr rlim_t kLimit = rlim_t{3} << 30;
        const Ran maps = batch({QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("huge"),
                                QStringLiteral("--size"), QStringLiteral("65536")},
                               {}, kLimit);
        QCOMPARE(maps.status, 1);
        QVERIFY2(maps.errors.contains(QStringLiteral("Choose a size of ")), qPrintable(maps.errors));
        QVERIFY(!QDir(at("huge")).exists());
        const Ran picture = batch({QStringLiteral("picture"), kDemo, QStringLiteral("-o"), at("huge.png"),
                                   QStringLiteral("--size"), QStringLiteral("8192x8192")},
                                  {}, kLimit);
        QCOMPARE(picture.status, 1);
        QVERIFY2(picture.errors.contains(QStringLiteral("pixels a side or fewer")),
                 qPrintable(picture.errors));
    }
    void aScalarOnAColourChannelIsConvertedAndSaid() {
        const QString file = made("kinds");
        Project p = *loadProject(file.toStdString());
        for (auto& line : p.lines) {
            Line& l = line.edit();
            const Kind other = l.kind == Kind::Colour ? Kind::Scalar : Kind::Colour;
            l.kind = other;
        }
        QVERIFY(saveProject(p, file.toStdString()));
        for (const char* command : {"info", "check"}) {
            const Ran ran = batch({QString::fromLatin1(command), file});
            QVERIFY(ran.status >= 0);
            QVERIFY2((ran.output + ran.errors).contains(QStringLiteral("it is used as a grey")),
                     qPrintable(ran.errors));
            QVERIFY((ran.output + ran.errors).contains(QStringLiteral("its luminance is used")));
        }
        QVERIFY(batch({QStringLiteral("picture"), file, QStringLiteral("-o"), at("kinds.png"),
                       QStringLiteral("--size"), QStringLiteral("60x40")})
                    .status >= 0);
        QVERIFY(readImage(path("kinds.png")).has_value());
        const Ran maps = batch({QStringLiteral("export"), file, QStringLiteral("--out"), at("kinds-out")});
        QCOMPARE(maps.status, 0);
        QVERIFY(maps.errors.contains(QStringLiteral("warning: ")));
        QCOMPARE(readImage(path("kinds-out/kinds_as-received_base-colour.png"))->channels, 3);
        QCOMPARE(readImage(path("kinds-out/kinds_as-received_roughness.png"))->channels, 1);
        QCOMPARE(batch({QStringLiteral("export"), file, QStringLiteral("--out"), at("kinds-out"),
                        QStringLiteral("--strict")})
                     .status,
                 1);
    }
    void namesThatAreNoUtf8AreKept() {
        const fs::path folder = path("") / "caf\xe9";
        fs::create_directories(folder);
        QVERIFY(writePicture(folder / "t\xe9_basecolor.png", 4, 4, 3, [](int, int, int) { return 90; }));
        const fs::path project = path("latin.palekettle");
        // Arguments as bytes, which QProcess would turn into UTF-8.
        const std::string tool = batchTool().toStdString();
        const std::string command = tool + " new '" + folder.string() + "' -o '" + project.string() +
                                    "' && " + tool + " info --json '" + project.string() + "' > '" +
                                    path("latin.json").string() + "' && " + tool + " export '" +
                                    project.string() + "' --out '" + path("latin-out").string() + "'";
        QCOMPARE(std::system(command.c_str()), 0);
        QVERIFY(!QJsonDocument::fromJson(QByteArray::fromStdString(*readFile(path("latin.json")))).isNull());
        QVERIFY(loadProject(project)->sets[0]->folder == folder.string());
        QCOMPARE(QDir(at("latin-out")).entryList(QDir::Files).size(), 1);
    }
    /// Every file of a folder with its bytes.
    std::map<std::string, std::string> bytesIn(const fs::path& folder) {
        std::map<std::string, std::string> all;
        for (const auto& entry : fs::recursive_directory_iterator(folder))
            if (entry.is_regular_file()) all[entry.path().string()] = *readFile(entry.path());
        return all;
    }
    void texturesThatBecameSourcesAreNotReplaced() {
        const QString project = made("first");
        for (const char* format : {"gltf", "mtlx-baked"}) {
            const QString out = at((std::string("m-") + format).c_str()),
                          again = out + QStringLiteral(".palekettle");
            const QStringList command{QStringLiteral("materials"), QString(),
                                      QStringLiteral("--format"),  QString::fromLatin1(format),
                                      QStringLiteral("--out"),     out,
                                      QStringLiteral("--size"),    QStringLiteral("64"),
                                      QStringLiteral("--name"),    QStringLiteral("pan")};
            const auto of = [&](const QString& which) {
                QStringList full = command;
                full[1] = which;
                return full;
            };
            const Ran first = batch(of(project));
            QVERIFY2(first.status == 0, qPrintable(first.errors));
            // The maps that were written are the sources of the next project.
            fs::path maps = out.toStdString();
            for (const auto& entry : fs::recursive_directory_iterator(maps))
                if (entry.path().extension() == ".png") maps = entry.path().parent_path();
            const Ran made = batch(
                {QStringLiteral("new"), QString::fromStdString(maps.string()), QStringLiteral("-o"), again});
            QVERIFY2(QFileInfo::exists(again), qPrintable(made.errors));
            const auto before = bytesIn(out.toStdString());
            const Ran second = batch(of(again));
            QCOMPARE(second.status, 1);
            QVERIFY2(second.errors.contains(QStringLiteral("never written to")), qPrintable(second.errors));
            QVERIFY(bytesIn(out.toStdString()) == before);
        }
    }
    void aFrameThatIsASourceIsNotReplaced() {
        const QString project = made("frames");
        fs::rename(path("frames/pan_basecolor.png"), path("frames/s.0001.png"));
        auto changed = loadProject(project.toStdString());
        QVERIFY(changed.has_value());
        for (auto& map : changed->sets[0].edit().maps)
            if (map.role == "base-colour") map.file = "s.0001.png";
        QVERIFY(saveProject(*changed, project.toStdString()));
        const std::string before = *readFile(path("frames/s.0001.png"));
        const Ran ran = batch({QStringLiteral("sheet"), project, QStringLiteral("--frames"),
                               QStringLiteral("2"), QStringLiteral("-o"), at("frames/s.png"),
                               QStringLiteral("--size"), QStringLiteral("40x30")});
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.errors.contains(QStringLiteral("never written to")), qPrintable(ran.errors));
        QCOMPARE(*readFile(path("frames/s.0001.png")), before);
    }
    void aPlanWhoseFolderBecameTheSourcesIsNotBaked() {
        const QString project = made("baked");
        const Ran planned =
            batch({QStringLiteral("plan"), project, QStringLiteral("--out"), at("bake-out"),
                   QStringLiteral("--name"), QStringLiteral("pan_basecolor"), QStringLiteral("--channel"),
                   QStringLiteral("base-colour"), QStringLiteral("-o"), at("bake.json")});
        QVERIFY2(planned.status == 0, qPrintable(planned.errors));
        const std::string before = *readFile(path("baked/pan_basecolor.png"));
        fs::remove_all(path("bake-out"));
        fs::create_directory_symlink(path("baked"), path("bake-out"));
        const Ran ran = batch({QStringLiteral("bake"), at("bake.json")});
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.errors.contains(QStringLiteral("never written to")), qPrintable(ran.errors));
        QCOMPARE(*readFile(path("baked/pan_basecolor.png")), before);
    }
    void aDeviceIsNoPicture() {
        const Ran ran =
            batch({QStringLiteral("picture"), made("device"), QStringLiteral("-o"),
                   QStringLiteral("/dev/full"), QStringLiteral("--size"), QStringLiteral("40x30")});
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.errors.contains(QStringLiteral("is a device or a pipe")), qPrintable(ran.errors));
        QVERIFY(fs::is_character_file("/dev/full"));
    }
    void aPlanThatNestsWithoutEndIsASentence() {
        std::ofstream(path("deep.json")) << std::string(100000, '[') << std::string(100000, ']');
        for (const char* command : {"status", "bake", "collect"}) {
            const Ran ran = batch({QString::fromLatin1(command), at("deep.json")});
            QCOMPARE(ran.status, 1);
            QVERIFY2(ran.errors.contains(QStringLiteral("levels deep")), qPrintable(ran.errors));
        }
    }
    void littleMemoryIsASentence() {
        // Whatever the limit, the tool ends by itself: with the picture, or with a sentence.
        for (const int megabytes : {200, 260, 320, 400}) {
            const Ran ran = batch({QStringLiteral("picture"), kDemo, QStringLiteral("-o"), at("small.png"),
                                   QStringLiteral("--size"), QStringLiteral("60x40")},
                                  {}, rlim_t(megabytes) << 20);
            QVERIFY2(ran.status == 0 || ran.status == 1, qPrintable(QString::number(megabytes)));
        }
    }
    void upgradingKeepsEveryResultUnlessNewStepsAreAskedFor() {
        Project p =
            colourThrough({0.2f, 0.4f, 0.1f}, step("s", "hsv-shift", {{"hue", 40.0}, {"value", 0.5}}));
        for (auto& s : p.lines[0].edit().steps) s.edit().version = 1;
        QVERIFY(saveProject(p, path("old.palekettle")));
        const QString old = at("old.palekettle"), kept = at("kept.palekettle"),
                      renewed = at("new.palekettle");
        const Ran plain = batch({QStringLiteral("upgrade"), old, QStringLiteral("-o"), kept});
        QCOMPARE(plain.status, 0);
        QVERIFY(plain.output.contains(QStringLiteral("1 steps keep what they computed before.")));
        QCOMPARE(batch({QStringLiteral("upgrade"), old, QStringLiteral("-o"), kept}).status,
                 1);  // it is there already
        QCOMPARE(batch({QStringLiteral("upgrade"), old, QStringLiteral("-o"), renewed,
                        QStringLiteral("--newest-steps")})
                     .status,
                 0);
        const auto probed = [&](const QString& file) {
            return batch({QStringLiteral("probe"), file, QStringLiteral("--line"), QStringLiteral("base"),
                          QStringLiteral("--uv"), QStringLiteral("0.5,0.5")})
                .output;
        };
        QCOMPARE(probed(kept), probed(old));
        QVERIFY(probed(renewed) != probed(old));
    }
    void aNameWithASlashIsRefused() {
        const QString project = made("slash");
        for (const QStringList& command :
             {QStringList{QStringLiteral("export"), project, QStringLiteral("--out"), at("s-out"),
                          QStringLiteral("--name"), QStringLiteral("a/{channel}")},
              {QStringLiteral("materials"), project, QStringLiteral("--out"), at("s-out"),
               QStringLiteral("--name"), QStringLiteral("a/b")}}) {
            const Ran ran = batch(command);
            QCOMPARE(ran.status, 1);
            QVERIFY2(ran.errors.contains(QStringLiteral("which no name of a file can have")),
                     qPrintable(ran.errors));
        }
    }
    void longLinesAreNoDepth() {
        Project p;
        Line l = line("long", Kind::Colour, "base-colour", {step("s0", "colour")});
        for (int i = 1; i <= 15000; ++i)
            l.steps.emplace_back(
                step("s" + std::to_string(i), "hsv-shift", {{"hue", static_cast<double>(i % 7)}}));
        p.lines.emplace_back(std::move(l));
        QVERIFY(saveProject(p, path("long.palekettle")));
        for (const QStringList& command :
             {QStringList{QStringLiteral("info"), at("long.palekettle")},
              {QStringLiteral("probe"), at("long.palekettle"), QStringLiteral("--line"),
               QStringLiteral("long"), QStringLiteral("--uv"), QStringLiteral("0.5,0.5")}})
            QCOMPARE(batch(command).status, 0);
        // And no memory: without batches of steps the checks of this line took 3 GB.
        QCOMPARE(batch({QStringLiteral("check"), at("long.palekettle")}, {}, rlim_t{2000} << 20).status, 0);
    }
    void alphaIsExported() {
        fs::create_directories(path("glass"));
        QVERIFY(writePicture(path("glass/pan_basecolor.png"), 4, 4, 4,
                             [](int x, int, int c) { return c == 3 ? x * 60 : 100; }));
        QCOMPARE(
            batch({QStringLiteral("new"), at("glass"), QStringLiteral("-o"), at("glass.palekettle")}).status,
            0);
        QCOMPARE(batch({QStringLiteral("export"), at("glass.palekettle"), QStringLiteral("--out"),
                        at("glass-out")})
                     .status,
                 0);
        QVERIFY(readImage(path("glass-out/glass_as-received_base-colour.png"))->bytes ==
                readImage(path("glass/pan_basecolor.png"))->bytes);
        const Ran jpeg = batch({QStringLiteral("export"), at("glass.palekettle"), QStringLiteral("--out"),
                                at("glass-out"), QStringLiteral("--format"), QStringLiteral("jpeg")});
        QCOMPARE(jpeg.status, 0);
        QVERIFY(jpeg.errors.contains(QStringLiteral("has no alpha, since JPEG holds none.")));
    }
    void wrongChoicesAreSentences() {
        const Ran ran = batch({QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("no"),
                               QStringLiteral("--compression"), QStringLiteral("tiny")});
        QCOMPARE(ran.status, 1);
        QVERIFY(
            ran.errors.contains(QStringLiteral("\"tiny\" is no compression. Choose fast, small or none.")));
    }
};

QTEST_GUILESS_MAIN(TrustTest)
#include "trust_test.moc"
