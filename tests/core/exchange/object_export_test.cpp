// Objects in exports: one file for each, one chosen, and the check that warns where one flat map loses what
// differs.
#include <QTemporaryDir>
#include <QtTest>
#include <set>

#include "core/analysis/checks.h"
#include "core/analysis/sampling.h"
#include "core/colour/encoding.h"
#include "core/document/json.h"
#include "core/exchange/export.h"
#include "core/geometry/mesh_facts.h"
#include "core/geometry/object_points.h"
#include "core/image/image.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

class ObjectExportTest final : public QObject {
    Q_OBJECT
    const fs::path m_data = KETTLE_DATA_DIR;
    std::shared_ptr<SceneStore> m_scenes = std::make_shared<SceneStore>(m_data / "models");
    Resources m_resources{m_data};
    Project m_shelf;

    ExportOptions options(const QTemporaryDir& folder, const char* look = "five-glazes") {
        ExportOptions o;
        o.folder = folder.path().toStdString();
        o.looks = {look};
        o.channels = {"base-colour"};
        o.surfaces = {"glaze"};
        o.size = 16;
        return o;
    }
    /// The line's colour on each object, as a display shows it.
    std::map<std::string, Vec3> colours() {
        const auto scene = *m_scenes->load("shelf", "auto");
        const auto objects = objectsOf(scene->mesh());
        const PointSet points = objectPoints(scene->mesh(), objects);
        const Sampled s = sampleWants(m_shelf, m_shelf.findLook("five-glazes"),
                                      {{"base-colour", "", 3, true}}, m_resources, points);
        std::map<std::string, Vec3> of;
        for (std::size_t i = 0; i < objects.size(); ++i)
            of[objects[i].name] = {s.plane(0, 0)[i], s.plane(0, 1)[i], s.plane(0, 2)[i]};
        return of;
    }
    static Vec3 middleOf(const fs::path& file) {
        const auto pixels = readImage(file);
        const auto* row =
            pixels->row<std::uint8_t>(pixels->height / 2) + pixels->width / 2 * pixels->channels;
        return {static_cast<float>(row[0]) / 255, static_cast<float>(row[1]) / 255,
                static_cast<float>(row[2]) / 255};
    }

private Q_SLOTS:
    void initTestCase() {
        m_resources.setModels(std::make_shared<FactsStore>(m_scenes));
        m_shelf = *loadProject(m_data / "galley-shelf.palekettle");
    }

    void theModelTellsItsObjects() {
        const auto facts = m_resources.facts(m_shelf);
        QCOMPARE(facts->things().size(), std::size_t{48 + 7});
        for (const ModelThing& thing : facts->things())
            if (thing.name.starts_with("cup")) QVERIFY(thing.sharesTexture);
        QVERIFY(facts->only("cup-3") != nullptr);
        QVERIFY(facts->only("a jug") == nullptr);
        // A model whose parts lie apart in texture space shares nothing.
        Project kettle;
        kettle.view.model = "kettle";
        for (const ModelThing& thing : m_resources.facts(kettle)->things())
            QVERIFY2(!thing.sharesTexture, thing.name.c_str());
    }

    void oneFileForEachObject() {
        QTemporaryDir folder;
        ExportOptions o = options(folder);
        o.eachObject = true;
        const auto plan = planExport(m_shelf, m_resources, o);
        QVERIFY2(plan, plan ? "" : plan.error().sentence.c_str());
        // The surface's objects alone, and not what holds them.
        QCOMPARE(plan->size(), std::size_t{48});
        const auto made = exportMaps(m_shelf, m_resources, o);
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const auto wanted = colours();
        std::set<fs::path> files;
        for (const ExportItem& item : *plan) {
            QVERIFY2(item.file.filename().string().find(item.object) != std::string::npos, item.file.c_str());
            QVERIFY(files.insert(item.file).second);
            // Within the rounding of eight bits.
            QVERIFY2(length(middleOf(item.file) - wanted.at(item.object)) < 1.0f / 255, item.object.c_str());
        }
        // Three cups bear one number, and look alike.
        QCOMPARE(middleOf(o.folder / "glaze_five-glazes_base-colour_cup-18.png").x,
                 middleOf(o.folder / "glaze_five-glazes_base-colour_cup-20.png").x);
    }

