// What a file holds stays in it: fields of a newer program in every object, values of an unknown shape,
// numbers as they were typed, and steps that two branches gave the same id.
#include <QTemporaryDir>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/document/json.h"
#include "core/engine/compile.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
using Json = nlohmann::ordered_json;

namespace {

/// Every object that a project can hold, once at least.
constexpr const char* kWhole = R"({
  "format": "pale-kettle-project", "version": 2,
  "sets": [{"id": "s", "name": "Set", "folder": "maps",
            "maps": [{"role": "base-colour", "file": "a.png", "encoding": "auto"}]}],
  "surfaces": [{"id": "hull", "name": "Hull", "parts": ["plank"]}],
  "lines": [{"id": "l", "name": "Line", "kind": "colour", "channel": "base-colour", "surface": "hull",
             "steps": [{"id": "a", "type": "colour", "controls": {"colour": [0.147, 0.3, 0.1]}},
                       {"id": "b", "type": "ramp-remap", "version": 2,
                        "controls": {"amount": 0.147, "ramp": {"interpolation": "linear", "mixing": "encoded",
                                     "stops": [{"at": 0.147, "grey": 0.7}, {"at": 1.0, "colour": [0.9, 0.1, 0.7]}]}},
                        "feeds": {"mask": {"constant": 0.3}, "reads-from": {"line": "m", "after": "c"}}}]},
            {"id": "m", "name": "Mask", "kind": "scalar", "steps": [{"id": "c", "type": "value"}]}],
  "looks": [{"id": "k", "name": "Look", "changes": {"b.amount": 0.147}}],
  "recipes": [{"id": "r", "name": "Recipe", "purpose": "", "edition": 1, "kinds": ["colour"],
               "steps": [{"id": "x", "type": "hsv-shift"}],
               "lines": [{"id": "rl", "name": "Own", "kind": "scalar", "steps": [{"id": "y", "type": "value"}]}],
               "controls": [{"id": "h", "name": "Hue", "means": ["x.hue"], "low": -0.147, "high": 0.7}],
               "inputs": [{"id": "w", "name": "Where", "means": ["x.mask"]}]}],
  "objects": [{"object": "cup", "number": 3}, {"part": "lid", "number": 4}],
  "view": {"model": "kettle", "environment": "morning-deck", "exposure": 0.147, "environmentTurn": 0.7,
           "surround": "middle", "transform": "standard",
           "views": [{"name": "Front", "turn": 0.147, "tilt": 0.7, "distance": 90.3, "x": 0.147, "y": 0.0, "z": 0.7}]},
  "colour": {"workingSpace": "ACEScg"}
})";

/// Values of these names are not objects of the format's own, but lists by name.
bool isListByName(const std::string& key) {
    return key == "controls" || key == "feeds" || key == "changes" || key == "allLooks";
}

/// An unknown field in every object of the format; how many there are.
int withUnknownFields(Json& j, bool isOwn = true) {
    int count = 0;
    if (j.is_object())
        for (auto& [key, value] : j.items())
            count += withUnknownFields(value, !isListByName(key) || value.is_array());
    if (j.is_array())
        for (Json& value : j) count += withUnknownFields(value);
    if (j.is_object() && isOwn) {
        j["zz-later"] = {{"held", count}};
        ++count;
    }
    return count;
}

Project read(const std::string& text) {
    auto project = projectFromJson(text, "test");
    if (!project) qWarning("%s", project.error().sentence.c_str());
    return project ? *project : Project{};
}

}  // namespace

class KeptFieldsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void unknownFieldsAreKeptInEveryObject() {
        Json j = Json::parse(kWhole);
        QVERIFY(withUnknownFields(j) > 20);
        const Json again = Json::parse(projectToJson(read(j.dump())));
        // Both ways: nothing is lost, nothing is added but defaults.
        const Json patch = Json::diff(j, again);
        for (const Json& change : patch) QVERIFY2(change["op"] != "remove", change.dump().c_str());
        std::function<int(const Json&)> countOf = [&](const Json& in) {
            int count = in.is_object() && in.contains("zz-later") ? 1 : 0;
            for (const Json& inner : in)
                if (inner.is_structured()) count += countOf(inner);
            return count;
        };
        QCOMPARE(countOf(again), countOf(j));
    }
    void numbersAreWrittenAsTheyWereTyped() {
        const std::string saved = projectToJson(read(kWhole));
        for (const char* longer : {"0.1469999", "0.14700000", "0.699999", "0.89999", "0.300000"})
            QVERIFY2(saved.find(longer) == std::string::npos, longer);
        QCOMPARE(Json::parse(saved)["lines"][0]["steps"][0]["controls"]["colour"][0].dump(),
                 std::string("0.147"));
        QCOMPARE(projectToJson(read(saved)), saved);
    }
    void valuesOfAnUnknownShapeAreKeptAndTold() {
        Json j = Json::parse(kWhole);
        auto& controls = j["lines"][0]["steps"][1]["controls"];
        controls["amount"] = nullptr;
        controls["reads"] = Json::array();
        controls["scale"] = {0.1, 0.2, 0.3, 0.4};
        j["looks"][0]["changes"]["b.amount"] = nullptr;
        const Project project = read(j.dump());
        QCOMPARE(project.lines.size(), 2u);
        // The defaults stand in.
        QVERIFY(!project.lines[0]->steps[1]->controls.contains("amount"));
        QVERIFY(project.looks[0]->changes.empty());
        QStringList told;
        for (const std::string& problem : problemsOf(project)) told << QString::fromStdString(problem);
        QCOMPARE(
            told.filter(QStringLiteral("b.amount on Line is null, which is no value of a control")).size(),
            1);
        const Json again = Json::parse(projectToJson(project));
        QVERIFY(again["lines"][0]["steps"][1]["controls"]["amount"].is_null());
        QCOMPARE(again["lines"][0]["steps"][1]["controls"]["scale"].size(), 4u);
        QVERIFY(again["looks"][0]["changes"]["b.amount"].is_null());
        // A value that is set takes its place.
        Project set = project;
        set.lines[0].edit().steps[1].edit().controls["amount"] = 0.5;
        QCOMPARE(Json::parse(projectToJson(set))["lines"][0]["steps"][1]["controls"]["amount"].dump(),
                 std::string("0.5"));
    }
    void aStepIdThatCameTwiceIsRenewed() {
        Json j = Json::parse(kWhole);
        j["lines"][1]["steps"].push_back({{"id", "b"}, {"type", "invert"}});
        j["lines"][1]["steps"].push_back({{"id", "b"}, {"type", "clamp"}});
        const Project project = read(j.dump());
        QCOMPARE(project.lines[0]->steps[1]->id, std::string("b"));
        QCOMPARE(project.lines[1]->steps[1]->id, std::string("b-2"));
        QCOMPARE(project.lines[1]->steps[2]->id, std::string("b-3"));
        QCOMPARE(project.lines[1]->steps[2]->type, std::string("clamp"));
    }
    void aStepWithoutAVersionIsOfTheFirst() {
        const Project project = read(kWhole);
        QCOMPARE(project.lines[0]->steps[0]->version, 1);
        QCOMPARE(project.lines[0]->steps[1]->version, 2);
        const Json again = Json::parse(projectToJson(project));
        QVERIFY(!again["lines"][0]["steps"][0].contains("version"));
        QCOMPARE(again["lines"][0]["steps"][1]["version"].get<int>(), 2);
    }
    void aStepOfANewerProgramIsRefusedWithASentence() {
        Json j = Json::parse(kWhole);
        j["lines"][0]["steps"][1]["version"] = 99;
        const auto project = projectFromJson(j.dump(), "test");
        QVERIFY(!project);
        QVERIFY(project.error().sentence.find("knows steps up to 2") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(KeptFieldsTest)
#include "kept_fields_test.moc"
