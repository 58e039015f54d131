// What is seen through: sheets over each other in light, cut-outs, the light that sheets let by, and pictures
// that follow an opacity that changes.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>

#include "core/colour/encoding.h"
#include "core/shading/preview.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

namespace fs = std::filesystem;
const fs::path kData = KETTLE_DATA_DIR;
constexpr int kWidth = 90, kHeight = 60;

/// Squares across the view at the given depths, `half` their size, each of `cells` x `cells` squares, with
/// texture coordinates from 0 to 1: objects "sheet0", "sheet1" and so on.
std::string sheets(const std::vector<std::pair<double, double>>& depthsAndHalves, int cells) {
    std::string text;
    int first = 1;
    for (std::size_t s = 0; s < depthsAndHalves.size(); ++s) {
        const auto [depth, half] = depthsAndHalves[s];
        text += "o sheet" + std::to_string(s) + "\n";
        const int side = cells + 1;
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x) {
                const double u = static_cast<double>(x) / cells, v = static_cast<double>(y) / cells;
                text += "v " + std::to_string((2 * u - 1) * half) + " " + std::to_string((2 * v - 1) * half) +
                        " " + std::to_string(depth) + "\nvt " + std::to_string(u) + " " + std::to_string(v) +
                        "\n";
            }
        for (int y = 0; y < cells; ++y)
            for (int x = 0; x < cells; ++x) {
                const auto corner = [&](int i, int j) {
                    const std::string n = std::to_string(first + (y + j) * side + x + i);
                    return " " + n + "/" + n;
                };
                text += "f" + corner(0, 0) + corner(1, 0) + corner(1, 1) + corner(0, 1) + "\n";
            }
        first += side * side;
    }
    return text;
}

/// A surface that only emits.
void addGlowing(Project& p, const std::string& id, const std::string& part, Colour glow) {
    p.surfaces.emplace_back(Surface{id, id, false, {part}, {}});
    const auto add = [&](const char* channel, Kind kind, Step only) {
        Line l = line(id + "-" + channel, kind, channel, {std::move(only)});
        l.surface = id;
        p.lines.emplace_back(std::move(l));
    };
    add("base-colour", Kind::Colour, step(id + "b", "colour", {{"colour", Colour{0, 0, 0}}}));
    add("specular-level", Kind::Scalar, step(id + "s", "value", {{"value", 0.0}}));
    add("emission", Kind::Colour, step(id + "e", "colour", {{"colour", glow}}));
}

void addOpacity(Project& p, const std::string& id, Step source) {
    Line l = line(id + "-opacity", Kind::Scalar, "opacity", {std::move(source)});
    l.surface = id;
    p.lines.emplace_back(std::move(l));
}

Step value(const std::string& id, double number) {
    return step(id, "value", {{"value", number}});
}

}  // namespace

class SeeThroughTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    Resources m_resources{kData};
    Preview m_preview{kData / "models", kData / "environments"};

    fs::path at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)).toStdString(); }
    /// Red glows before green.
    Project two(Step opacity) {
        Project p;
        addGlowing(p, "red", "sheet0", {0.5f, 0, 0});
        addGlowing(p, "green", "sheet1", {0, 0.5f, 0});
        addOpacity(p, "red", std::move(opacity));
        p.view.model = at("two.obj").string();
        p.view.transform = "standard";
        return p;
    }
    static PreviewRequest requestOf(Project project) {
        PreviewRequest r;
        r.project = std::move(project);
        r.width = kWidth, r.height = kHeight;
        r.camera = Camera{{0, 0, 0}, 40, 0, 0, 28};
        return r;
    }
    Picture picture(const PreviewRequest& r, Preview& preview, int stage = 1) {
        auto made = preview.render(r, m_resources, stage);
        if (!made) qFatal("%s", made.error().sentence.c_str());
        return *made;
    }
    static std::array<int, 3> pixel(const Picture& p, float x, float y) {
        const std::uint32_t c =
            p.pixels[static_cast<std::size_t>(y * kHeight) * kWidth + static_cast<std::size_t>(x * kWidth)];
        return {static_cast<int>(c >> 16 & 255), static_cast<int>(c >> 8 & 255), static_cast<int>(c & 255)};
    }
    static int code(float linear) { return toByte(linearToSrgb(linear)); }
    static bool near(std::array<int, 3> a, std::array<int, 3> b) {
        for (std::size_t i = 0; i < 3; ++i)
            if (std::abs(a[i] - b[i]) > 1) return false;
        return true;
    }
    /// What arrives of a light from the front at the last of some sheets, of whose others each hides so much.
    static std::map<float, int> arriving(const std::string& text, const fs::path& file, float hiding) {
        std::ofstream(file) << text;
        const RayScene scene(std::make_shared<const Mesh>(*loadMesh(file)));
        SeeThrough see;
        see.pictures.resize(1);
        see.pictures[0].set(1001, 1, {hiding});
        const int last = static_cast<int>(scene.mesh().parts.size()) - 1;
        see.ofPart.assign(scene.mesh().parts.size(), 0);
        see.ofPart[static_cast<std::size_t>(last)] = -1;
        ViewOptions options;
        options.keyDirection = {0, 0, 1};
        options.keyRadius = 0;
        options.groundShadow = false;
        options.seeThrough = &see;
        options.goesOn.assign(scene.mesh().parts.size(), true);
        options.goesOn[static_cast<std::size_t>(last)] = false;
        std::map<float, int> found;
        for (const Surfel& s :
             castView(scene, Camera{{0, 0, 0}, 40, 0, 0, 28}, kWidth, kHeight, options).surfels)
            if (s.part == last) ++found[s.keyLight];
        return found;
    }