    void ditheredFilesKeepEachObjectsMean() {
        QTemporaryDir folder;
        ExportOptions o = options(folder);
        o.eachObject = true, o.dither = true;
        QVERIFY(exportMaps(m_shelf, m_resources, o));
        const auto wanted = colours();
        int between = 0;
        for (const char* object : {"cup-1", "cup-7", "cup-30"}) {
            const auto file =
                readImage(o.folder / ("glaze_five-glazes_base-colour_" + std::string(object) + ".png"));
            QVERIFY(file);
            const Vec3 colour = wanted.at(object);
            const float display[3]{colour.x, colour.y, colour.z};
            for (int c = 0; c < 3; ++c) {
                double sum = 0;
                std::set<int> codes;
                for (int y = 0; y < file->height; ++y)
                    for (int x = 0; x < file->width; ++x) {
                        const int code = file->row<std::uint8_t>(y)[x * file->channels + c];
                        sum += code, codes.insert(code);
                    }
                // Bayer's pattern has 64 thresholds, so that a mean is met within half of one.
                const double mean = sum / (file->width * file->height);
                QVERIFY2(std::abs(mean - static_cast<double>(display[c]) * 255) < 0.02,
                         qPrintable(QStringLiteral("%1: %2 for %3")
                                        .arg(QLatin1String(object))
                                        .arg(mean)
                                        .arg(static_cast<double>(display[c]) * 255)));
                between += codes.size() == 2 ? 1 : 0;
            }
        }
        QVERIFY(between > 4);  // few values are whole codes
    }

    void whatDoesNotDifferIsOneFile() {
        QTemporaryDir folder;
        ExportOptions o = options(folder, "");
        o.eachObject = true;
        QCOMPARE(planExport(m_shelf, m_resources, o)->size(), std::size_t{1});
        o.pattern = "{object}-{channel}-{look}";
        o.looks = {"five-glazes"};
        QCOMPARE(planExport(m_shelf, m_resources, o)->front().file.filename().string(),
                 std::string("cup-1-base-colour-five-glazes.png"));
    }

    void aChosenObjectIsShown() {
        QTemporaryDir folder;
        Project chosen = m_shelf;
        chosen.view.object = "cup-11";
        ExportOptions o = options(folder);
        QVERIFY(exportMaps(chosen, m_resources, o));
        const auto wanted = colours();
        QVERIFY(length(middleOf(o.folder / "glaze_five-glazes_base-colour.png") - wanted.at("cup-11")) <
                1.0f / 255);
        // One that another model had: the first again.
        chosen.view.object = "a jug";
        QVERIFY(exportMaps(chosen, m_resources, o));
        QVERIFY(length(middleOf(o.folder / "glaze_five-glazes_base-colour.png") - wanted.at("cup-1")) <
                1.0f / 255);
    }

    void lostVariationIsWarnedOf() {
        const auto warned = [&](const char* look) {
            int count = 0;
            for (const Finding& finding : checkProject(m_shelf, look, m_resources))
                if (finding.check == "lost-variation") {
                    ++count;
                    const bool says = finding.sentence.find("48") != std::string::npos &&
                                      finding.sentence.find("cup-1 alone") != std::string::npos;
                    if (!says) return -1;
                }
            return count;
        };
        QCOMPARE(warned("five-glazes"), 2);
        QCOMPARE(warned(""), 0);
        QVERIFY(differsByObject(m_shelf));
        QVERIFY(!differsByObject(twoLines()));
    }
};

QTEST_GUILESS_MAIN(ObjectExportTest)
#include "object_export_test.moc"
