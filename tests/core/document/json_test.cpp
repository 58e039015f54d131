#include "core/document/json.h"

#include "core/base/files.h"
#include "core/document/path_text.h"

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>
#include <iterator>
#include <limits>

#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A project that uses every kind of value.
const char* const kFull = R"({
  "format": "pale-kettle-project", "version": 2, "author": {"name": "cook"},
  "sets": [{"id": "kettle", "name": "Enamel kettle", "folder": "enamel_kettle",
            "maps": [{"role": "base-colour", "file": "k.png", "encoding": "auto", "note": 7}]}],
  "surfaces": [{"id": "body", "name": "Body", "coversAll": true, "parts": ["lid", "spout"], "mark": 3},
               {"id": "rings", "name": "Rings", "parts": []}],
  "lines": [
    {"id": "base-colour", "name": "Base colour", "kind": "colour", "channel": "base-colour", "surface": "body", "folded": true,
     "steps": [
       {"id": "s1", "type": "map", "set": "kettle", "role": "base-colour"},
       {"id": "s2", "type": "hsv-shift", "controls": {"hue": 40.5, "works-in": "encoded"}, "feeds": {"mask": {"line": "wear", "after": "w1", "component": "red"}}},
       {"id": "s3", "type": "ramp-remap", "bypass": true,
        "controls": {"ramp": {"interpolation": "spline", "mixing": "oklab", "stops": [{"at": 0, "grey": 0.25}, {"at": 1, "colour": [1, 0.5, 0]}]}}},
       {"id": "s4", "type": "blend", "controls": {"limit": true}, "feeds": {"over": {"constant": [0.1, 0.2, 0.3]}, "mask": {"constant": 0.5}}}]},
    {"id": "wear", "kind": "scalar", "steps": [{"id": "w1", "type": "value", "controls": {"value": 0.5}}]}],
  "looks": [{"id": "celadon", "name": "Celadon", "changes": {"s2.hue": 118, "s3.bypass": false}}],
  "allLooks": {"s2.saturation": 1.5},
  "view": {"model": "cups", "exposure": 0.5, "unit": "mm"}
})";

QString sentenceOf(const std::string& text) {
    const auto project = projectFromJson(text, "a.palekettle");
    return project ? QString() : QString::fromStdString(project.error().sentence);
}

std::string withChange(const char* from, const std::string& to) {
    QString text = QString::fromUtf8(kFull);
    text.replace(QString::fromUtf8(from), QString::fromStdString(to));
    return text.toStdString();
}

}  // namespace

class JsonTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everythingIsRead() {
        const auto p = projectFromJson(kFull, "a.palekettle");
        QVERIFY(p.has_value());
        const Line& base = *p->lines[0];
        QCOMPARE(base.kind, Kind::Colour);
        QCOMPARE(base.steps.size(), std::size_t{4});
        QCOMPARE(std::get<double>(base.steps[1]->controls.at("hue")), 40.5);
        QCOMPARE(std::get<std::string>(base.steps[1]->controls.at("works-in")), std::string("encoded"));
        QCOMPARE(base.steps[1]->feeds.at("mask").after, std::string("w1"));
        const Ramp& ramp = std::get<Ramp>(base.steps[2]->controls.at("ramp"));
        QCOMPARE(ramp.mixing, RampMixing::Oklab);
        QCOMPARE(ramp.stops[0].colour, (Vec3{0.25f, 0.25f, 0.25f}));
        QVERIFY(base.steps[2]->bypass);
        QCOMPARE(std::get<double>(*base.steps[3]->feeds.at("mask").constant), 0.5);
        QCOMPARE(p->looks[0]->changes.size(), std::size_t{2});
        QCOMPARE(p->view.model, std::string("cups"));
        QCOMPARE(p->view.unit, std::string("mm"));
        QCOMPARE(p->surfaces.size(), std::size_t{2});
        QVERIFY(p->surfaces[0]->coversAll && !p->surfaces[1]->coversAll);
        QCOMPARE(p->surfaces[0]->parts, (std::vector<std::string>{"lid", "spout"}));
        QCOMPARE(base.surface, std::string("body"));
        QVERIFY(p->allLooks.at("s2.saturation") == ControlValue(1.5));
        QCOMPARE(p->view.environment, std::string("morning-deck"));
    }
    void writingAndReadingGivesTheSame() {
        const auto p = projectFromJson(kFull, "a");
        const std::string text = projectToJson(*p);
        const auto again = projectFromJson(text, "b");
        QVERIFY(again.has_value());
        QVERIFY(*again == *p);
        QCOMPARE(projectToJson(*again), text);
    }
    void unknownFieldsAreKept() {
        const QString text = QString::fromStdString(projectToJson(*projectFromJson(kFull, "a")));
        for (const char* kept : {"\"author\"", "\"cook\"", "\"note\": 7", "\"mark\": 3", "\"folded\": true"})
            QVERIFY2(text.contains(QString::fromUtf8(kept)), kept);
    }
    void wrongInputIsASentence_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("part");
        const auto row = [](const char* name, const std::string& text, const char* part) {
            QTest::newRow(name) << QString::fromStdString(text) << QString::fromUtf8(part);
        };
        row("not JSON", "{ \"format\": ", "it is not complete JSON (near byte ");
        row("something else", "{\"a\": 1}",
            "a.palekettle is not a Pale Kettle project. Choose a .palekettle file.");
        row("a list", "[]", "is not a Pale Kettle project");
        row("newer", withChange("\"version\": 2", "\"version\": 3"),
            "was saved by a newer Pale Kettle (project version 3; this one reads up to 2)");
        row("version as text", withChange("\"version\": 2", "\"version\": \"1\""),
            "version should be a whole number from 1");
        row("lines as a number", withChange("\"looks\": [", "\"lines\": 5, \"x\": ["),
            "lines should be a list but is a number");
        row("id as a number", withChange("\"id\": \"s2\"", "\"id\": 2"),
            "lines[0].steps[1].id should be a text but is a number");
        row("no type", withChange("\"type\": \"hsv-shift\", ", ""), "lines[0].steps[1].type is missing");
        row("kind", withChange("\"kind\": \"scalar\"", "\"kind\": \"sound\""),
            "lines[1].kind is \"sound\", which is none of colour, scalar, normal");
        row("colour with two numbers", withChange("[0.1, 0.2, 0.3]", "[0.1, 0.2]"),
            "lines[0].steps[3].feeds.over.constant should be three numbers");
        row("stop without a place", withChange("\"at\": 0, ", ""), "stops[0].at is missing");
        row("interpolation", withChange("\"spline\"", "\"curly\""), "interpolation is \"curly\"");
        row("line used twice", withChange("\"id\": \"wear\"", "\"id\": \"base-colour\""),
            "lines[1].id is \"base-colour\", which was used before");
        row("surface used twice", withChange("\"id\": \"rings\"", "\"id\": \"body\""),
            "surfaces[1].id is \"body\", which was used before");
        row("a part as a number", withChange("\"spout\"", "4"),
            "surfaces[0].parts[1] should be a text but is a number");
        row("all looks as a list", withChange("{\"s2.saturation\": 1.5}", "[]"),
            "allLooks should be an object but is a list");
    }
    void wrongInputIsASentence() {
        QFETCH(QString, text);
        QFETCH(QString, part);
        const QString sentence = sentenceOf(text.toStdString());
        QVERIFY2(sentence.contains(part), qPrintable(sentence));
        QVERIFY(sentence.endsWith(QLatin1Char('.')));
    }
    void newerFilesAreAKindOfTheirOwn() {
        const auto p = projectFromJson(withChange("\"version\": 2", "\"version\": 99"), "a");
        QCOMPARE(p.error().kind, ErrorKind::Newer);
    }
    void savingReplacesTheFileWhole() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("p.palekettle")).toStdString();
        QVERIFY(saveProject(*projectFromJson(kFull, "a"), file).has_value());
        const Project loaded = *loadProject(file);
        QVERIFY(saveProject(loaded, file).has_value());
        // In memory its paths are absolute, in the file relative to it.
        QVERIFY(loaded == withAbsolutePaths(*projectFromJson(kFull, "a"), file.parent_path()));
        QVERIFY(*projectFromJson(*readFile(file), "a") == *projectFromJson(kFull, "a"));
        QCOMPARE(
            loaded.sets[0]->folder,
            (file.parent_path() / projectFromJson(kFull, "a")->sets[0]->folder).lexically_normal().string());
        QCOMPARE(std::distance(std::filesystem::directory_iterator(folder.path().toStdString()), {}),
                 std::ptrdiff_t{1});
    }
    void pathsOnAnotherDiskStayAbsolute() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("p.palekettle")).toStdString();
        Project p = *projectFromJson(kFull, "a");
        p.sets[0].edit().folder = "/elsewhere/maps";
        QVERIFY(saveProject(p, file).has_value());
        QCOMPARE(projectFromJson(*readFile(file), "a")->sets[0]->folder, std::string("/elsewhere/maps"));
        p.sets[0].edit().folder = (file.parent_path().parent_path() / "maps").string();
        QVERIFY(saveProject(p, file).has_value());
        QCOMPARE(projectFromJson(*readFile(file), "a")->sets[0]->folder, std::string("../maps"));
    }
    void everyNameOnADiskComesBack() {
        // Latin-1 bytes, a cut-off character, an overlong form, a private character, a surrogate, the ends of
        // UTF-8.
        for (const std::string name :
             {"caf\xe9", "\xc3", "\xc0\xaf", "\xef\x9f\xa9 is U+F7E9", "\xed\xa0\x80",
              "\xf4\x8f\xbf\xbf \xf4\x90\x80\x80", "Emaille-K\xc3\xa4nnchen", "plain", ""}) {
            const std::string text = textOfPath(name);
            QVERIFY(isUtf8(text));
            QCOMPARE(pathOfText(text), name);
            Project p = *projectFromJson(kFull, "a");
            p.sets[0].edit().folder = "/" + name;
            p.sets[0].edit().maps[0].file = name + ".png";
            const auto back = projectFromJson(projectToJson(p), "a");
            QVERIFY(back.has_value());
            QVERIFY(*back == p);
        }
        QCOMPARE(textOfPath("Emaille-K\xc3\xa4nnchen"), std::string("Emaille-K\xc3\xa4nnchen"));
        QVERIFY(!isUtf8("caf\xe9") && !isUtf8("\xed\xa0\x80") && isUtf8("\xed\x9f\xbf"));
    }
    void noNumberIsWrittenThatIsNotRead() {
        constexpr float kInfinity = std::numeric_limits<float>::infinity();
        Project p = *projectFromJson(kFull, "a");
        Step& step = p.lines[0].edit().steps[1].edit();
        step.controls["number"] = 1e300;
        step.controls["none"] = std::nan("");
        step.controls["colour"] = Colour{kInfinity, -kInfinity, std::nanf("")};
        Ramp ramp;
        ramp.stops = {{kInfinity, {1, 2, kInfinity}}};
        step.controls["ramp"] = ramp;
        QVERIFY(projectFromJson(projectToJson(p), "a").has_value());
        QVERIFY(!isStorable(1e300) && !isStorable(ramp) && isStorable(1e38));
    }
    void whatNestsTooDeepIsASentence() {
        const std::string deep =
            withChange("\"version\": 2",
                       "\"version\": 2, \"extra\": " + std::string(100000, '[') + std::string(100000, ']'));
        const auto p = projectFromJson(deep, "a");
        QVERIFY(!p);
        QVERIFY2(p.error().sentence.find("nests 100001 levels deep") != std::string::npos,
                 p.error().sentence.c_str());
        // Brackets in a text do not nest.
        QVERIFY(projectFromJson(
            withChange("\"version\": 2", "\"version\": 2, \"note\": \"" + std::string(500, '[') + "\""),
            "a"));
    }
    void savingWhereNothingCanBeIsASentence() {
        const auto done = saveProject(Project{}, "/nowhere/at/all/p.palekettle");
        QVERIFY(!done);
        QCOMPARE(done.error().kind, ErrorKind::Write);
        QVERIFY(QString::fromStdString(done.error().sentence)
                    .startsWith(QStringLiteral("Cannot write /nowhere/at/all/p.palekettle.")));
    }
    void aMissingFileIsASentence() {
        const auto p = loadProject("/nowhere/p.palekettle");
        QCOMPARE(p.error().kind, ErrorKind::Missing);
        QCOMPARE(QString::fromStdString(p.error().sentence),
                 QStringLiteral("Cannot find /nowhere/p.palekettle. Check the name and the folder."));
    }

    void stepsTravelAsText() {
        Step s = step("s", "blend", {{"mode", std::string("overlay")}, {"amount", 0.25}},
                      {{"over", feed("grain", "g2", "red")}});
        const auto back = stepsFromText(stepsToText({s, step("t", "invert")}));
        QVERIFY(back.has_value());
        QCOMPARE(back->size(), std::size_t{2});
        QVERIFY((*back)[0] == s);
        for (const char* other : {"", "hello", "[1, 2]", "{\"format\": \"pale-kettle-project\"}"})
            QCOMPARE(QString::fromStdString(stepsFromText(other).error().sentence),
                     QStringLiteral("The clipboard holds no steps. Copy some on the board first."));
        QCOMPARE(
            QString::fromStdString(
                stepsFromText("{\"format\": \"pale-kettle-steps\", \"steps\": [{\"id\": 3}]}")
                    .error()
                    .sentence),
            QStringLiteral(
                "Cannot paste the steps: steps[0].id should be a text but is a number. Copy them again."));
    }
    void colourSettingsComeBackAndAreLeftOutWhenPlain() {
        Project p;
        QVERIFY(projectToJson(p).find("colour") == std::string::npos);
        p.colour = {"ACEScg", "ours.ocio"};
        const auto back = projectFromJson(projectToJson(p), "p");
        QVERIFY(back.has_value());
        QVERIFY(*back == p);
    }
};

QTEST_APPLESS_MAIN(JsonTest)
#include "json_test.moc"
