// What is dropped becomes a plan with reasons, and a plan becomes a project.
#include "core/exchange/bring_plan.h"

#include <QTemporaryDir>
#include <QtTest>
#include <atomic>

#include "core/document/json.h"
#include "core/engine/compile.h"
#include "core/exchange/bring_project.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class BringPlanTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    int m_count = 0;

    fs::path folder() {
        const fs::path path = fs::path(m_dir.path().toStdString()) / ("f" + std::to_string(++m_count));
        fs::create_directories(path);
        return path;
    }
    /// base colour in `red`, roughness and normal, under names with `stem`.
    static void writeSet(const fs::path& path, const std::string& stem, int red) {
        fs::create_directories(path);
        QVERIFY(writePicture(path / (stem + "_albedo.png"), 16, 16, 3,
                             [=](int x, int, int c) { return c == 0 ? red : x; }));
        QVERIFY(
            writePicture(path / (stem + "_rough.png"), 16, 16, 1, [](int x, int y, int) { return x * y; }));
        QVERIFY(writePicture(path / (stem + "_nm.png"), 16, 16, 3,
                             [](int x, int, int c) { return c == 2 ? 255 : 126 + x % 4; }));
    }
    static QString all(const std::vector<std::string>& sentences) {
        QString text;
        for (const std::string& s : sentences) text += QString::fromStdString(s) + QLatin1Char('\n');
        return text;
    }
    static const PlannedMap* mapOf(const PlannedSet& set, const char* role) {
        for (const PlannedMap& map : set.maps)
            if (map.name.role == role) return &map;
        return nullptr;
    }

