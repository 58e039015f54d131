// An EXR may hold several pictures: each can be a map of its own, by its name.
#include <QTemporaryDir>
#include <QtTest>

#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/engine/resources.h"
#include "core/exchange/bring_plan.h"
#include "core/exchange/bring_project.h"
#include "core/image/image.h"
#include "tests/support/exr.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class PicturesInAFileTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    int m_count = 0;

    fs::path folder() {
        const fs::path path = fs::path(m_dir.path().toStdString()) / ("f" + std::to_string(++m_count));
        fs::create_directories(path);
        return path;
    }
    /// Colours, a roughness, a normal in three axes, a second picture with an alpha, and a depth.
    fs::path deck() {
        const fs::path file = folder() / "deck.exr";
        writeExr(file, 8, 4,
                 {{"R", 0.5f},
                  {"G", 0.25f},
                  {"B", 0.125f},
                  {"roughness", 0.75f},
                  {"normal.X", 0.5f},
                  {"normal.Y", 0.5f},
                  {"normal.Z", 1.0f},
                  {"stain.R", 0.2f},
                  {"stain.G", 0.1f},
                  {"stain.B", 0.05f},
                  {"stain.A", 0.5f},
                  {"Z", 9.0f}});
        return file;
    }
    static std::vector<float> firstPixel(const Result<PixelBuffer>& pixels) {
        std::vector<float> numbers;
        for (int c = 0; pixels && c < pixels->channels; ++c) numbers.push_back(pixels->row<float>(0)[c]);
        return numbers;
    }
    static const PlannedMap* planned(const BringPlan& plan, const std::string& channels) {
        for (const PlannedSet& set : plan.sets)
            for (const PlannedMap& map : set.maps)
                if (map.channels == channels) return &map;
        return nullptr;
    }

private Q_SLOTS:
    void eachIsOfferedByItsName() {
        const auto info = inspectImage(deck());
        QVERIFY2(info.has_value(), info ? "" : info.error().sentence.c_str());
        QCOMPARE(info->others, (std::vector<std::string>{"Z", "roughness", "normal", "stain"}));
        QCOMPARE(info->channels, 3);
        QCOMPARE(inspectImage(deck(), "stain")->channels, 4);
    }
    void eachIsReadByItsName() {
        using V = std::vector<float>;
        const fs::path file = deck();
        QCOMPARE(firstPixel(readImage(file)), (V{0.5f, 0.25f, 0.125f}));
        QCOMPARE(firstPixel(readImage(file, "roughness")), (V{0.75f}));
        QCOMPARE(firstPixel(readImage(file, "normal")), (V{0.5f, 0.5f, 1.0f}));
        QCOMPARE(firstPixel(readImage(file, "stain")), (V{0.4f, 0.2f, 0.1f, 0.5f}));  // alpha apart
        QCOMPARE(firstPixel(readImage(file, "Z")), (V{9.0f}));
    }
    void aNameThatIsNotThereIsTold() {
        const fs::path file = deck();
        const auto read = readImage(file, "gloss");
        QCOMPARE(read.error().kind, ErrorKind::Unreadable);
        QVERIFY(
            QString::fromStdString(read.error().sentence)
                .endsWith(QStringLiteral("beside its colours it holds Z, roughness, normal, stain. Choose "
                                         "others, or another file.")));
        const fs::path plain = folder() / "plain.png";
        QVERIFY(writePicture(plain, 4, 4, 3, [](int, int, int) { return 9; }).has_value());
        QVERIFY(QString::fromStdString(readImage(plain, "gloss").error().sentence)
                    .contains(QStringLiteral("it holds its colours alone")));
    }
    void bringingInTakesWhatItsNameTells() {
        const auto plan = planBringIn({deck().parent_path()});
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().sentence.c_str());
        QCOMPARE(plan->sets.size(), std::size_t{1});
        QCOMPARE(plan->sets[0].maps.size(), std::size_t{5});
        QCOMPARE(planned(*plan, "")->name.role, std::string("base-colour"));
        QCOMPARE(planned(*plan, "roughness")->name.role, std::string("roughness"));
        QCOMPARE(planned(*plan, "normal")->name.role, std::string("normal"));
        for (const char* taken : {"", "roughness", "normal"}) QVERIFY(planned(*plan, taken)->isTaken);
        // What no word tells waits, and can be chosen.
        for (const char* left : {"stain", "Z"}) QVERIFY(!planned(*plan, left)->isTaken);
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *plan, notes);
        QCOMPARE(findMap(*p.sets[0], "roughness")->file, std::string("deck.exr"));
        QCOMPARE(findMap(*p.sets[0], "roughness")->channels, std::string("roughness"));
        QVERIFY(p.lineOfChannel("roughness") != nullptr && p.lineOfChannel("normal") != nullptr);
        const Resources resources({}, p);
        const auto image = resources.map(*p.sets[0], *findMap(*p.sets[0], "roughness"));
        QVERIFY2(image.has_value(), image ? "" : image.error().sentence.c_str());
        QCOMPARE((*image)->channels(), 1);
        QCOMPARE((*image)->pixels().row<float>(0)[0], 0.75f);
    }
    void tilesHoldThemToo() {
        const fs::path path = folder();
        for (const int tile : {1001, 1002})
            writeExr(path / ("hull." + std::to_string(tile) + ".exr"), 4, 4,
                     {{"R", 0.5f}, {"G", 0.5f}, {"B", 0.5f}, {"gloss", static_cast<float>(tile - 1000) / 4}});
        const auto plan = planBringIn({path});
        QVERIFY(plan.has_value());
        const PlannedMap* gloss = planned(*plan, "gloss");
        QVERIFY(gloss != nullptr && gloss->isTaken);
        QCOMPARE(gloss->tiles, (std::vector<int>{1001, 1002}));
        QCOMPARE(gloss->name.pattern, std::string("hull.<UDIM>.exr"));
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *plan, notes);
        const Resources resources({}, p);
        const auto image = resources.map(*p.sets[0], *findMap(*p.sets[0], "gloss"));
        QVERIFY2(image.has_value(), image ? "" : image.error().sentence.c_str());
        float value = 0;
        float* out[4]{&value, nullptr, nullptr, nullptr};
        for (const int tile : {0, 1}) {
            const float u = static_cast<float>(tile) + 0.5f, v = 0.5f, footprint = 0;
            (*image)->sample({&u, &v, &footprint, 1}, 1, out);
            QCOMPARE(value, static_cast<float>(tile + 1) / 4);
        }
    }
    void anotherIsChosenAndKeptInTheProject() {
        std::vector<std::string> notes;
        const Project p = *bringInto({}, *planBringIn({deck().parent_path()}), notes);
        const std::string set = p.sets[0]->id;
        const auto chosen = edits::setMapChannels(p, set, "base-colour", "stain");
        QVERIFY(chosen.has_value());
        const auto read = projectFromJson(projectToJson(*chosen), "p");
        QVERIFY2(read.has_value(), read ? "" : read.error().sentence.c_str());
        QCOMPARE(findMap(*read->sets[0], "base-colour")->channels, std::string("stain"));
        // Another file need not hold what this one holds.
        QVERIFY(findMap(*edits::setFile(*chosen, set, "base-colour", "b.exr")->sets[0], "base-colour")
                    ->channels.empty());
        QCOMPARE(edits::setMapChannels(p, set, "none", "stain").error().kind, ErrorKind::Refused);
    }
};

QTEST_GUILESS_MAIN(PicturesInAFileTest)
#include "pictures_in_a_file_test.moc"
