// The batch tool as a process: what it prints, what it writes, and its exit status.
#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>

#include "core/base/files.h"
#include "core/document/json.h"
#include "core/document/recipe_edits.h"
#include "core/image/image.h"
#include "core/steps/step.h"
#include "tests/support/batch_tool.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

}  // namespace

class BatchTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)); }
    std::filesystem::path path(const char* name) const { return at(name).toStdString(); }

private Q_SLOTS:
    void aFolderBecomesAProject() {
        const Ran made = batch({QStringLiteral("new"), QStringLiteral(KETTLE_DATA_DIR "/enamel_kettle"),
                                QStringLiteral("-o"), at("new.palekettle")});
        QCOMPARE(made.status, 0);
        QVERIFY(made.output.contains(QStringLiteral("The gloss map was inverted to make roughness of it")));
        const Ran info = batch({QStringLiteral("info"), at("new.palekettle"), QStringLiteral("--json")});
        QCOMPARE(info.status, 0);
        const QJsonArray maps =
            info.json()[QStringLiteral("sets")].toArray()[0].toObject()[QStringLiteral("maps")].toArray();
        QCOMPARE(maps.size(), 8);
        for (const auto& m : maps) {
            const QJsonObject map = m.toObject();
            const QString role = map[QStringLiteral("role")].toString();
            QCOMPARE(map[QStringLiteral("encoding")].toString(),
                     role == QStringLiteral("base-colour") ? QStringLiteral("sRGB") : QStringLiteral("raw"));
            QCOMPARE(map[QStringLiteral("inverted")].toBool(), role == QStringLiteral("gloss"));
        }
        const Ran again = batch({QStringLiteral("new"), QStringLiteral(KETTLE_DATA_DIR "/rattan"),
                                 QStringLiteral("-o"), at("new.palekettle")});
        QCOMPARE(again.status, 1);
        QVERIFY(again.errors.contains(
            QStringLiteral("is there already. Choose another name, or add --force to replace it.")));
    }
    void recipesAreToldAndSetByTheirControls() {
        // A line with the shipped Wetter behind its colour.
        const auto text =
            readFile(std::filesystem::path(KETTLE_DATA_DIR) / "library/recipes/wetter.recipe.json");
        QVERIFY(text);
        const auto recipe = recipeFromText(*text, "wetter");
        QVERIFY(recipe);
        Project p = twoLines();
        std::string id;
        p = edits::takeRecipe(p, *recipe, id);
        p.lines[0].edit().steps.emplace_back(step("wet", "recipe:" + id));
        QVERIFY(saveProject(p, path("wet.palekettle")));
        const Ran info = batch({QStringLiteral("info"), at("wet.palekettle"), QStringLiteral("--json")});
        QCOMPARE(info.status, 0);
        const QJsonArray steps =
            info.json()[QStringLiteral("lines")].toArray()[0].toObject()[QStringLiteral("steps")].toArray();
        const QJsonObject told = steps.last().toObject()[QStringLiteral("recipe")].toObject();
        QCOMPARE(told[QStringLiteral("name")].toString(), QStringLiteral("Wetter"));
        QVERIFY(told[QStringLiteral("controls")].toArray().contains(QStringLiteral("how-wet")));
        const auto red = [&](const QString& set) {
            QStringList words{QStringLiteral("probe"), at("wet.palekettle"),   QStringLiteral("--line"),
                              QStringLiteral("base"),  QStringLiteral("--uv"), QStringLiteral("0.5,0.5")};
            if (!set.isEmpty()) words << QStringLiteral("--set") << set;
            const Ran ran = batch(words);
            return ran.status == 0 ? ran.json()[QStringLiteral("linear")].toArray()[0].toDouble() : -1;
        };
        const double wet = red({}), dry = red(QStringLiteral("wet.how-wet=0"));
        QVERIFY(wet > 0 && wet < 0.8 * dry);
        const Ran wrong = batch({QStringLiteral("probe"), at("wet.palekettle"), QStringLiteral("--line"),
                                 QStringLiteral("base"), QStringLiteral("--uv"), QStringLiteral("0.5,0.5"),
                                 QStringLiteral("--set"), QStringLiteral("wet.how-dry=1")});
        QCOMPARE(wrong.status, 1);
        QVERIFY(wrong.errors.contains(QStringLiteral("There is no wet.how-dry")));
        const Ran word = batch({QStringLiteral("probe"), at("wet.palekettle"), QStringLiteral("--line"),
                                QStringLiteral("base"), QStringLiteral("--uv"), QStringLiteral("0.5,0.5"),
                                QStringLiteral("--set"), QStringLiteral("wet.how-wet=much")});
        QCOMPARE(word.status, 1);
        QVERIFY(word.errors.contains(QStringLiteral("should be a number")));
    }
    void oneFileForEachObject() {
        const Ran made =
            batch({QStringLiteral("export"), QStringLiteral(KETTLE_DATA_DIR "/galley-shelf.palekettle"),
                   QStringLiteral("--look"), QStringLiteral("five-glazes"), QStringLiteral("--channel"),
                   QStringLiteral("base-colour"), QStringLiteral("--surface"), QStringLiteral("glaze"),
                   QStringLiteral("--size"), QStringLiteral("8"), QStringLiteral("--each-object"),
                   QStringLiteral("--out"), at("cups")});
        QCOMPARE(made.status, 0);
        QCOMPARE(QDir(at("cups")).entryList(QDir::Files).size(), 48);
        const Ran none =
            batch({QStringLiteral("export"), QStringLiteral(KETTLE_DATA_DIR "/galley-shelf.palekettle"),
                   QStringLiteral("--object"), QStringLiteral("a jug"), QStringLiteral("--out"), at("jugs")});
        QCOMPARE(none.status, 1);
        QVERIFY(none.errors.contains(QStringLiteral("no object a jug")));
    }
    void infoTellsLinesStepsAndLooks() {
        const Ran info = batch({QStringLiteral("info"), kDemo, QStringLiteral("--json")});
        QCOMPARE(info.status, 0);
        const QJsonObject j = info.json();
        QStringList looks, steps;
        for (const auto& l : j[QStringLiteral("looks")].toArray())
            looks << l.toObject()[QStringLiteral("name")].toString();
        QCOMPARE(looks, (QStringList{QStringLiteral("Celadon"), QStringLiteral("Marmalade"),
                                     QStringLiteral("Night ferry"), QStringLiteral("Forty years afloat")}));
        for (const auto& s :
             j[QStringLiteral("lines")].toArray()[0].toObject()[QStringLiteral("steps")].toArray())
            steps << s.toObject()[QStringLiteral("type")].toString();
        QCOMPARE(steps.mid(0, 3),
                 (QStringList{QStringLiteral("map"), QStringLiteral("hsv-shift"), QStringLiteral("blend")}));
        QCOMPARE(steps.mid(3), QStringList(4, QStringLiteral("fill")));
        QVERIFY(batch({QStringLiteral("info"), kDemo})
                    .output.contains(QStringLiteral("Line base-colour (Base colour, colour)")));
    }
    void theProbeGivesNumbers() {
        QVERIFY(writePicture(path("flat_basecolor.png"), 4, 4, 3, [](int, int, int c) {
                    return c == 0 ? 200 : 40;
                }).has_value());
        QCOMPARE(batch({QStringLiteral("new"), m_folder.path(), QStringLiteral("-o"), at("flat.palekettle")})
                     .status,
                 0);
        const Ran ran =
            batch({QStringLiteral("probe"), at("flat.palekettle"), QStringLiteral("--line"),
                   QStringLiteral("base-colour"), QStringLiteral("--uv"), QStringLiteral("0.25,0.6")});
        QCOMPARE(ran.status, 0);
        const QJsonObject j = ran.json();
        QVERIFY(std::fabs(j[QStringLiteral("display")].toArray()[0].toDouble() - 200 / 255.0) < 1e-5);
        QVERIFY(std::fabs(j[QStringLiteral("linear")].toArray()[0].toDouble() - 0.577580) < 1e-5);
        QCOMPARE(j[QStringLiteral("hex")].toString(), QStringLiteral("#C82828"));
        for (const QStringList& bad : {QStringList{QStringLiteral("--uv"), QStringLiteral("here")},
                                       QStringList{QStringLiteral("--uv"), QStringLiteral("0.1")}}) {
            const Ran wrong = batch(QStringList{QStringLiteral("probe"), at("flat.palekettle"),
                                                QStringLiteral("--line"), QStringLiteral("base-colour")} +
                                    bad);
            QCOMPARE(wrong.status, 1);
            QVERIFY(wrong.errors.contains(
                QStringLiteral("is not a place. Give it as U,V, for example 0.25,0.6.")));
        }
        const Ran nobody = batch({QStringLiteral("probe"), at("flat.palekettle"), QStringLiteral("--line"),
                                  QStringLiteral("fog"), QStringLiteral("--uv"), QStringLiteral("0,0")});
        QCOMPARE(nobody.status, 1);
        QVERIFY(nobody.errors.contains(QStringLiteral("There is no line fog in the project.")));
    }
    void theStepAndTheLookChangeTheProbe() {
        const auto hex = [](const QStringList& more) {
            return batch(QStringList{QStringLiteral("probe"), kDemo, QStringLiteral("--line"),
                                     QStringLiteral("base-colour"), QStringLiteral("--uv"),
                                     QStringLiteral("0.5,0.9")} +
                         more)
                .json()[QStringLiteral("hex")]
                .toString();
        };
        const QString received = hex({}),
                      celadon = hex({QStringLiteral("--look"), QStringLiteral("celadon")});
        QVERIFY(received != celadon);
        QCOMPARE(hex({QStringLiteral("--look"), QStringLiteral("celadon"), QStringLiteral("--after"),
                      QStringLiteral("s1")}),
                 received);
    }
    void allLooksAreExported() {
        const Ran ran = batch({QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("maps"),
                               QStringLiteral("--all-looks"), QStringLiteral("--channel"),
                               QStringLiteral("base-colour"), QStringLiteral("--channel"),
                               QStringLiteral("roughness"), QStringLiteral("--size"), QStringLiteral("128")});
        QCOMPARE(ran.status, 0);
        QCOMPARE(QDir(at("maps")).entryList(QDir::Files).size(), 10);
        const auto picture = readImage(path("maps/enamel_kettle_celadon_base-colour.png"));
        QVERIFY(picture.has_value());
        QCOMPARE(picture->width, 128);
    }
    void badExportsAreSentences_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QString>("part");
        QTest::newRow("format")
            << QStringList{QStringLiteral("--format"), QStringLiteral("gif")}
            << QStringLiteral(
                   "\"gif\" is not a format. Choose png8, png16, tiff16, exr-half, exr-float or jpeg.");
        QTest::newRow("look") << QStringList{QStringLiteral("--look"), QStringLiteral("sepia")}
                              << QStringLiteral("The project has no look sepia.");
        QTest::newRow("channel") << QStringList{QStringLiteral("--channel"), QStringLiteral("sparkle")}
                                 << QStringLiteral("The project has no channel sparkle.");
    }
    void badExportsAreSentences() {
        QFETCH(QStringList, arguments);
        QFETCH(QString, part);
        const Ran ran = batch(
            QStringList{QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("never")} + arguments);
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.errors.contains(part), qPrintable(ran.errors));
        QVERIFY(!QDir(at("never")).exists());
    }
    void aPictureIsTaken() {
        const Ran ran = batch({QStringLiteral("picture"), kDemo, QStringLiteral("-o"), at("kettle.png"),
                               QStringLiteral("--look"), QStringLiteral("celadon"), QStringLiteral("--size"),
                               QStringLiteral("96x64")});
        QCOMPARE(ran.status, 0);
        const auto picture = readImage(path("kettle.png"));
        QCOMPARE(picture->width, 96);
        QCOMPARE(picture->height, 64);
        QVERIFY(batch({QStringLiteral("picture"), kDemo, QStringLiteral("-o"), at("k.png"),
                       QStringLiteral("--size"), QStringLiteral("big")})
                    .errors.contains(QStringLiteral("is not a size.")));
    }
    void badProjectsAreSentencesAndStayAsTheyAre_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("part");
        QTest::newRow("newer") << QByteArray("{\"format\":\"pale-kettle-project\",\"version\":9}")
                               << QStringLiteral("was saved by a newer Pale Kettle");
        QTest::newRow("wrong type") << QByteArray(
                                           "{\"format\":\"pale-kettle-project\",\"version\":1,\"lines\":{}}")
                                    << QStringLiteral("lines should be a list but is an object");
        QTest::newRow("cut") << QByteArray("{\"format\":\"pale-kettle-project\",\"vers")
                             << QStringLiteral("it is not complete JSON");
        QTest::newRow("wrong control")
            << QByteArray(
                   "{\"format\":\"pale-kettle-project\",\"version\":1,\"lines\":[{\"id\":\"a\",\"kind\":"
                   "\"scalar\",\"steps\":[{\"id\":\"s1\",\"type\":\"value\",\"controls\":{\"value\":\"much\"}"
                   "}]}]}")
            << QStringLiteral("s1.value on a should be a number. The default is used until you set it.");
    }
    void badProjectsAreSentencesAndStayAsTheyAre() {
        QFETCH(QByteArray, text);
        QFETCH(QString, part);
        std::ofstream(path("bad.palekettle")) << text.toStdString();
        const Ran ran = batch({QStringLiteral("info"), at("bad.palekettle")});
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.errors.contains(part), qPrintable(ran.errors));
        QCOMPARE(QByteArray::fromStdString(*readFile(path("bad.palekettle"))), text);
    }
    void brokenMapsAreNamedAndTheRestIsTold() {
        QDir().mkpath(at("broken"));
        QVERIFY(writePicture(path("broken/pot_basecolor.png"), 64, 64, 3, [](int x, int y, int c) {
                    return (x * 31 + y * 17 + c * 7) % 255;
                }).has_value());
        QVERIFY(writePicture(path("broken/pot_roughness.png"), 32, 32, 1, [](int, int, int) {
                    return 90;
                }).has_value());
        QCOMPARE(batch({QStringLiteral("new"), at("broken"), QStringLiteral("-o"), at("broken.palekettle")})
                     .status,
                 0);
        Ran ran = batch({QStringLiteral("info"), at("broken.palekettle")});
        QCOMPARE(ran.status, 0);  // another size is worth a word and no failure
        QVERIFY(ran.errors.contains(
            QStringLiteral("pot_roughness.png is 32 x 32 and pot_basecolor.png is 64 x 64.")));
        const std::string whole = *readFile(path("broken/pot_basecolor.png"));
        std::ofstream(path("broken/pot_basecolor.png"), std::ios::binary)
            << whole.substr(0, whole.size() / 2);
        std::filesystem::remove(path("broken/pot_roughness.png"));
        ran = batch({QStringLiteral("info"), at("broken.palekettle"), QStringLiteral("--json")});
        QCOMPARE(ran.status, 1);
        QVERIFY(ran.errors.contains(QStringLiteral("pot_basecolor.png: it is damaged or ends too early.")));
        QVERIFY(ran.errors.contains(
            QStringLiteral("pot_roughness.png. Put it back, or choose another file for this map.")));
        QCOMPARE(ran.json()[QStringLiteral("lines")].toArray().size(), 2);
        const Ran picture = batch({QStringLiteral("picture"), at("broken.palekettle"), QStringLiteral("-o"),
                                   at("b.png"), QStringLiteral("--size"), QStringLiteral("64x48")});
        QCOMPARE(picture.status, 1);
        QVERIFY(QFile::exists(at("b.png")));
    }
    void anEmptyFolderIsASentence() {
        QDir().mkpath(at("empty"));
        const Ran ran = batch({QStringLiteral("new"), at("empty"), QStringLiteral("-o"), at("e.palekettle")});
        QCOMPARE(ran.status, 1);
        QVERIFY(ran.errors.contains(QStringLiteral("There are no pictures in ")));
        QVERIFY(!QFile::exists(at("e.palekettle")));
    }
    void theStepReferenceIsTheCataloguesOwn() {
        const Ran ran = batch({QStringLiteral("steps")});
        QCOMPARE(ran.status, 0);
        QCOMPARE(ran.output, QString::fromStdString(*readFile(KETTLE_DATA_DIR "/../../docs/steps.md")));
    }
    void theSchemaKnowsEveryStepAndIsTheDocumentedOne() {
        const Ran ran = batch({QStringLiteral("schema")});
        QCOMPARE(ran.output,
                 QString::fromStdString(*readFile(KETTLE_DATA_DIR "/../../docs/project.schema.json")));
        const QJsonArray types = ran.json()[QStringLiteral("$defs")]
                                     .toObject()[QStringLiteral("step")]
                                     .toObject()[QStringLiteral("allOf")]
                                     .toArray();
        QCOMPARE(static_cast<std::size_t>(types.size()), shippedSteps().size());
    }
    void checkTellsWhatIsWrong() {
        const Ran ran = batch({QStringLiteral("check"), kDemo, QStringLiteral("--look"),
                               QStringLiteral("celadon"), QStringLiteral("--json")});
        QCOMPARE(ran.status, 0);
        for (const auto& f : ran.json()[QStringLiteral("findings")].toArray())
            QVERIFY(f.toObject()[QStringLiteral("severity")].toString() != QStringLiteral("error"));
        // A missing map is an error: it is told and the exit status says so.
        Project p = *loadProject(kDemo.toStdString());
        p.sets[0].edit().folder = (std::filesystem::path(KETTLE_DATA_DIR) / "enamel_kettle").string();
        p.sets[0].edit().maps[0].file = "gone.png";
        QVERIFY(saveProject(p, path("gone.palekettle")).has_value());
        const Ran broken = batch({QStringLiteral("check"), at("gone.palekettle")});
        QCOMPARE(broken.status, 1);
        QVERIFY(broken.errors.contains(QStringLiteral("gone.png")));
        const Ran look =
            batch({QStringLiteral("check"), kDemo, QStringLiteral("--look"), QStringLiteral("nobody")});
        QCOMPARE(look.errors.trimmed(), QStringLiteral("The project has no look nobody. Choose another."));
    }
    void wrongArgumentsAreAFailure() {
        QVERIFY(batch({}).status != 0);
        QVERIFY(batch({QStringLiteral("cook")}).status != 0);
        QCOMPARE(batch({QStringLiteral("--help")}).status, 0);
    }
};

QTEST_APPLESS_MAIN(BatchTest)
#include "batch_test.moc"
