// A project of several surfaces: each part shows its own surface's lines, in the picture and in the files.
#include <QTemporaryDir>
#include <QtTest>

#include "core/document/surface_edits.h"
#include "core/exchange/export.h"
#include "core/shading/preview.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

namespace {

/// Display codes of a pixel.
struct Rgb {
    int red, green, blue;
    bool operator==(const Rgb&) const = default;
};

}  // namespace

class SurfacesShownTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    Project m_project;
    Preview m_preview{fs::path(KETTLE_DATA_DIR) / "models", fs::path(KETTLE_DATA_DIR) / "environments"};

    fs::path path() const { return m_dir.path().toStdString(); }
    /// The picture's colour in the middle of a part: the body is left above, the rings right.
    static Rgb at(const Picture& p, double x, double y) {
        const std::uint32_t code =
            p.pixels[static_cast<std::size_t>(y * p.height) * static_cast<std::size_t>(p.width) +
                     static_cast<std::size_t>(x * p.width)];
        return {static_cast<int>(code >> 16 & 255), static_cast<int>(code >> 8 & 255),
                static_cast<int>(code & 255)};
    }
    Picture picture(const Project& project, std::optional<LookHere> here = {}) {
        PreviewRequest r;
        r.project = project;
        r.width = 120;
        r.height = 120;
        r.lookHere = std::move(here);
        r.camera.turn = r.camera.tilt = 0;
        r.camera.frame((*m_preview.scene(project.view.model))->mesh(), 1);
        const Resources resources(path());
        const auto made = m_preview.render(r, resources, 1);
        return made ? *made : Picture{};
    }
    static Line emitting(const std::string& id, const std::string& surface, Colour colour) {
        Line l = line(id, Kind::Colour, "emission", {step(id + "-source", "colour", {{"colour", colour}})});
        l.surface = surface;
        return l;
    }

private Q_SLOTS:
    void init() {
        m_project = {};
        m_project.view.model = writeStove(path()).string();
        std::string id;
        m_project.lines.emplace_back(emitting("body-emission", "", {1, 0, 0}));
        m_project = *edits::addSurface(m_project, "rings", {"rings"}, "body", {"body", "door"}, id);
        m_project.lines.emplace_back(emitting("rings-emission", id, {0, 0, 1}));
    }
    void eachPartShowsItsOwnLines() {
        const Picture p = picture(m_project);
        QVERIFY(at(p, 0.3, 0.3).red > at(p, 0.3, 0.3).blue + 40);  // body
        QVERIFY(at(p, 0.3, 0.7).red > at(p, 0.3, 0.7).blue + 40);  // door
        QVERIFY(at(p, 0.7, 0.3).blue > at(p, 0.7, 0.3).red + 40);  // rings
    }
    void oneForAllAndNobodysParts() {
        const Picture all = picture(*edits::coverAll(m_project, "rings", true));
        QVERIFY(at(all, 0.3, 0.3).blue > at(all, 0.3, 0.3).red + 40);
        // The door belongs to nobody: neutral grey.
        const Picture bare = picture(*edits::giveParts(m_project, "", {"door"}));
        const Rgb door = at(bare, 0.3, 0.7);
        QVERIFY(std::abs(door.red - door.blue) < 20 && door.red < 240);
        QVERIFY(at(bare, 0.3, 0.3).red > at(bare, 0.3, 0.3).blue + 40);
    }
    void lookingAtALineShowsItOnItsOwnSurface() {
        const Picture p = picture(m_project, LookHere{"rings-emission", "", {}});
        QVERIFY((at(p, 0.7, 0.3) == Rgb{0, 0, 255}));
        const Rgb body = at(p, 0.3, 0.3);
        QVERIFY(std::abs(body.red - body.blue) < 20);
        // A shared line is shown everywhere.
        Project shared = m_project;
        shared.lines.emplace_back(
            line("tone", Kind::Colour, "", {step("t", "colour", {{"colour", Colour{0, 1, 0}}})}));
        const Picture everywhere = picture(shared, LookHere{"tone", "", {}});
        QVERIFY((at(everywhere, 0.7, 0.3) == Rgb{0, 255, 0}));
        QVERIFY((at(everywhere, 0.3, 0.3) == Rgb{0, 255, 0}));
    }
    void oneSurfaceOfAProjectWithoutAnyIsAllOfIt() {
        Project one;
        one.view = m_project.view;
        one.lines.emplace_back(emitting("glow", "", {1, 0, 0}));
        const Picture p = picture(one);
        QVERIFY(at(p, 0.3, 0.3).red > at(p, 0.3, 0.3).blue + 40 &&
                at(p, 0.7, 0.3).red > at(p, 0.7, 0.3).blue + 40);
    }
    void filesAreNamedAfterTheirSurface() {
        const Resources resources(path());
        ExportOptions options;
        options.folder = path() / "out";
        options.size = 8;
        const auto names = [&] {
            QStringList list;
            const auto items = planExport(m_project, resources, options);
            for (const ExportItem& item : *items)
                list << QString::fromStdString(item.file.filename().string());
            return list;
        };
        QCOMPARE(names(), (QStringList{"body_as-received_emission.png", "rings_as-received_emission.png"}));
        options.surfaces = {"rings"};
        QCOMPARE(names(), QStringList{"rings_as-received_emission.png"});
        options.surfaces.clear();
        options.channels = {"emission"};
        QCOMPARE(names().size(), 2);
        options.pattern = "{look}_{channel}";
        QVERIFY(planExport(m_project, resources, options)
                    .error()
                    .sentence.find("Put {surface}, {look} and {channel}") != std::string::npos);
        options.pattern.clear();
        options.surfaces = {"sail"};
        QVERIFY(!planExport(m_project, resources, options));
        options.surfaces.clear();
        QVERIFY(exportMaps(m_project, resources, options).has_value());
        QCOMPARE(readImage(options.folder / "rings_as-received_emission.png")->row<std::uint8_t>(0)[2],
                 std::uint8_t{255});
    }
    void aModelWithoutTextureCoordinatesShowsTheMeanOfItsMaps() {
        writeText(path() / "bare.obj", "o bare\nv 0 0 0\nv 20 0 0\nv 20 20 0\nv 0 20 0\nf 1 2 3 4\n");
        // Half black, half white: one colour between them, not the corner's.
        QVERIFY(
            writePicture(path() / "half.png", 64, 64, 3, [](int x, int, int) { return x < 32 ? 0 : 255; }));
        Project p;
        p.view.model = (path() / "bare.obj").string();
        TextureSet set;
        set.id = "half";
        set.folder = path().string();
        set.maps.push_back({"base-colour", "half.png", "raw", {}});
        p.sets.emplace_back(std::move(set));
        Step map = mapStep("m", "base-colour");
        map.set = "half";
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {map}));
        const Rgb c = at(picture(p, LookHere{"base", "", {}}), 0.5, 0.5);
        QVERIFY2(c.red > 160 && c.red < 215, qPrintable(QString::number(c.red)));
    }
};

QTEST_GUILESS_MAIN(SurfacesShownTest)
#include "surfaces_shown_test.moc"
