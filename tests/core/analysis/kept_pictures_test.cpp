// A painter that keeps what it read shows, after any change, what one made anew shows: everything that a
// picture depends on is part of what it is kept by.
#include <QTemporaryDir>
#include <QtTest>

#include "core/analysis/board_pictures.h"
#include "core/document/surface_edits.h"
#include "core/shading/preview.h"
#include "tests/support/exr.h"
#include "tests/support/models.h"
#include "tests/support/ocio.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class KeptPicturesTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    Project m_project;
    std::unique_ptr<BoardPictures> m_board;
    std::unique_ptr<FlatPainter> m_flat;

    fs::path path() const { return m_dir.path().toStdString(); }
    static FlatRequest request() {
        FlatRequest r;
        r.line = "base";
        r.width = 40, r.height = 40;
        return r;
    }
    /// What is kept, after what was shown before, is what is made anew; and, with `differs`, another picture
    /// than the one before.
    void check(const Project& before, const Project& after, const Resources& earlier,
               const Resources& later) {
        m_board->paint(before, {}, earlier);
        m_flat->paint(before, {}, request(), earlier);
        const auto old = BoardPictures(20, 20, 16).paint(before, {}, earlier).at("m").result->thumbnail;
        const auto kept = m_board->paint(after, {}, later).at("m").result;
        const auto made = BoardPictures(20, 20, 16).paint(after, {}, later).at("m").result;
        QVERIFY(made->thumbnail != old);  // the change is to be seen
        QCOMPARE(kept->thumbnail, made->thumbnail);
        QCOMPARE(kept->ribbon, made->ribbon);
        QCOMPARE(m_flat->paint(after, {}, request(), later),
                 FlatPainter().paint(after, {}, request(), later));
    }
    void check(const Project& after) {
        const Resources resources(path());
        check(m_project, after, resources, resources);
    }
    static Step& map(Project& p) { return p.lines[0].edit().steps[0].edit(); }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(writePicture(path() / "dots.png", 16, 16, 4, [](int x, int y, int c) {
                    return c == 3 ? (x > 3 && x < 12 && y > 3 && y < 12 ? 255 : 0) : 60 * c + 4 * x;
                }).has_value());
        writeExr(path() / "deck.exr", 8, 8,
                 {{"R", 0.5f},
                  {"G", 0.25f},
                  {"B", 0.125f},
                  {"stain.R", 0.1f},
                  {"stain.G", 0.6f},
                  {"stain.B", 0.2f}});
    }
    void init() {
        m_board = std::make_unique<BoardPictures>(20, 20, 16);
        m_flat = std::make_unique<FlatPainter>();
        m_project = {};
        m_project.sets.emplace_back(
            TextureSet{"set",
                       "Set",
                       "",
                       {{"base-colour", "dots.png", "auto", {}}, {"deck", "deck.exr", "auto", {}}},
                       {}});
        m_project.lines.emplace_back(
            line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour")}));
        m_project.lines.emplace_back(line("where", Kind::Scalar, "", {step("g", "gradient")}));
        map(m_project).controls = {{"lies", std::string("scattered")}, {"count", 6.0}};
    }

    void theMaskOfStamps() {
        Project after = m_project;
        map(after).feeds["where"] = feed("where");
        check(after);
        // Another number in the mask's own line.
        m_project = after;
        after.lines[1].edit().steps[0].edit().controls["shape"] = std::string("radial");
        check(after);
        // A step on the mask.
        m_project = after;
        after.lines[1].edit().steps.emplace_back(step("i", "invert"));
        check(after);
    }
    void howStampsLie() {
        for (const auto& [control, value] : std::map<std::string, double>{{"count", 9},
                                                                          {"stamp", 1.2},
                                                                          {"size-vary", 0.9},
                                                                          {"turn-vary", 10},
                                                                          {"apart", 1},
                                                                          {"soft", 0.9},
                                                                          {"rotation", 40},
                                                                          {"offset-u", 0.3},
                                                                          {"offset-v", 0.3},
                                                                          {"spots", 7}}) {
            Project after = m_project;
            map(after).controls[control] = value;
            check(after);
        }
    }
    void theChosenPictureOfAFile() {
        map(m_project).controls.clear();
        map(m_project).role = "deck";
        Project after = m_project;
        after.sets[0].edit().maps[1].channels = "stain";
        check(after);
    }
    void howAMapIsRead() {
        Project after = m_project;
        after.sets[0].edit().maps[0].encoding = "raw";
        check(after);
    }
    void theColourConfiguration() {
        writeConfiguration(path() / "one.ocio", "bright", "1");
        writeConfiguration(path() / "half.ocio", "bright", "0.4");
        m_project.sets[0].edit().maps[0].encoding = "bright";
        m_project.colour.configuration = (path() / "one.ocio").string();
        Project after = m_project;
        after.colour.configuration = (path() / "half.ocio").string();
        // One store of images, as the window has it.
        const Resources first(path(), m_project), own(path(), after);
        std::string problem;
        const Resources second(path(), std::shared_ptr<ImageStore>(&first.store(), [](ImageStore*) {}),
                               own.colours());
        check(m_project, after, first, second);
    }
    void theFileItself() {
        const Resources resources(path());
        m_board->paint(m_project, {}, resources);
        m_flat->paint(m_project, {}, request(), resources);
        std::error_code code;
        const auto time = fs::last_write_time(path() / "dots.png", code);
        QVERIFY(writePicture(path() / "dots.png", 16, 16, 4, [](int, int y, int c) {
                    return c == 3 ? 255 : 200 - 12 * y;
                }).has_value());
        fs::last_write_time(path() / "dots.png", time + std::chrono::seconds(2), code);
        const Resources later(path());
        QCOMPARE(m_board->paint(m_project, {}, later).at("m").result->thumbnail,
                 BoardPictures(20, 20, 16).paint(m_project, {}, later).at("m").result->thumbnail);
    }
    void partsGivenToAnotherSurface() {
        // On the model: the body is red, the rings are blue; then the door goes with the rings.
        Project p;
        p.view.model = writeStove(path()).string();
        const auto emitting = [](const char* id, const std::string& surface, Colour colour) {
            Line l = line(id, Kind::Colour, "emission",
                          {step(std::string(id) + "-c", "colour", {{"colour", colour}})});
            l.surface = surface;
            return l;
        };
        p.lines.emplace_back(emitting("body", "", {1, 0, 0}));
        std::string rings;
        p = *edits::addSurface(p, "rings", {"rings"}, "body", {"body", "door"}, rings);
        p.lines.emplace_back(emitting("rings", rings, {0, 0, 1}));
        const fs::path data = KETTLE_DATA_DIR;
        const auto scenes = std::make_shared<SceneStore>(data / "models");
        Preview kept(scenes, data / "environments");
        const Resources resources(path());
        PreviewRequest r;
        r.project = p;
        r.width = r.height = 100;
        r.camera.frame((*kept.scene(p.view.model))->mesh(), 1);
        const auto before = kept.render(r, resources, 1)->pixels;
        r.project = *edits::giveParts(p, rings, {"rings", "body"});
        const auto after = kept.render(r, resources, 1)->pixels;
        QVERIFY(after != before);
        QVERIFY(after == Preview(scenes, data / "environments").render(r, resources, 1)->pixels);
        r.project = *edits::coverAll(r.project, rings, true);
        QVERIFY(kept.render(r, resources, 1)->pixels ==
                Preview(scenes, data / "environments").render(r, resources, 1)->pixels);
    }
};

QTEST_GUILESS_MAIN(KeptPicturesTest)
#include "kept_pictures_test.moc"
