// The library on disk: kept, found, broken entries, several folders; and what is shipped: every recipe
// computes what its steps compute.
#include "core/exchange/library.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>
#include <set>

#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/layer_edits.h"
#include "core/document/recipe_edits.h"
#include "core/document/recipes.h"
#include "core/exchange/kept_layers.h"
#include "core/steps/recipe_steps.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

namespace {

Recipe simple(const std::string& name) {
    Recipe r;
    r.id = "simple";
    r.name = name;
    r.purpose = "Turns hues.";
    r.kinds = {Kind::Colour};
    r.steps.emplace_back(step("turn", "hsv-shift", {{"hue", 40.0}}));
    r.controls = {{"hue", "Hue", "", {"turn.hue"}, {}, {}}};
    return r;
}

LibraryEntry entryOf(const Recipe& recipe) {
    LibraryEntry entry;
    entry.name = recipe.name;
    entry.content = recipe;
    return entry;
}

/// One line of each kind and a height, to try recipes on.
Project bench(const Recipe& recipe, std::string& step) {
    Project p;
    const Kind kind = recipe.kinds.front();
    const char* channel = kind == Kind::Colour   ? "base-colour"
                          : kind == Kind::Scalar ? "roughness"
                                                 : "normal";
    const char* source = kind == Kind::Colour ? "colour" : kind == Kind::Scalar ? "value" : "flat-normal";
    p.lines.emplace_back(line("base", kind, channel, {test::step("source", source)}));
    if (kind == Kind::Colour) p.lines[0].edit().steps[0].edit().controls["colour"] = Colour{0.6f, 0.3f, 0.1f};
    p.lines.emplace_back(line("height", Kind::Scalar, "height", {test::step("h", "noise")}));
    std::string id;
    p = edits::takeRecipe(p, recipe, id);
    std::vector<std::string> ids;
    auto next = edits::pasteSteps(p, {}, "base", 1, {test::step("r", kRecipe + id)}, ids);
    step = ids.front();
    for (const RecipeFeed& feed : recipe.feeds) {
        Feed join;
        join.line = "height";
        if (auto joined = edits::setFeed(*next, step, feed.id, join)) next = std::move(*joined);
    }
    return *next;
}

}  // namespace

class LibraryTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    const fs::path m_shipped = fs::path(KETTLE_DATA_DIR) / "library";
    fs::path own() const { return m_folder.path().toStdString() + "/own"; }

