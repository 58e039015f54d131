#include "core/exchange/export.h"

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <iterator>

#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

std::size_t filesIn(const std::filesystem::path& folder) {
    std::size_t count = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        count += entry.is_regular_file() ? 1 : 0;
    return count;
}

}  // namespace

class ExportTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    Project m_project;
    std::filesystem::path path() const { return m_folder.path().toStdString(); }
    ExportOptions to(const char* name) const {
        ExportOptions o;
        o.folder = path() / name;
        return o;
    }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(writePicture(path() / "base.png", 32, 16, 3, [](int x, int y, int c) {
                    return x * 7 + y + c;
                }).has_value());
        QVERIFY(
            writePicture(path() / "rough.png", 32, 16, 1, [](int x, int, int) { return x * 8; }).has_value());
        QVERIFY(writePicture(path() / "normal.png", 32, 16, 3, [](int, int, int c) {
                    return c == 2 ? 255 : 128;
                }).has_value());
        m_project.sets.emplace_back(TextureSet{"pan",
                                               "Pan",
                                               "",
                                               {{"base-colour", "base.png", "auto", {}},
                                                {"roughness", "rough.png", "auto", {}},
                                                {"normal", "normal.png", "auto", {}}},
                                               {}});
        const auto map = [](const char* id, const char* role) {
            Step s = mapStep(id, role);
            s.set = "pan";
            return s;
        };
        m_project.lines.emplace_back(line("base-colour", Kind::Colour, "base-colour",
                                          {map("m", "base-colour"), step("shift", "hsv-shift")}));
        m_project.lines.emplace_back(line("roughness", Kind::Scalar, "roughness", {map("r", "roughness")}));
        m_project.lines.emplace_back(line("normal", Kind::Normal, "normal", {map("n", "normal")}));
        m_project.looks.emplace_back(Look{"green", "Green", {{"shift.hue", 120.0}}, {}});
    }
    void anUntouchedMapComesBackCodeForCode() {
        const auto files = exportMaps(m_project, Resources(path()), to("same"));
        QVERIFY(files.has_value());
        QCOMPARE(files->files.size(), std::size_t{3});
        QVERIFY(files->notes.empty());
        QCOMPARE(files->files[0].filename().string(), std::string("pan_as-received_base-colour.png"));
        for (const auto& [made, source] : {std::pair{"pan_as-received_base-colour.png", "base.png"},
                                           {"pan_as-received_roughness.png", "rough.png"}})
            QCOMPARE(readImage(path() / "same" / made)->bytes == readImage(path() / source)->bytes, true);
        const auto normal = *readImage(path() / "same/pan_as-received_normal.png");
        for (int i = 0; i < 3; ++i)
            QVERIFY(std::abs(normal.row<std::uint8_t>(3)[i] - (i == 2 ? 255 : 128)) <= 1);
    }
    void allLooksGiveTheirOwnFiles() {
        ExportOptions o = to("looks");
        o.looks = {"", "green"};
        o.channels = {"base-colour"};
        QCOMPARE(exportMaps(m_project, Resources(path()), o)->files.size(), std::size_t{2});
        QVERIFY(readImage(path() / "looks/pan_green_base-colour.png")->bytes !=
                readImage(path() / "looks/pan_as-received_base-colour.png")->bytes);
    }
    void everyFormatHasItsDepthAndEncoding() {
        for (const char* name : {"png8", "png16", "tiff16", "exr-half", "exr-float", "jpeg"}) {
            ExportOptions o = to("formats");
            QVERIFY(fileFormatOf(name, o.format));
            o.channels = {"base-colour"};
            o.pattern = std::string("{channel}-") + name;
            const auto files = exportMaps(m_project, Resources(path()), o);
            QVERIFY2(files.has_value(), name);
            const auto back = *readImage(files->files.front());
            QCOMPARE(back.depth, storageOf(o.format));
            if (back.depth == Depth::Float)
                QVERIFY(std::fabs(back.row<float>(0)[9] - srgbToLinear(21 / 255.0f)) < 1e-4f);
            if (back.depth == Depth::U16) QVERIFY(std::abs(back.row<std::uint16_t>(0)[9] - 21 * 257) <= 1);
        }
    }
    void mapsAfterAnotherAreAsMapsAlone() {
        // One piece of memory serves all: no pixel of the map before may be left in the next.
        const Resources resources(path());
        const auto plan = planExport(m_project, resources, to("plan"));
        QVERIFY(plan && plan->size() == 3);
        PixelBuffer together;
        for (const FileFormat format : {FileFormat::Png8, FileFormat::Png16})
            for (const ExportItem& item : *plan) {
                PixelBuffer alone;
                std::vector<std::string> notes;
                QVERIFY(renderItem(m_project, resources, item, format, alone, notes).has_value());
                QVERIFY(renderItem(m_project, resources, item, format, together, notes).has_value());
                QCOMPARE(together.channels, alone.channels);
                QCOMPARE(together.depth, alone.depth);
                QVERIFY(together.bytes == alone.bytes);
            }
    }
    void aSizeScalesTheLongerSide() {
        ExportOptions o = to("size");
        o.size = 64;
        QVERIFY(exportMaps(m_project, Resources(path()), o).has_value());
        const auto back = *readImage(path() / "size/pan_as-received_roughness.png");
        QCOMPARE(back.width, 64);
        QCOMPARE(back.height, 32);
    }
    void tilesAreWrittenOneByOne() {
        Project p = m_project;
        for (const int tile : {1001, 1002})
            QVERIFY(
                writePicture(path() / ("t." + std::to_string(tile) + ".png"), 8, 8, 1, [tile](int, int, int) {
                    return tile - 1000;
                }).has_value());
        p.sets[0].edit().maps[1].file = "t.<UDIM>.png";
        ExportOptions o = to("tiles");
        o.channels = {"roughness"};
        QCOMPARE(exportMaps(p, Resources(path()), o)->files.size(), std::size_t{2});
        QCOMPARE(static_cast<int>(
                     readImage(path() / "tiles/pan_as-received_roughness.1002.png")->row<std::uint8_t>(0)[0]),
                 2);
    }
    void sourcesAreNeverWrittenTo() {
        ExportOptions o;
        o.folder = path() / "sub" / "..";
        o.channels = {"base-colour"};
        o.pattern = "base";
        const std::string before = *readFile(path() / "base.png");
        const auto files = exportMaps(m_project, Resources(path()), o);
        QVERIFY(!files);
        QVERIFY(QString::fromStdString(files.error().sentence)
                    .contains(QStringLiteral("is one of the project's source maps, which are never written "
                                             "to. Choose another folder or name.")));
        QCOMPARE(*readFile(path() / "base.png") == before, true);
    }
    void badRequestsAreSentences() {
        ExportOptions o = to("bad");
        o.looks = {"sepia"};
        QCOMPARE(QString::fromStdString(exportMaps(m_project, Resources(path()), o).error().sentence),
                 QStringLiteral("The project has no look sepia. Choose another."));
        o = to("bad");
        o.channels = {"sparkle"};
        QCOMPARE(
            QString::fromStdString(exportMaps(m_project, Resources(path()), o).error().sentence),
            QStringLiteral("The project has no channel sparkle. It has base-colour, roughness, normal."));
        o = to("bad");
        o.pattern = "all";
        QVERIFY(QString::fromStdString(exportMaps(m_project, Resources(path()), o).error().sentence)
                    .contains(QStringLiteral("Put {look} and {channel} into the name.")));
        QVERIFY(!exportMaps(Project{}, Resources(path()), to("bad")));
        QVERIFY(!std::filesystem::exists(path() / "bad"));
        o = to("base.png/sub");
        QVERIFY(!exportMaps(m_project, Resources(path()), o));
    }
    void aMissingMapStopsTheExportBeforeAnythingIsWritten() {
        Project p = m_project;
        p.sets[0].edit().maps[2].file = "gone.png";
        QVERIFY(!exportMaps(p, Resources(path()), to("hole")));
        QVERIFY(!std::filesystem::exists(path() / "hole"));
    }
    void stoppingLeavesOnlyWholeFiles() {
        ExportOptions o = to("stopped");
        o.size = 1024;
        CancelToken cancel;
        int told = 0;
        double last = 0;
        const auto files = exportMaps(m_project, Resources(path()), o, cancel, [&](const ExportProgress& p) {
            QVERIFY(p.fraction >= 0 && p.fraction <= 1);
            last = std::max(last, p.fraction);
            if (p.fraction >= 1.0 / 3 - 1e-9 && ++told == 1) cancel.cancel();
        });
        QCOMPARE(files.error().kind, ErrorKind::Cancelled);
        QVERIFY(last < 1);
        QVERIFY(filesIn(o.folder) < std::size_t{3});
        for (const auto& entry : std::filesystem::directory_iterator(o.folder)) {
            if (!entry.is_regular_file()) continue;
            const auto whole = readImage(entry.path());
            QVERIFY2(whole.has_value(), entry.path().c_str());
            QCOMPARE(whole->width, 1024);
        }
    }
};

QTEST_APPLESS_MAIN(ExportTest)
#include "export_test.moc"