private Q_SLOTS:
    void aModelAndBothSetsFindEachOther() {
        const fs::path path = folder();
        const fs::path model = writeStove(path / "model");
        writeSet(path / "maps", "rings", 40);
        writeSet(path / "maps", "body", 200);
        const auto plan = planBringIn({path / "maps", model});
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().sentence.c_str());
        QCOMPARE(plan->model->parts, (std::vector<std::string>{"body", "door", "rings"}));
        QCOMPARE(plan->model->materials, (std::vector<std::string>{"stove_body", "stove_rings"}));
        QCOMPARE(plan->model->tiles, (std::vector<int>{1001, 1002}));
        QCOMPARE(plan->model->triangles, std::size_t{6});
        QCOMPARE(plan->sets.size(), std::size_t{2});
        for (const PlannedSet& set : plan->sets) {
            QCOMPARE(set.surface,
                     set.name == "rings" ? std::string("stove_rings") : std::string("stove_body"));
            QVERIFY(set.drives);
            QCOMPARE(set.maps.size(), std::size_t{3});
            QVERIFY(mapOf(set, "base-colour") && mapOf(set, "roughness") && mapOf(set, "normal"));
            QVERIFY(!mapOf(set, "normal")->name.reason.empty());
        }
        std::vector<std::string> notes;
        const auto p = bringInto({}, *plan, notes);
        QVERIFY(p.has_value());
        QVERIFY2(problemsOf(*p).empty(), problemsOf(*p).empty() ? "" : problemsOf(*p).front().c_str());
        QCOMPARE(p->surfaces.size(), std::size_t{2});
        QCOMPARE(surfacesOfParts(*p, plan->model->parts), (std::vector<int>{0, 0, 1}));
        QCOMPARE(p->view.model, fs::absolute(model).lexically_normal().string());
        const Line& rings = *p->lineOfChannel("base-colour", p->surfaces[1]->id);
        QCOMPARE(rings.steps[0]->set, std::string("rings"));
        QVERIFY(p->lineOfChannel("roughness", p->surfaces[0]->id) != nullptr);
    }
    void aModelAloneIsPlain() {
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *planBringIn({writeStove(folder())}), notes);
        QCOMPARE(p.surfaces.size(), std::size_t{2});
        QCOMPARE(p.lines.size(), std::size_t{4});
        QCOMPARE(p.lineOfChannel("base-colour", p.surfaces[1]->id)->steps[0]->type, std::string("colour"));
        QVERIFY(problemsOf(p).empty());
    }
    void oneForAllCoversEverything() {
        const fs::path path = folder();
        writeSet(path / "maps", "body", 200);
        writeSet(path / "maps", "rings", 40);
        auto plan = planBringIn({writeStove(path), path / "maps"});
        plan->isOneForAll = true;
        std::vector<std::string> notes;
        const auto p = bringInto({}, *plan, notes);
        QCOMPARE(surfacesOfParts(*p, {"body", "door", "rings"}), (std::vector<int>{0, 0, 0}));
        QCOMPARE(p->surfaces.size(), std::size_t{2});
        QCOMPARE(p->findSurface(p->surfaces[1]->id)->parts, std::vector<std::string>{"rings"});
    }
    void oneForAllIsOneIfNoSetIsForAnother() {
        auto plan = planBringIn({writeStove(folder())});
        plan->isOneForAll = true;
        std::vector<std::string> notes;
        const auto p = bringInto({}, *plan, notes);
        QVERIFY(p->surfaces.empty());
        QCOMPARE(p->lines.size(), std::size_t{2});
    }
    void aGuessThatIsLeftOutIsNotCalledTaken() {
        const fs::path path = folder();
        writeSet(path, "tin", 90);
        // No word of its own: a guess at the base colour, which the set has already.
        QVERIFY(writePicture(path / "tin_data.png", 16, 16, 3,
                             [](int x, int y, int c) { return x * 3 + y * c; }));
        const auto plan = planBringIn({path});
        const QString notes = all(plan->notes);
        QVERIFY2(notes.contains(
                     QStringLiteral("tin_data.png looks like a second base-colour map and was left out")),
                 qPrintable(notes));
        QVERIFY2(!notes.contains(QStringLiteral("tin_data.png was taken as")), qPrintable(notes));
    }
    void whatIsChangedInThePlanIsWhatIsMade() {
        const fs::path path = folder();
        writeSet(path, "oar", 90);
        QVERIFY(
            writePicture(path / "oar_mix.png", 16, 16, 3, [](int x, int y, int c) { return x * 3 + y * c; }));
        auto plan = planBringIn({path});
        for (PlannedMap& map : plan->sets[0].maps) {
            if (map.name.pattern == "oar_mix.png") {
                map.name.components = {"occlusion", "", "metalness", ""};
                map.name.isKnown = true;
            }
            if (map.name.role == "roughness") map.name.role = "gloss";
            if (map.name.role == "normal") map.name.greenDown = true;
            if (map.name.role == "base-colour") map.encoding = "linear Rec.709";
        }
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *plan, notes);
        QCOMPARE(std::get<std::string>(p.lineOfChannel("metalness")->steps[0]->controls.at("component")),
                 std::string("blue"));
        QCOMPARE(std::get<std::string>(p.lineOfChannel("occlusion")->steps[0]->controls.at("component")),
                 std::string("red"));
        QCOMPARE(p.lineOfChannel("roughness")->steps.back()->type, std::string("invert"));
        QCOMPARE(std::get<std::string>(p.lineOfChannel("normal")->steps[0]->controls.at("green")),
                 std::string("down"));
        QCOMPARE(findMap(*p.sets[0], "base-colour")->encoding, std::string("linear Rec.709"));
    }
    void aSetGoesIntoAnOpenProjectAsItIs() {
        const fs::path path = folder();
        writeSet(path / "a", "body", 200);
        writeSet(path / "b", "lid", 20);
        std::vector<std::string> notes;
        const Project first = *bringInto({}, *planBringIn({path / "a"}), notes);
        auto plan = planBringIn({path / "b"});
        const Project both = *bringInto(first, *plan, notes);
        QCOMPARE(both.sets.size(), std::size_t{2});
        QCOMPARE(both.lines.size(), first.lines.size());  // all its channels have lines already
        QVERIFY(all(notes).contains(QStringLiteral("have lines already")));
        QVERIFY(problemsOf(both).empty());
        plan->sets[0].drives = false;
        for (PlannedMap& map : plan->sets[0].maps) map.isTaken = false;
        QCOMPARE(bringInto(first, *plan, notes).error().kind, ErrorKind::Refused);
    }
    void aSetIsReplacedByRole() {
        const fs::path path = folder();
        writeSet(path / "old", "body", 200);
        writeSet(path / "new", "panel", 20);
        fs::remove(path / "new" / "panel_nm.png");
        QVERIFY(
            writePicture(path / "new" / "panel_ao.png", 16, 16, 1, [](int x, int, int) { return 255 - x; }));
        std::vector<std::string> notes;
        Project p = *bringInto({}, *planBringIn({path / "old"}), notes);
        const std::string id = p.sets[0]->id;
        notes.clear();
        const Project next = *replaceSet(p, id, *planBringIn({path / "new"}), notes);
        QVERIFY(next.lines == p.lines);  // all work is kept
        const TextureSet& set = *next.sets[0];
        QCOMPARE(set.id, id);
        QCOMPARE(fs::path(set.folder), fs::absolute(path / "new").lexically_normal());
        QCOMPARE(findMap(set, "base-colour")->file, std::string("panel_albedo.png"));
        QCOMPARE(findMap(set, "normal")->file, std::string("../old/body_nm.png"));
        QCOMPARE(findMap(set, "occlusion")->file, std::string("panel_ao.png"));
        QVERIFY(all(notes).contains(QStringLiteral("The new set has no normal: body_nm.png stays.")));
        QVERIFY(all(notes).contains(QStringLiteral("panel_ao.png is new as occlusion")));
        const Resources resources(path);
        QVERIFY(resources.problemsOf(next).empty());
        QCOMPARE(replaceSet(p, "none", *planBringIn({path / "new"}), notes).error().kind, ErrorKind::Refused);
    }
    void subFoldersOnRequest() {
        const fs::path path = folder();
        writeSet(path / "stove", "stove", 200);
        writeSet(path / "stove" / "door", "door", 100);
        QCOMPARE(planBringIn({path / "stove"})->sets.size(), std::size_t{1});
        const auto plan = planBringIn({path / "stove"}, true);
        QCOMPARE(plan->sets.size(), std::size_t{2});
        QVERIFY(plan->sets[0].folder != plan->sets[1].folder);
        // A link that leads round is not followed.
        std::error_code code;
        fs::create_directory_symlink(path / "stove", path / "stove" / "door" / "again", code);
        QVERIFY(!code);
        QCOMPARE(planBringIn({path / "stove"}, true)->sets.size(), std::size_t{2});
    }
    void missingTilesAndSecondMapsAreTold() {
        const fs::path path = folder();
        for (const char* tile : {"1001", "1002"})
            QVERIFY(writePicture(path / (std::string("sail_color.") + tile + ".png"), 8, 8, 3,
                                 [](int x, int, int) { return x * 9; }));
        QVERIFY(writePicture(path / "sail_rough.1001.png", 8, 8, 1, [](int x, int, int) { return x * 9; }));
        QVERIFY(writePicture(path / "sail_diffuse.1001.png", 8, 8, 3, [](int x, int, int) { return x * 9; }));
        const auto plan = planBringIn({path});
        const PlannedSet& set = plan->sets[0];
        QCOMPARE(mapOf(set, "base-colour")->tiles, (std::vector<int>{1001, 1002}));
        QVERIFY(
            mapOf(set, "roughness")->warning.starts_with("Tile 1002 of sail_rough.<UDIM>.png is not there"));
        int left = 0;
        for (const PlannedMap& map : set.maps) left += map.isTaken ? 0 : 1;
        QCOMPARE(left, 1);
    }
    void whatCannotBeReadIsASentenceAndTheRestGoesOn() {
        const fs::path path = folder();
        writeSet(path, "oar", 90);
        writeText(path / "oar_height.png", "no picture");
        writeText(path / "broken.obj", "f 1 2 3\n");
        const auto plan = planBringIn({path});
        QVERIFY(plan.has_value());
        QCOMPARE(plan->leftOut.size(), std::size_t{2});
        QVERIFY(all(plan->leftOut).contains(QStringLiteral("oar_height.png")));
        QVERIFY(all(plan->leftOut).contains(QStringLiteral("broken.obj")));
        QVERIFY(!plan->model);
        QVERIFY(!planBringIn({path / "broken.obj"}));
        QCOMPARE(planBringIn({path / "none"}).error().kind, ErrorKind::Missing);
        QCOMPARE(planBringIn({folder()}).error().kind, ErrorKind::Invalid);
    }
    void itTellsHowFarItIsAndStops() {
        const fs::path path = folder();
        writeSet(path, "oar", 90);
        std::atomic<int> told{0}, all{0};
        QVERIFY(planBringIn({path}, false, [&](int, int n) { ++told, all = n; }));
        QCOMPARE(told.load(), 3);
        QCOMPARE(all.load(), 3);
        CancelToken cancel;
        cancel.cancel();
        QCOMPARE(planBringIn({path}, false, {}, cancel).error().kind, ErrorKind::Cancelled);
    }
    void whatIsReadIsThereWhenItIsShown() {
        const fs::path path = folder();
        writeSet(path, "oar", 90);
        ImageStore store;
        const ColourManagement colours = ColourManagement::shipped();
        const ReadInto into{store, colours};
        const auto plain = planBringIn({path});
        const auto plan = planBringIn({path}, false, {}, {}, &into);
        QVERIFY(plan.has_value());
        // The same plan, by whatever way it was read.
        for (std::size_t i = 0; i < plan->sets[0].maps.size(); ++i) {
            const PlannedMap &a = plan->sets[0].maps[i], &b = plain->sets[0].maps[i];
            QVERIFY(a.picture == b.picture && a.name.role == b.name.role &&
                    a.contents.mean == b.contents.mean);
        }
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *plan, notes);
        const std::size_t read = store.bytesInUse();
        QVERIFY(read > 0);
        const Resources resources(path, std::shared_ptr<ImageStore>(&store, [](ImageStore*) {}), colours);
        for (const Map& map : p.sets[0]->maps) QVERIFY(resources.map(*p.sets[0], map).has_value());
        QCOMPARE(store.bytesInUse(), read);  // nothing was read again
    }
    void anUnlikelySizeIsSeen() {
        const fs::path model = writeStove(folder());
        const auto asIs = planModel(model), inMetres = planModel(model, "m"),
                   inMillimetres = planModel(model, "mm");
        QCOMPARE(asIs->size.x, 40.0f);
        QCOMPARE(inMetres->size.x, 4000.0f);
        QVERIFY(std::fabs(inMillimetres->size.x - 4) < 1e-4f);
        QVERIFY(!isUnlikelySize({}, asIs->size));
        QVERIFY(isUnlikelySize({}, {0.4f, 0.9f, 0.1f}));
        QVERIFY(isUnlikelySize({}, {0, 12000, 0}));
        QCOMPARE(centimetresOf("auto", "a.glb"), 100.0f);
        QCOMPARE(centimetresOf("auto", "a.obj"), 1.0f);
        QCOMPARE(centimetresOf("inch", "a.glb"), 2.54f);
    }
    void partsWithoutTextureCoordinatesAreNamed() {
        const fs::path path = folder();
        writeText(path / "tray.obj",
                  "o tray\n" + quadText(0, 0, 10, 1) + "o handle\n" + "v 0 0 1\nv 1 0 1\nv 1 1 1\nf 5 6 7\n");
        const auto model = planModel(path / "tray.obj");
        QVERIFY2(model.has_value(), model ? "" : model.error().sentence.c_str());
        QCOMPARE(model->withoutUv, std::vector<std::string>{"handle"});
        QCOMPARE(model->objects, std::size_t{2});
        QVERIFY(model->materials.empty());
    }
};

QTEST_GUILESS_MAIN(BringPlanTest)
#include "bring_plan_test.moc"
