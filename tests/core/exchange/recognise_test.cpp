#include "core/exchange/recognise.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/engine/compile.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class RecogniseTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void rolesFromNames_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("role");
        const auto row = [](const char* file, const char* role) {
            QTest::newRow(file) << QString::fromUtf8(file) << QString::fromUtf8(role);
        };
        row("kettle_basecolor.png", "base-colour");
        row("Kettle_Base_Color.png", "base-colour");
        row("KettleBaseColor.tif", "base-colour");
        row("kettle-albedo.jpg", "base-colour");
        row("kettle.diffuse.tga", "base-colour");
        row("KETTLE_COL.PNG", "base-colour");
        row("kettle_gloss.png", "gloss");
        row("KettleSmoothness.png", "gloss");
        row("kettle_rgh.png", "roughness");
        row("kettle roughness.png", "roughness");
        row("kettle_Metallic.png", "metalness");
        row("kettle_mtl.exr", "metalness");
        row("kettle_nrm.png", "normal");
        row("kettle_normal_dx.png", "normal");
        row("KettleNormalGL.png", "normal");
        row("kettle_AO.png", "occlusion");
        row("kettle_ambient_occlusion.png", "occlusion");
        row("kettle_disp.exr", "height");
        row("kettle_emissive.png", "emission");
        row("kettle_opacity.png", "opacity");
        row("kettle_orm.png", "occlusion-roughness-metalness");
        row("kettle_ARM.png", "occlusion-roughness-metalness");
        row("hull_basecolor.1002.png", "base-colour");
        row("kettle_basecolor_2k.png", "base-colour");
        row("kettle_wear.png", "wear");
        row("metal_kettle_roughness.png", "roughness");
    }
    void rolesFromNames() {
        QFETCH(QString, file);
        QFETCH(QString, role);
        QCOMPARE(QString::fromStdString(recogniseName(file.toStdString()).role), role);
    }
    void tilesAndGreenDownAreSeen() {
        QCOMPARE(recogniseName("hull_basecolor.1002.png").pattern, std::string("hull_basecolor.<UDIM>.png"));
        QVERIFY(recogniseName("hull_1013_normal.png").isTile);
        QVERIFY(!recogniseName("hull_2048_normal.png").isTile);
        QVERIFY(recogniseName("kettle_normal_dx.png").greenDown);
        QVERIFY(recogniseName("kettleNormalDX.png").greenDown);
        QVERIFY(!recogniseName("kettle_normal.png").greenDown);
    }
    void theKettleBecomesAProject() {
        const std::filesystem::path data = KETTLE_DATA_DIR;
        const auto made = projectFromFolder(data / "enamel_kettle");
        QVERIFY(made.has_value());
        const Project& p = made->project;
        QCOMPARE(p.sets[0]->name, std::string("Enamel kettle"));
        QCOMPARE(p.sets[0]->folder,
                 (std::filesystem::absolute(data) / "enamel_kettle").lexically_normal().string());
        QCOMPARE(p.sets[0]->maps.size(), std::size_t{8});
        for (const char* channel : {"base-colour", "metalness", "roughness", "normal", "height", "occlusion"})
            QVERIFY2(p.lineOfChannel(channel) != nullptr, channel);
        const Line& roughness = *p.lineOfChannel("roughness");
        QCOMPARE(roughness.steps[0]->role, std::string("gloss"));
        QCOMPARE(roughness.steps[1]->type, std::string("invert"));
        QCOMPARE(std::get<std::string>(roughness.steps[1]->controls.at("from")), std::string("gloss"));
        QCOMPARE(std::get<std::string>(p.findLine("wear")->steps[0]->controls.at("component")),
                 std::string("alpha"));
        QVERIFY(p.findLine("grain")->channel.empty());
        QVERIFY(problemsOf(p).empty());
        QVERIFY(std::any_of(made->notes.begin(), made->notes.end(), [](const std::string& n) {
            return n.starts_with("The gloss map was inverted");
        }));
    }
    void packedMapsAndTilesAreTakenApart() {
        const std::filesystem::path data = KETTLE_DATA_DIR;
        const auto made = projectFromFolder(data / "ferry_hull");
        QVERIFY(made.has_value());
        QCOMPARE(made->project.sets[0]->maps.size(), std::size_t{3});
        const auto component = [&](const char* channel) {
            return std::get<std::string>(
                made->project.lineOfChannel(channel)->steps[0]->controls.at("component"));
        };
        QCOMPARE(component("occlusion"), std::string("red"));
        QCOMPARE(component("roughness"), std::string("green"));
        QCOMPARE(component("metalness"), std::string("blue"));
        QCOMPARE(made->project.lineOfChannel("base-colour")->steps[0]->role, std::string("base-colour"));
    }
    void everyOtherDemoSetIsRecognised() {
        const std::filesystem::path data = KETTLE_DATA_DIR;
        for (const char* set : {"glazed_tile", "rattan", "sailcloth"}) {
            const auto made = projectFromFolder(data / set);
            QVERIFY2(made.has_value(), set);
            for (const char* channel : {"base-colour", "roughness", "normal"})
                QVERIFY2(made->project.lineOfChannel(channel) != nullptr, set);
            for (const auto& l : made->project.lines) QVERIFY(!l->channel.empty());
        }
    }
    void whatPicturesHoldIsSeen() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        const auto grey = [](int x, int, int) { return x * 3; };
        const auto unit = [](int x, int, int c) { return c == 2 ? 250 : 118 + (x % 3) * 10; };
        QVERIFY(writePicture(path / "oar.png", 64, 64, 3, [](int x, int y, int c) { return x + y + c * 9; }));
        QVERIFY(writePicture(path / "oar_vectors.png", 64, 64, 3, unit));
        QVERIFY(writePicture(path / "oar_gls.png", 64, 64, 1, grey));
        QVERIFY(writePicture(path / "oar_spec.png", 64, 64, 3, grey));
        QVERIFY(writePicture(path / "oar_height.png", 64, 64, 3, unit));
        const auto made = projectFromFolder(path);
        QVERIFY(made.has_value());
        const auto roleOf = [&](const char* channel) {
            const Line* line = made->project.lineOfChannel(channel);
            return line != nullptr ? QString::fromStdString(line->steps[0]->role) : QString();
        };
        QCOMPARE(roleOf("base-colour"), QStringLiteral("base-colour"));
        QCOMPARE(roleOf("normal"), QStringLiteral("normal"));
        QCOMPARE(roleOf("roughness"), QStringLiteral("gloss"));
        QCOMPARE(roleOf("specular-level"), QStringLiteral("specular"));
        QString notes;
        for (const std::string& n : made->notes) notes += QString::fromStdString(n) + QLatin1Char('\n');
        for (const char* told :
             {"oar.png was taken as base-colour, since it bears only the words",
              "oar_vectors.png was taken as the normal map, since it looks like one",
              "oar_height.png is called height, but looks like a normal map",
              "oar_spec.png was taken as the specular level", "The gloss map was inverted"})
            QVERIFY2(notes.contains(QLatin1String(told)), qPrintable(notes));
        QVERIFY(problemsOf(made->project).empty());
    }
    void whatANameSaysGoesBeforeWhatIsGuessed() {
        // A detail that looks like a normal map, and a picture without a word, both before the true ones by
        // name.
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        const auto unit = [](int x, int, int c) { return c == 2 ? 250 : 118 + (x % 3) * 10; };
        const auto paint = [](int x, int y, int c) { return x + y + c * 9; };
        QVERIFY(writePicture(path / "oar.png", 64, 64, 3, paint));
        QVERIFY(writePicture(path / "oar_color.png", 64, 64, 3, paint));
        QVERIFY(writePicture(path / "oar_detail.png", 64, 64, 3, unit));
        QVERIFY(writePicture(path / "oar_normal.png", 64, 64, 3, unit));
        // Opaque everywhere: its alpha says nothing, so its picture is read.
        QVERIFY(writePicture(path / "oar_stain.png", 64, 64, 4,
                             [](int x, int, int c) { return c == 3 ? 255 : x; }));
        const auto made = projectFromFolder(path);
        QVERIFY(made.has_value());
        const auto fileOf = [&](const char* role) {
            const Map* map = findMap(*made->project.sets[0], role);
            return QString::fromStdString(map != nullptr ? map->file : "");
        };
        QCOMPARE(fileOf("base-colour"), QStringLiteral("oar_color.png"));
        QCOMPARE(fileOf("normal"), QStringLiteral("oar_normal.png"));
        QCOMPARE(fileOf("detail"), QStringLiteral("oar_detail.png"));
        QVERIFY(made->project.findLine("stain")->steps[0]->controls.empty());
    }
    void glossInAPackedMapIsInverted() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QVERIFY(writePicture(path / "oar_albedo.png", 8, 8, 3, [](int x, int, int) { return x * 9; }));
        QVERIFY(writePicture(path / "oar_MetalSmooth.png", 8, 8, 4,
                             [](int x, int y, int c) { return c == 3 ? y * 30 : x * 30; }));
        const auto made = projectFromFolder(path);
        QVERIFY(made.has_value());
        const Line& roughness = *made->project.lineOfChannel("roughness");
        QCOMPARE(std::get<std::string>(roughness.steps[0]->controls.at("component")), std::string("alpha"));
        QCOMPARE(roughness.steps[1]->type, std::string("invert"));
        const Line& metal = *made->project.lineOfChannel("metalness");
        QCOMPARE(std::get<std::string>(metal.steps[0]->controls.at("component")), std::string("red"));
        QCOMPARE(metal.steps.size(), std::size_t{1});
    }
    void twoSetsOfOneFolder() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        for (const char* file :
             {"mug_color.png", "mug_rough.png", "mug_nrm.png", "ladle_color.png", "ladle_rough.png"})
            QVERIFY(writePicture(path / file, 8, 8, 3, [](int x, int, int) { return x * 9; }));
        const auto made = projectFromFolder(path);
        QVERIFY(made.has_value());
        QCOMPARE(made->project.sets.size(), std::size_t{2});
        QCOMPARE(made->project.sets[0]->name, std::string("Mug"));
        QCOMPARE(made->project.sets[1]->name, std::string("Ladle"));
        QCOMPARE(made->project.lineOfChannel("roughness")->steps[0]->set, std::string("mug"));
        QVERIFY(made->notes.front().starts_with("There are 2 sets in the folder"));
    }
    void brokenFilesAreNamedAndTheRestGoesOn() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QVERIFY(
            writePicture(path / "pan_basecolor.png", 8, 8, 3, [](int, int, int) { return 100; }).has_value());
        std::ofstream(path / "pan_normal.png") << "no picture";
        std::ofstream(path / "readme.txt") << "words";
        const auto made = projectFromFolder(path);
        QVERIFY(made.has_value());
        QCOMPARE(made->project.sets[0]->maps.size(), std::size_t{1});
        QCOMPARE(made->notes.size(), std::size_t{1});
        QVERIFY(QString::fromStdString(made->notes[0]).contains(QStringLiteral("pan_normal.png")));
        QVERIFY(QString::fromStdString(made->notes[0]).endsWith(QStringLiteral("It was left out.")));
    }
    void nothingToBringInIsASentence() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QCOMPARE(QString::fromStdString(projectFromFolder(path / "none").error().sentence),
                 QStringLiteral("Cannot find the folder %1. Check the name.")
                     .arg(folder.filePath(QStringLiteral("none"))));
        QVERIFY(QString::fromStdString(projectFromFolder(path).error().sentence)
                    .startsWith(QStringLiteral("There are no pictures in ")));
        std::ofstream(path / "a.png") << "x";
        QVERIFY(QString::fromStdString(projectFromFolder(path).error().sentence)
                    .startsWith(QStringLiteral("None of the 1 pictures in ")));
    }
};

QTEST_APPLESS_MAIN(RecogniseTest)
#include "recognise_test.moc"
