// The batch tool where something is against it: sources in the way, devices, full disks, no memory, odd
// names, documents that contradict themselves.
#include <QDir>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

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