private Q_SLOTS:
    void initTestCase() {
        // In front a small one, behind it a large one.
        std::ofstream(at("two.obj")) << sheets({{2, 3}, {0, 6}}, 1);
        QVERIFY(writePicture(at("half.png"), 64, 64, 1, [](int x, int, int) { return x < 32 ? 255 : 0; }));
    }

    void sheetsMixInLight_data() {
        QTest::addColumn<double>("opacity");
        for (const double o : {0.0, 0.25, 0.5, 0.9, 1.0}) QTest::addRow("%g", o) << o;
    }
    void sheetsMixInLight() {
        QFETCH(double, opacity);
        const auto o = static_cast<float>(opacity);
        const PreviewRequest r = requestOf(two(value("o", opacity)));
        for (const int stage : {1, 2}) {
            const Picture p = picture(r, m_preview, stage);
            const auto middle = pixel(p, 0.5f, 0.5f), beside = pixel(p, 0.5f, 0.22f);
            const std::array<int, 3> wanted{code(0.5f * o), code(0.5f * (1 - o)), 0};
            QVERIFY2(near(middle, wanted), qPrintable(QStringLiteral("%1 %2").arg(middle[0]).arg(middle[1])));
            QVERIFY(near(beside, {0, code(0.5f), 0}));
        }
    }

    void aCutOutIsThereOrNot() {
        Project p = two(step("o", "map"));
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"mask", at("half.png").string(), "raw", {}}}, {}});
        Line& opacity = p.lines.back().edit();
        opacity.steps.front().edit().set = "set";
        opacity.steps.front().edit().role = "mask";
        const Picture shown = picture(requestOf(p), m_preview);
        // Left the sheet, right what lies behind it.
        QVERIFY(near(pixel(shown, 0.46f, 0.5f), {code(0.5f), 0, 0}));
        QVERIFY(near(pixel(shown, 0.54f, 0.5f), {0, code(0.5f), 0}));
    }

    void nothingIsSeenThroughWithoutReason() {
        const Picture solid = picture(requestOf(two(value("o", 1))), m_preview);
        PreviewRequest r = requestOf(two(value("o", 0.25)));
        r.off = {"opacity"};
        QCOMPARE(picture(r, m_preview).pixels, solid.pixels);
        // A result that is looked at stands for itself.
        r.off.clear();
        r.lookHere = LookHere{"red-opacity", "o", {}};
        QVERIFY(near(pixel(picture(r, m_preview), 0.5f, 0.5f), {64, 64, 64}));
    }

    void thePictureFollowsTheOpacity() {
        // Lit, so that shadows change as well: white sheets on their ground.
        const auto lit = [&](double opacity) {
            Project p;
            p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                                      {step("c", "colour", {{"colour", Colour{0.8f, 0.8f, 0.8f}}})}));
            p.lines.emplace_back(line("opacity", Kind::Scalar, "opacity", {value("o", opacity)}));
            p.view.model = at("two.obj").string();
            PreviewRequest r = requestOf(p);
            r.camera.turn = 40, r.camera.tilt = 30;
            return r;
        };
        std::vector<std::vector<std::uint32_t>> seen;
        for (const double opacity : {1.0, 0.5, 0.2, 1.0}) {
            for (const int stage : {0, 1}) {
                Preview fresh(kData / "models", kData / "environments");
                if (stage == 1) picture(lit(opacity), fresh, 0);
                QCOMPARE(picture(lit(opacity), m_preview, stage).pixels,
                         picture(lit(opacity), fresh, stage).pixels);
            }
            seen.push_back(picture(lit(opacity), m_preview).pixels);
        }
        QVERIFY(seen[0] != seen[1] && seen[1] != seen[2]);
        QCOMPARE(seen[3], seen[0]);
    }

    void sidesHaveTheirOwn() {
        PreviewRequest r = requestOf(two(value("o", 1)));
        r.others.push_back({two(value("o", 0.25)), {}, {}});
        r.others.push_back({two(value("o", 0.75)), {}, {}});
        QVERIFY(near(pixel(picture(r, m_preview), 0.5f, 0.5f), {code(0.5f), 0, 0}));
        QVERIFY(near(pixel(m_preview.others()[0], 0.5f, 0.5f), {code(0.125f), code(0.375f), 0}));
        QVERIFY(near(pixel(m_preview.others()[1], 0.5f, 0.5f), {code(0.375f), code(0.125f), 0}));
    }

    void lightGoesThrough() {
        // Under one sheet, three, and one of many triangles, about which a tree asks more than once.
        const auto one = arriving(sheets({{2, 3}, {0, 6}}, 1), at("one.obj"), 0.75f);
        QCOMPARE(one.size(), std::size_t{2});
        QVERIFY(one.contains(0.25f) && one.contains(1.0f));
        const auto three = arriving(sheets({{3, 6}, {2, 6}, {1, 6}, {0, 3}}, 1), at("three.obj"), 0.5f);
        QCOMPARE(three.size(), std::size_t{1});
        QCOMPARE(three.begin()->first, 0.125f);
        const auto fine = arriving(sheets({{2, 6}, {0, 3}}, 60), at("fine.obj"), 0.5f);
        QCOMPARE(fine.size(), std::size_t{1});
        QCOMPARE(fine.begin()->first, 0.5f);
        const auto solid = arriving(sheets({{2, 6}, {0, 3}}, 1), at("solid.obj"), 1.0f);
        QCOMPARE(solid.size(), std::size_t{1});
        QCOMPARE(solid.begin()->first, 0.0f);
    }

    void manyLayersEnd() {
        std::vector<std::pair<double, double>> many;
        for (int i = 0; i < 12; ++i) many.emplace_back(6 - i, 6);
        std::ofstream(at("many.obj")) << sheets(many, 1);
        const RayScene scene(std::make_shared<const Mesh>(*loadMesh(at("many.obj"))));
        ViewOptions options;
        options.goesOn.assign(12, true);
        int most = 0;
        std::map<std::uint32_t, std::set<int>> ofPixel;
        for (const Surfel& s :
             castView(scene, Camera{{0, 0, 0}, 40, 0, 0, 28}, kWidth, kHeight, options).surfels) {
            most = std::max<int>(most, s.layer);
            QVERIFY(ofPixel[s.pixel].insert(s.part).second);  // no sheet twice
        }
        QCOMPARE(most, ViewOptions::kMostLayers - 1);
    }

    void oddOpacitiesAreFinite() {
        OpacityPictures p;
        QVERIFY(p.isOpaque());
        p.set(1001, 2, {0, 0.5f, 1, 0.25f});  // rows from the top
        QVERIFY(!p.isOpaque());
        QCOMPARE(p.at(0.1f, 0.9f), 0.0f);
        QCOMPARE(p.at(0.9f, 0.9f), 0.5f);
        QCOMPARE(p.at(0.9f, 0.1f), 0.25f);
        QCOMPARE(p.at(-0.1f, 3.1f), 0.25f);  // it repeats
        QCOMPARE(p.at(std::nanf(""), 0), 1.0f);
        QCOMPARE(p.at(1e30f, -1e30f), p.at(0, 0));
        p.set(1002, 1, {0.5f});
        QCOMPARE(p.at(1.5f, 0.5f), 0.5f);
        QCOMPARE(p.at(2.5f, 0.5f), 1.0f);  // no picture, no hole
    }
};

QTEST_GUILESS_MAIN(SeeThroughTest)
#include "see_through_test.moc"