private Q_SLOTS:
    void init() { fs::remove_all(own()); }

    void keptIsFoundAgain() {
        const auto file = keepEntry(own(), entryOf(simple("Quarter turn")));
        QVERIFY(file);
        QCOMPARE(file->filename().string(), std::string("quarter-turn.recipe.json"));
        LibraryEntry palette;
        palette.kind = EntryKind::Palette;
        palette.name = "Tins";
        palette.content = Palette{"Tins", "", {{1, 0, 0}, {0, 1, 0}}, {3, 1}};
        QVERIFY(keepEntry(own(), palette));
        const auto entries = readLibrary(
            {{own(), EntryOrigin::Own}, {m_folder.path().toStdString() + "/none", EntryOrigin::Team}});
        QCOMPARE(entries.size(), std::size_t{2});
        QCOMPARE(std::get<Recipe>(entries[0].content), simple("Quarter turn"));
        QCOMPARE(std::get<Palette>(entries[1].content).weights, (std::vector<float>{3, 1}));
        // Held, and as wide as they weigh.
        const Ramp ramp = rampOf(std::get<Palette>(entries[1].content), true);
        QCOMPARE(ramp.stops[1].position, 0.75f);
        QCOMPARE(rampAt(compileRamp(ramp), 0.74f).x, 1.0f);
        QCOMPARE(rampAt(compileRamp(ramp), 0.76f).x, 0.0f);
        QVERIFY(forgetEntry(entries[1]));
        QCOMPARE(readLibrary({{own(), EntryOrigin::Own}}).size(), std::size_t{1});
    }

    void aPaletteOnAPlainLineGoesToTheObjects() {
        Palette palette;
        palette.colours = {{1, 0, 0}, {0, 1, 0}};
        Line line;
        Step first;
        first.type = "colour";
        line.steps.emplace_back(first);
        const Step dealt = stepOf(palette, line);
        QCOMPARE(dealt.type, std::string("vary"));
        QCOMPARE(std::get<std::string>(dealt.controls.at("from")), std::string("ramp"));
        // Held: no object gets what lies between two colours.
        QCOMPARE(std::get<Ramp>(dealt.controls.at("ramp")).interpolation, RampInterpolation::Hold);
        // Where there are tones to remap, they are.
        for (const char* type : {"map", "hsv-shift"}) {
            Line worked = line;
            Step step;
            step.type = type;
            if (type == std::string("map"))
                worked.steps.front() = Shared<Step>(step);
            else
                worked.steps.emplace_back(step);
            const Step remap = stepOf(palette, worked);
            QCOMPARE(remap.type, std::string("ramp-remap"));
            QCOMPARE(std::get<Ramp>(remap.controls.at("ramp")).interpolation, RampInterpolation::Linear);
        }
    }

    void arrangementsAreKeptAndChecked() {
        const Arrangement mine{"For the tug's engine",
                               "As its crew asked.",
                               {{"skin", {{"base-colour", "red", 0.5f}, {"roughness", "", 0.5f, true}}},
                                {"far", {{"", "", 1}}}}};
        LibraryEntry entry;
        entry.kind = EntryKind::Arrangement;
        entry.name = mine.name;
        entry.content = mine;
        const auto file = keepEntry(own(), entry);
        QVERIFY(file);
        QCOMPARE(file->parent_path().filename().string(), std::string("arrangements"));
        const auto back = readLibrary({{own(), EntryOrigin::Own}}, EntryKind::Arrangement);
        QCOMPARE(back.size(), std::size_t{1});
        QCOMPARE(std::get<Arrangement>(back[0].content), mine);
        QVERIFY(readLibrary({{own(), EntryOrigin::Own}}, EntryKind::Ramp).empty());
        // What is broken is told, and where.
        const auto problem = [&](const std::string& files) {
            const auto read = arrangementFromText(
                R"({"format":"pale-kettle-arrangement","version":1,"name":"a","files":)" + files + "}",
                "a.json");
            return read ? std::string() : read.error().sentence;
        };
        const auto tells = [](const std::string& sentence, const char* word) {
            return sentence.find(word) != std::string::npos;
        };
        QVERIFY(tells(problem("[]"), "files"));
        QVERIFY(tells(problem(R"([{"name":"x","components":[]}])"), "one to four"));
        QVERIFY(tells(problem(R"([{"name":"x","components":[{},{},{},{},{}]}])"), "one to four"));
        QVERIFY(tells(problem(R"([{"components":[{}]}])"), "name"));
        QVERIFY(tells(problem(R"([{"name":"x","components":[{"channel":"shine"}]}])"), "shine"));
        QVERIFY(
            tells(problem(R"([{"name":"x","components":[{"channel":"normal","component":"w"}]}])"), "\"w\""));
        QVERIFY(tells(problem(R"([{"name":"x","components":[{"otherwise":1.5}]}])"), "0 to 1"));
        QCOMPARE(problem(R"([{"name":"x","components":[{"channel":"normal","component":"x"}]}])"),
                 std::string());
    }

    void theSameNameIsANewEdition() {
        const auto first = keepEntry(own(), entryOf(simple("Turn")));
        Recipe other = simple("Turn");
        other.steps[0].edit().controls["hue"] = 50.0;
        const auto second = keepEntry(own(), entryOf(other));
        QVERIFY(first && second);
        QCOMPARE(first->string(), second->string());
        QCOMPARE(std::get<Recipe>(readEntry(*second, EntryOrigin::Own).content).edition, 2);
        // Kept as it is, it is no newer.
        QVERIFY(keepEntry(own(), readEntry(*second, EntryOrigin::Own)));
        QCOMPARE(std::get<Recipe>(readEntry(*second, EntryOrigin::Own).content).edition, 2);
    }

    void brokenEntriesAreListedWithTheirReason() {
        QVERIFY(keepEntry(own(), entryOf(simple("Good"))));
        const auto write = [&](const char* name, const std::string& text) {
            std::ofstream(own() / "recipes" / name, std::ios::binary) << text;
        };
        write("half.recipe.json", recipeToText(simple("Half")).substr(0, 90));
        write("utf16.recipe.json", std::string("\xff\xfe{\0\"\0", 6));
        write("empty.recipe.json", "");
        write("other.txt", "no business of ours");
        write("huge.recipe.json", std::string(50u << 20, ' '));
        const auto entries = readLibrary({{own(), EntryOrigin::Own}});
        QCOMPARE(entries.size(), std::size_t{5});
        int broken = 0;
        for (const LibraryEntry& entry : entries)
            if (!entry.problem.empty()) {
                ++broken;
                QVERIFY(std::holds_alternative<std::monostate>(entry.content));
                QVERIFY2(entry.problem.find(entry.file.filename().string()) != std::string::npos,
                         entry.problem.c_str());
            }
        QCOMPARE(broken, 4);
    }

    void aFolderThatCannotBeWrittenIsTold() {
        std::ofstream(m_folder.filePath("file").toStdString()) << "x";
        const auto kept = keepEntry(m_folder.filePath("file").toStdString(), entryOf(simple("Turn")));
        QVERIFY(!kept && kept.error().kind == ErrorKind::Write);
        QVERIFY(!keepEntry(own(), entryOf(simple(" "))));
    }

    void whatChangesOnDiskIsSeen() {
        const std::vector<LibraryFolder> folders{{own(), EntryOrigin::Own}};
        const auto none = stateOf(folders);
        const auto file = keepEntry(own(), entryOf(simple("Turn")));
        const auto one = stateOf(folders);
        QVERIFY(one != none);
        QCOMPARE(stateOf(folders), one);
        fs::last_write_time(*file, fs::last_write_time(*file) + std::chrono::seconds(3));
        QVERIFY(stateOf(folders) != one);
    }

    void importedFilesAreChecked() {
        const auto file = keepEntry(own(), entryOf(simple("Turn")));
        const fs::path there = m_folder.path().toStdString() + "/other";
        QVERIFY(importEntry(there, *file));
        QVERIFY(!importEntry(there, own() / "recipes" / "nothing.recipe.json"));
        QVERIFY(!importEntry(there, fs::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle"));
        fs::remove_all(there);
    }

    void unknownStepsAndWrongValuesAreFaults() {
        Recipe r = simple("Odd");
        r.steps[0].edit().type = "time-travel";
        QVERIFY(faultOf(r, shippedSteps()).find("time-travel") != std::string::npos);
        r = simple("Odd");
        r.steps[0].edit().controls["hue"] = std::string("red");
        QVERIFY(faultOf(r, shippedSteps()).find("number") != std::string::npos);
        r = simple("Odd");
        r.controls[0].targets = {"turn.smell"};
        QVERIFY(faultOf(r, shippedSteps()).find("turn.smell") != std::string::npos);
        // A value beyond the slider is no fault: it may be typed.
        r = simple("Odd");
        r.steps[0].edit().controls["hue"] = 720.0;
        QCOMPARE(faultOf(r, shippedSteps()), std::string());
        // A step that a newer program knows passes its input on in a project that has it.
        Project p = colourThrough({0.5f, 0.25f, 0.1f}, step("r", "recipe:odd"));
        r.id = "odd";
        r.steps[0].edit().type = "time-travel";
        p.recipes.emplace_back(r);
        QVERIFY(near(evaluate(p), {0.5f, 0.25f, 0.1f}, 0));
    }

    void shippedThereIsEnough() {
        const auto entries = readLibrary({{m_shipped, EntryOrigin::Shipped}});
        std::map<EntryKind, int> count;
        std::set<std::string> names;
        for (const LibraryEntry& entry : entries) {
            QVERIFY2(entry.problem.empty(), entry.problem.c_str());
            ++count[entry.kind];
            QVERIFY(names.insert(std::string(nameOf(entry.kind)) + entry.name).second);
            if (entry.kind == EntryKind::Recipe) {
                QVERIFY2(!entry.purpose.empty(), entry.name.c_str());
                QVERIFY2(!entry.picture.empty(), entry.name.c_str());
                const std::string fault = faultOf(std::get<Recipe>(entry.content), shippedSteps());
                QVERIFY2(fault.empty(), (entry.name + ": " + fault).c_str());
            }
        }
        QVERIFY(count[EntryKind::Recipe] >= 24);
        QVERIFY(count[EntryKind::Ramp] >= 40);
        QVERIFY(count[EntryKind::Palette] >= 20);
    }

    void everyRecipeIsItsSteps() {
        for (const LibraryEntry& entry : readLibrary({{m_shipped, EntryOrigin::Shipped}})) {
            if (entry.kind != EntryKind::Recipe) continue;
            const Recipe& recipe = std::get<Recipe>(entry.content);
            std::string step;
            const Project one = bench(recipe, step);
            std::vector<std::string> ids;
            const auto apart = edits::unpackStep(one, step, ids);
            QVERIFY2(apart, entry.name.c_str());
            const auto wanted = std::vector<Want>{{"base", "", 4}};
            const Program packed = compile(one, nullptr, wanted).program,
                          unpacked = compile(*apart, nullptr, wanted).program;
            QCOMPARE(packed.listing(), unpacked.listing());
            QVERIFY2(packed.computesAs(unpacked), entry.name.c_str());
            // It does something: there are instructions beyond the line without it.
            Project without = one;
            without.lines[0].edit().steps.resize(1);
            QVERIFY2(packed.listing() != compile(without, nullptr, wanted).program.listing(),
                     entry.name.c_str());
            // Each control is known by the tuner, and is the value that its steps have.
            const StepSpec spec = specOfRecipe(recipe, shippedSteps());
            QCOMPARE(spec.controls.size(), recipe.controls.size());
            QCOMPARE(spec.feeds.size(), recipe.feeds.size());
        }
    }

    void everyControlChangesItsSteps() {
        // Each control, set to another value, gives another program than the standard one.
        for (const LibraryEntry& entry : readLibrary({{m_shipped, EntryOrigin::Shipped}})) {
            if (entry.kind != EntryKind::Recipe) continue;
            const Recipe& recipe = std::get<Recipe>(entry.content);
            std::string step;
            const Project one = bench(recipe, step);
            const StepSpec spec = specOfRecipe(recipe, shippedSteps());
            const auto program = [](const Project& p) {
                return compile(p, nullptr, {{"base", "", 4}}).program;
            };
            for (const ControlSpec& control : spec.controls) {
                if (control.type != ControlType::Number) continue;
                // On one colour not every number shows at once: upwards or downwards it must.
                bool changes = false;
                const double standard = std::get<double>(control.standard);
                for (const double end : {control.low, control.high}) {
                    Project other = one;
                    const auto place = *other.findStep(step);
                    other.lines[place.line].edit().steps[place.step].edit().controls[control.id] =
                        (standard + end) / 2;
                    const Program a = program(one), b = program(other);
                    changes = changes || !a.computesAs(b) || !(a.sources == b.sources);
                }
                QVERIFY2(changes, (entry.name + ": " + control.name).c_str());
            }
        }
    }

    void setsFillTheirSlots() {
        Project p;
        TextureSet set;
        set.id = "rattan", set.name = "Rattan", set.folder = "/somewhere/rattan";
        set.maps = {{"base-colour", "a.png", "auto", {}},
                    {"occlusion-roughness-metalness", "orm.png", "auto", {}}};
        p.sets.emplace_back(set);
        for (const char* channel : {"base-colour", "roughness", "height"}) {
            const ChannelSpec* info = findChannel(channel);
            p.lines.emplace_back(
                line(channel, info->kind, channel,
                     {step(std::string("u-") + channel, info->kind == Kind::Colour ? "colour" : "value")}));
        }
        int loaders = 0;
        for (const LibraryEntry& entry : readLibrary({{m_shipped, EntryOrigin::Shipped}})) {
            if (entry.kind != EntryKind::Layer) continue;
            const KeptLayer& layer = std::get<KeptLayer>(entry.content);
            if (layer.slots().empty()) continue;
            ++loaders;
            QCOMPARE(layer.slots().size(), std::size_t{1});
            QCOMPARE(setFor(layer, p), std::string("rattan"));
            std::vector<std::string> lacking, ids, notes;
            const auto filled = filledFrom(layer, p, "rattan", lacking);
            QVERIFY2(filled, filled ? "" : filled.error().sentence.c_str());
            QVERIFY(std::find(lacking.begin(), lacking.end(), "height") != lacking.end());
            const auto next = edits::pasteLayers(p, {}, filled->layers, {entry.name, "", ""}, ids, notes);
            QVERIFY(next);
            // One set, the project's own; roughness is read from its component of the packed map.
            QCOMPARE(next->sets.size(), std::size_t{1});
            QCOMPARE(fillsOf(*next, ids.front()).size(), std::size_t{2});
            for (const FillPlace& fill : fillsOf(*next, ids.front())) {
                const Step& source = *ownLineOf(*next, *fill.step)->steps.front();
                QCOMPARE(source.set, std::string("rattan"));
                if (fill.line->id == "roughness")
                    QCOMPARE(std::get<std::string>(source.controls.at("component")), std::string("green"));
            }
            QVERIFY(layerToText(layer).find("/somewhere") == std::string::npos);
            QVERIFY(layerToText(withoutFiles({"x", "", "", filled->layers})).find("/somewhere") ==
                    std::string::npos);
        }
        QVERIFY(loaders >= 2);
    }
};

QTEST_GUILESS_MAIN(LibraryTest)
#include "library_test.moc"
