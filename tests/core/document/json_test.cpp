#include "core/document/json.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>
#include <iterator>

#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A project that uses every kind of value.
const char* const kFull = R"({
  "format": "pale-kettle-project", "version": 1, "author": {"name": "cook"},
  "sets": [{"id": "kettle", "name": "Enamel kettle", "folder": "enamel_kettle",
            "maps": [{"role": "base-colour", "file": "k.png", "encoding": "auto", "note": 7}]}],
  "lines": [
    {"id": "base-colour", "name": "Base colour", "kind": "colour", "channel": "base-colour", "folded": true,
     "steps": [
       {"id": "s1", "type": "map", "set": "kettle", "role": "base-colour"},
       {"id": "s2", "type": "hsv-shift", "controls": {"hue": 40.5, "works-in": "encoded"}, "feeds": {"mask": {"line": "wear", "after": "w1", "component": "red"}}},
       {"id": "s3", "type": "ramp-remap", "bypass": true,
        "controls": {"ramp": {"interpolation": "spline", "mixing": "oklab", "stops": [{"at": 0, "grey": 0.25}, {"at": 1, "colour": [1, 0.5, 0]}]}}},
       {"id": "s4", "type": "blend", "controls": {"limit": true}, "feeds": {"over": {"constant": [0.1, 0.2, 0.3]}, "mask": {"constant": 0.5}}}]},
    {"id": "wear", "kind": "scalar", "steps": [{"id": "w1", "type": "value", "controls": {"value": 0.5}}]}],
  "looks": [{"id": "celadon", "name": "Celadon", "changes": {"s2.hue": 118, "s3.bypass": false}}],
  "view": {"model": "cups", "exposure": 0.5}
})";

QString sentenceOf(const std::string& text) {
    const auto project = projectFromJson(text, "a.palekettle");
    return project ? QString() : QString::fromStdString(project.error().sentence);
}

std::string withChange(const char* from, const char* to) {
    QString text = QString::fromUtf8(kFull);
    text.replace(QString::fromUtf8(from), QString::fromUtf8(to));
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
        for (const char* kept : {"\"author\"", "\"cook\"", "\"note\": 7", "\"folded\": true"})
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
        row("newer", withChange("\"version\": 1", "\"version\": 2"),
            "was saved by a newer Pale Kettle (project version 2; this one reads up to 1)");
        row("version as text", withChange("\"version\": 1", "\"version\": \"1\""),
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
        row("id used twice", withChange("\"id\": \"w1\"", "\"id\": \"s1\""), "uses the step id \"s1\" twice");
        row("line used twice", withChange("\"id\": \"wear\"", "\"id\": \"base-colour\""),
            "lines[1].id is \"base-colour\", which was used before");
        row("null", withChange("\"hue\": 40.5", "\"hue\": null"), "controls.hue is empty");
    }
    void wrongInputIsASentence() {
        QFETCH(QString, text);
        QFETCH(QString, part);
        const QString sentence = sentenceOf(text.toStdString());
        QVERIFY2(sentence.contains(part), qPrintable(sentence));
        QVERIFY(sentence.endsWith(QLatin1Char('.')));
    }
    void newerFilesAreAKindOfTheirOwn() {
        const auto p = projectFromJson(withChange("\"version\": 1", "\"version\": 99"), "a");
        QCOMPARE(p.error().kind, ErrorKind::Newer);
    }
    void savingReplacesTheFileWhole() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("p.palekettle")).toStdString();
        QVERIFY(saveProject(*projectFromJson(kFull, "a"), file).has_value());
        QVERIFY(saveProject(*loadProject(file), file).has_value());
        QVERIFY(*loadProject(file) == *projectFromJson(kFull, "a"));
        QCOMPARE(std::distance(std::filesystem::directory_iterator(folder.path().toStdString()), {}),
                 std::ptrdiff_t{1});
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
