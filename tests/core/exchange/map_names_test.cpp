// Names of sets by many hands: habits of our own invention, each with what its files are.
#include <QtTest>

#include "core/exchange/map_names.h"

using namespace kettle;

namespace {

/// "file = role" a line; the role of a file that is none of the trade's begins with "?".
struct Habit {
    const char* name;
    std::vector<std::pair<const char*, const char*>> files;
};

const std::vector<Habit>& habits() {
    static const std::vector<Habit> list{
        {"plain words",
         {{"kettle_basecolor.png", "base-colour"},
          {"kettle_roughness.png", "roughness"},
          {"kettle_metallic.png", "metalness"},
          {"kettle_normal.png", "normal"},
          {"kettle_height.exr", "height"}}},
        {"the material's name is a map's",
         {{"brushed_metal_albedo.png", "base-colour"},
          {"brushed_metal_rough.png", "roughness"},
          {"brushed_metal_metal.png", "metalness"},
          {"brushed_metal_nrm.png", "normal"}}},
        {"the base colour has no word",
         {{"RoughPlank.jpg", "base-colour"},
          {"RoughPlank_n.jpg", "normal"},
          {"RoughPlank_r.jpg", "roughness"},
          {"RoughPlank_ao.jpg", "occlusion"}}},
        {"single letters",
         {{"ladle-d.tga", "base-colour"},
          {"ladle-n.tga", "normal"},
          {"ladle-g.tga", "gloss"},
          {"ladle-s.tga", "specular"}}},
        {"humps and sizes",
         {{"GalleyTile4kBaseColor.png", "base-colour"},
          {"GalleyTile4kAOMap.png", "occlusion"},
          {"GalleyTile4kNormalDX.png", "normal"},
          {"GalleyTile4kSmoothness.png", "gloss"}}},
        {"versions and copies",
         {{"stove_v03_diffuse_final.tif", "base-colour"},
          {"stove_v03_glossiness_final.tif", "gloss"},
          {"stove_v03_normals (1).tif", "normal"},
          {"stove_v03_bump_16bit.tif", "height"}}},
        {"the role comes first",
         {{"Albedo_oar.png", "base-colour"},
          {"Roughness_oar.png", "roughness"},
          {"Normal_oar.png", "normal"},
          {"Emissive_oar.png", "emission"}}},
        {"the role in the middle",
         {{"deck_color_01_2048.png", "base-colour"},
          {"deck_displacement_01_2048.png", "height"},
          {"deck_opacity_01_2048.png", "opacity"}}},
        {"two words and spaces",
         {{"soup bowl base color.png", "base-colour"},
          {"soup bowl ambient occlusion.png", "occlusion"},
          {"soup bowl specular level.png", "specular-level"}}},
        {"packed by letters",
         {{"hull_bc.png", "base-colour"},
          {"hull_nm.png", "normal"},
          {"hull_orm.png", "occlusion-roughness-metalness"}}},
        {"packed in another order",
         {{"rail_col.png", "base-colour"}, {"rail_rma.png", "roughness-metalness-occlusion"}}},
        {"packed in words",
         {{"Lamp_BaseColor.png", "base-colour"},
          {"Lamp_OcclRoughMetal.png", "occlusion-roughness-metalness"}}},
        {"metalness and gloss in one",
         {{"pan_ColourAlpha.png", "base-colour"}, {"pan_MetalSmooth.png", "metalness-gloss"}}},
        {"abbreviations",
         {{"mug_alb.png", "base-colour"},
          {"mug_rgh.png", "roughness"},
          {"mug_mtl.png", "metalness"},
          {"mug_nml.png", "normal"},
          {"mug_dsp.png", "height"},
          {"mug_occ.png", "occlusion"},
          {"mug_ems.png", "emission"}}},
        {"dots", {{"sail.cloth.diff.png", "base-colour"}, {"sail.cloth.nor.png", "normal"}}},
        {"all capitals", {{"BUOY_COLOUR.PNG", "base-colour"}, {"BUOY_NORMALMAP.PNG", "normal"}}},
        {"extras keep their words",
         {{"kettle_basecolor.png", "base-colour"},
          {"kettle_gloss.png", "gloss"},
          {"kettle_wear.png", "?wear"},
          {"kettle_drip_mask.png", "?drip-mask"}}},
        {"colour spaces in the name",
         {{"floor_srgb_color.png", "base-colour"}, {"floor_raw_rough.png", "roughness"}}},
        {"only roles",
         {{"albedo.png", "base-colour"}, {"normal.png", "normal"}, {"roughness.png", "roughness"}}},
        {"numbers before",
         {{"01_tin_color.png", "base-colour"},
          {"02_tin_metalness.png", "metalness"},
          {"03_tin_normals.png", "normal"}}},
    };
    return list;
}

std::vector<std::string> filesOf(const Habit& habit) {
    std::vector<std::string> files;
    for (const auto& [file, role] : habit.files) files.emplace_back(file);
    return files;
}

}  // namespace

class MapNamesTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void tilesByColumnAndRow() {
        const auto names =
            readMapNames({"hull_color_u1_v1.png", "hull_color_u2_v1.png", "hull_rough_u1_v2.png"});
        QCOMPARE(names[0].pattern, std::string("hull_color_<UVTILE>.png"));
        QCOMPARE(names[1].pattern, names[0].pattern);
        QCOMPARE(names[2].pattern, std::string("hull_rough_<UVTILE>.png"));
        QCOMPARE(names[0].role, std::string("base-colour"));
        QCOMPARE(names[2].role, std::string("roughness"));
        for (const MapName& name : names) QVERIFY(name.isTile && name.set == "hull");
        // A version is none, and neither is half a tile.
        QVERIFY(!readMapNames({"oar_v1_color.png"})[0].isTile);
        QVERIFY(!readMapNames({"menu1_v1.png"})[0].isTile);
    }
    void twentyHabits_data() {
        QTest::addColumn<int>("habit");
        for (std::size_t i = 0; i < habits().size(); ++i)
            QTest::newRow(habits()[i].name) << static_cast<int>(i);
    }
    void twentyHabits() {
        QFETCH(int, habit);
        const Habit& h = habits()[static_cast<std::size_t>(habit)];
        const auto names = readMapNames(filesOf(h));
        QCOMPARE(names.size(), h.files.size());
        for (std::size_t i = 0; i < names.size(); ++i) {
            const std::string wanted = h.files[i].second;
            const std::string got = (names[i].isKnown ? "" : "?") + names[i].role;
            QVERIFY2(got == wanted, (names[i].file + " is " + got + ", wanted " + wanted).c_str());
            QVERIFY2(!names[i].reason.empty(), names[i].file.c_str());
            QCOMPARE(names[i].set, names[0].set);  // one set
        }
    }
    void wordsOfAName() {
        const auto words = [](const char* file) {
            std::string text;
            for (const std::string& w : wordsOfName(file)) text += (text.empty() ? "" : " ") + w;
            return QString::fromStdString(text);
        };
        QCOMPARE(words("KettleBaseColor.tif"), QStringLiteral("kettle base color"));
        QCOMPARE(words("AOMap_GalleyTile.png"), QStringLiteral("ao galley"));
        QCOMPARE(words("stove_v03_normals-16bit (2).png"), QStringLiteral("stove normals"));
        QCOMPARE(words("oar_2048x2048_rough.png"), QStringLiteral("oar rough"));
        QCOMPARE(words("hull_1012_color.png"), QStringLiteral("hull color"));
    }
    void tilesAndSides() {
        const auto tiles =
            readMapNames({"hull_color.1001.png", "hull_color.1002.png", "hull_1024_rough.png"});
        QCOMPARE(tiles[0].pattern, std::string("hull_color.<UDIM>.png"));
        QCOMPARE(tiles[1].pattern, tiles[0].pattern);
        QCOMPARE(tiles[0].role, std::string("base-colour"));
        // 1024 alone is a side and not the tile of column 24.
        const auto sides = readMapNames({"hull_1024_color.png", "hull_1024_rough.png"});
        QVERIFY(!sides[0].isTile && sides[0].pattern == "hull_1024_color.png");
        QVERIFY(!readMapNames({"hull2048_color.png"})[0].isTile);
        // A year is no tile, unless it stands beside others.
        QVERIFY(!readMapNames({"lamp_1923_color.png", "lamp_1923_rough.png"})[0].isTile);
        QVERIFY(readMapNames({"lamp_1101_color.png", "lamp_1102_color.png"})[0].isTile);
        QVERIFY(readMapNames({"lamp_1001_color.png"})[0].isTile);
    }
    void setsInOneFolderComeApart() {
        const auto names = readMapNames(
            {"ladle_color.png", "ladle_rough.png", "mug_color.png", "mug_rough.png", "mug_stain.png"});
        QCOMPARE(names[0].set, std::string("ladle"));
        QCOMPARE(names[1].set, std::string("ladle"));
        QCOMPARE(names[3].set, std::string("mug"));
        QCOMPARE(names[4].set, std::string("mug"));
        QCOMPARE(names[4].role, std::string("stain"));
    }
    void numbersBehindALetterLeaveItsRole() {
        const auto names = readMapNames({"plank_n_01.png", "plank_r_01.png", "plank_c_01.png"});
        QCOMPARE(names[0].role, std::string("normal"));
        QCOMPARE(names[1].role, std::string("roughness"));
        QCOMPARE(names[2].role, std::string("base-colour"));
    }
    void greenDownIsSaid() {
        QVERIFY(readMapNames({"oar_normal_dx.png"})[0].greenDown);
        QVERIFY(readMapNames({"oarNormalDX.png"})[0].greenDown);
        QVERIFY(!readMapNames({"oar_normal_gl.png"})[0].greenDown);
    }
    void packedComponentsAreInTheirOrder() {
        const auto rma = readMapNames({"oar_color.png", "oar_rma.png"})[1];
        QCOMPARE(rma.components, (Components{"roughness", "metalness", "occlusion", ""}));
        const auto pair = readMapNames({"oar_MetalSmooth.png"})[0];
        QCOMPARE(pair.components, (Components{"metalness", "", "", "gloss"}));
        QVERIFY(pair.isGuess);
        const auto two = readMapNames({"oar_MetalRough.png"})[0];
        QCOMPARE(two.components, (Components{"", "roughness", "metalness", ""}));
        QVERIFY(two.isPacked() && pair.isPacked() && rma.isPacked());
        QVERIFY(!readMapNames({"oar_rough.png"})[0].isPacked());
    }
    void componentsAsSomebodyTypesThem() {
        const Components all{"gloss", "metalness", "occlusion", ""};
        for (const char* typed : {"gloss metal ao", "R gloss, G metalness, B ambient occlusion",
                                  "gloss/metal/AO", "  Gloss Metallic occlusion "})
            QVERIFY2(componentsOf(typed) == all, typed);
        QCOMPARE(componentsOf("orm"), (Components{"occlusion", "roughness", "metalness", ""}));
        QCOMPARE(componentsOf("rough - height"), (Components{"roughness", "", "height", ""}));
        QCOMPARE(componentsOf("nothing metal nothing gloss"), (Components{"", "metalness", "", "gloss"}));
        // No word of the trade, a map twice, more than a picture has, and nothing at all.
        for (const char* typed :
             {"gloss metal tea", "gloss gloss", "gloss metal ao height opacity", "", "- -", "kettle"})
            QVERIFY2(!componentsOf(typed), typed);
    }
    void aLetterAloneIsNoRole() {
        // Nothing bears it out: no other file of this set.
        QVERIFY(!readMapNames({"vitamin_d.png"})[0].isKnown);
        QVERIFY(readMapNames({"vitamin_d.png", "vitamin_normal.png"})[0].isKnown);
    }
};

QTEST_APPLESS_MAIN(MapNamesTest)
#include "map_names_test.moc"
