// Packed maps: what each component holds, in numbers; dither that keeps the mean; as files of an export.
#include "core/exchange/packed_map.h"

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/exchange/export.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Project plain() {
    Project p;
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {step("c", "colour", {{"colour", Colour{0.5f, 0.25f, 0.125f}}})}));
    p.lines.emplace_back(line("rough", Kind::Scalar, "roughness", {step("r", "value", {{"value", 0.25}})}));
    p.lines.emplace_back(line("metal", Kind::Scalar, "metalness", {step("m", "value", {{"value", 1.0}})}));
    p.lines.emplace_back(line("way", Kind::Normal, "normal", {step("n", "flat-normal")}));
    p.looks.emplace_back(Look{"gloss", "Gloss", {{"r.value", 0.1}}, {}});
    return p;
}

}  // namespace

class PackedMapTest final : public QObject {
    Q_OBJECT
    Resources m_resources{std::filesystem::path(KETTLE_DATA_DIR)};

    std::vector<int> first(const std::vector<PackedComponent>& components, const std::string& look = {}) {
        const auto made = renderPacked(plain(), m_resources, look, components, 4, 4, 1001, Depth::U8);
        if (!made) return {};
        std::vector<int> codes;
        for (int c = 0; c < made->channels; ++c) codes.push_back(made->row<std::uint8_t>(2)[c]);
        return codes;
    }

private Q_SLOTS:
    void eachComponentHoldsWhatItIsTold() {
        QCOMPARE(first({{"", "", 1}, {"rough", ""}, {"metal", ""}}), (std::vector<int>{255, 64, 255}));
        QCOMPARE(first({{"rough", "", 0, true}}), (std::vector<int>{191}));
        QCOMPARE(first({{"rough", ""}}, "gloss"), (std::vector<int>{26}));
        // Colours as a display shows them, normals as 0 to 1.
        const auto code = [](float linear) {
            return static_cast<int>(std::lround(linearToSrgb(linear) * 255));
        };
        QCOMPARE(first({{"base", "red"}, {"base", "green"}, {"base", "blue"}, {"rough", ""}}),
                 (std::vector<int>{code(0.5f), code(0.25f), code(0.125f), 64}));
        QCOMPARE(first({{"way", "red"}, {"way", "green"}, {"way", "blue"}}),
                 (std::vector<int>{128, 128, 255}));
        const auto grey = first({{"base", "luminance"}});
        QCOMPARE(grey[0], code(0.2126f * 0.5f + 0.7152f * 0.25f + 0.0722f * 0.125f));
        QVERIFY(first({}).empty());
        QVERIFY(first({{"no such line", ""}}).empty());
    }

    void ditherKeepsTheMean() {
        Project p = plain();
        p.lines[1].edit().steps[0].edit().controls["value"] = 100.3 / 255;
        const auto made = renderPacked(p, m_resources, {}, {{"rough", ""}}, 64, 64, 1001, Depth::U8, true);
        QVERIFY(made);
        double sum = 0;
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x) {
                const int code = made->row<std::uint8_t>(y)[x];
                QVERIFY(code == 100 || code == 101);
                sum += code;
            }
        QVERIFY2(std::abs(sum / 4096 - 100.3) < 0.01, qPrintable(QString::number(sum / 4096)));
        // A whole code stays one.
        p.lines[1].edit().steps[0].edit().controls["value"] = 1.0;
        const auto full = renderPacked(p, m_resources, {}, {{"rough", ""}}, 8, 8, 1001, Depth::U8, true);
        std::vector<float> value;
        QVERIFY(isUniform(*full, value));
        QCOMPARE(value.front(), 1.0f);
        QVERIFY(!isUniform(*made, value));
    }

    void sixteenBits() {
        const auto made = renderPacked(plain(), m_resources, {}, {{"rough", ""}}, 2, 2, 1001, Depth::U16);
        QCOMPARE(made->row<std::uint16_t>(1)[1], std::uint16_t{16384});
    }

    void asFilesOfAnExport() {
        const QTemporaryDir folder;
        ExportOptions o;
        o.folder = folder.path().toStdString();
        o.pattern = "{look}_{channel}";
        o.looks = {"", "gloss"};
        o.size = 8;
        o.packed = packedFiles();
        const auto plan = planExport(plain(), m_resources, o);
        QVERIFY(plan);
        QStringList names;
        for (const ExportItem& item : *plan) names << QString::fromStdString(item.file.filename().string());
        names.sort();
        QCOMPARE(names,
                 (QStringList{
                     QStringLiteral("as-received_base-colour.png"), QStringLiteral("as-received_normal.png"),
                     QStringLiteral("as-received_surface.png"), QStringLiteral("gloss_base-colour.png"),
                     QStringLiteral("gloss_normal.png"), QStringLiteral("gloss_surface.png")}));
        const auto made = exportMaps(plain(), m_resources, o);
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const auto read = readImage(o.folder / "gloss_surface.png");
        QVERIFY(read);
        QCOMPARE(read->channels, 3);
        // No line drives the occlusion: all of the light.
        QCOMPARE(int(read->row<std::uint8_t>(0)[0]), 255);
        QCOMPARE(int(read->row<std::uint8_t>(0)[1]), 26);
        QCOMPARE(int(read->row<std::uint8_t>(0)[2]), 255);
        QCOMPARE(readImage(o.folder / "gloss_base-colour.png")->channels, 3);
        // Two looks of three files each: three components, three, and three, in 8 bits, half of it kept.
        QCOMPARE(bytesExpected(*plan, plain(), FileFormat::Png8, Compression::Fast),
                 std::uint64_t{2 * 64 * 9 / 2});
        QCOMPARE(bytesExpected(*plan, plain(), FileFormat::Tiff16, Compression::None),
                 std::uint64_t{2 * 64 * 9 * 2});
        // Dithered, files of one line keep the mean of finer steps too.
        Project fine = plain();
        fine.lines[1].edit().steps[0].edit().controls["value"] = 100.5 / 255;
        ExportOptions d = o;
        d.packed.clear();
        d.dither = true;
        d.looks = {""};
        d.channels = {"roughness", "base-colour"};
        QVERIFY(exportMaps(fine, m_resources, d));
        const auto grey = readImage(d.folder / "as-received_roughness.png");
        double sum = 0;
        for (int y = 0; y < 8; ++y)
            for (int x = 0; x < 8; ++x) sum += grey->row<std::uint8_t>(y)[x];
        QVERIFY2(std::abs(sum / 64 - 100.5) < 0.02, qPrintable(QString::number(sum / 64)));
        QCOMPARE(readImage(d.folder / "as-received_base-colour.png")->channels, 3);
        o.format = FileFormat::ExrHalf;
        QCOMPARE(planExport(plain(), m_resources, o).error().kind, ErrorKind::Refused);
    }

    void ofMapsOfTwoSizes() {
        const QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QVERIFY(writePicture(path / "small.png", 8, 8, 1, [](int x, int, int) {
                    return x < 4 ? 0 : 200;
                }).has_value());
        QVERIFY(writePicture(path / "large.png", 32, 16, 1, [](int x, int y, int) {
                    return x * 4 + y;
                }).has_value());
        Project p;
        p.sets.emplace_back(
            TextureSet{"set", "Set", "", {{"a", "small.png", "raw", {}}, {"b", "large.png", "raw", {}}}, {}});
        p.lines.emplace_back(line("rough", Kind::Scalar, "roughness", {mapStep("m", "a")}));
        p.lines.emplace_back(line("metal", Kind::Scalar, "metalness", {mapStep("n", "b")}));
        ExportOptions o;
        o.folder = path / "out";
        o.pattern = "{channel}";
        o.packed = {{"both", {{"roughness", ""}, {"metalness", ""}, {"metalness", "", 0, true}}}};
        const Resources resources(path);
        const auto made = exportMaps(p, resources, o);
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        QCOMPARE(made->files.size(), std::size_t{1});
        const auto read = readImage(made->files.front());
        QVERIFY(read);
        // As large as the largest map that goes into it; the smaller one is enlarged.
        QCOMPARE(read->width, 32);
        QCOMPARE(read->height, 16);
        QCOMPARE(read->channels, 3);
        for (int y = 0; y < 16; ++y)
            for (int x = 0; x < 32; ++x) {
                const std::uint8_t* pixel = read->row<std::uint8_t>(y) + 3 * x;
                QCOMPARE(int{pixel[1]}, x * 4 + y);
                QCOMPARE(int{pixel[2]}, 255 - (x * 4 + y));
                // Away from the edge between the halves, and from that over the border.
                if (x > 2 && x < 13) QCOMPARE(int{pixel[0]}, 0);
                if (x > 18 && x < 29) QCOMPARE(int{pixel[0]}, 200);
            }
    }

    void twoComponentsOfOneLine() {
        const QTemporaryDir folder;
        ExportOptions o;
        o.folder = folder.path().toStdString();
        o.pattern = "{channel}";
        o.size = 4;
        o.packed = {{"mixed", {{"base-colour", "blue"}, {"roughness", ""}, {"base-colour", "red", 0, true}}}};
        const auto made = exportMaps(plain(), m_resources, o);
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const auto read = readImage(o.folder / "mixed.png");
        QVERIFY(read);
        const auto code = [](float linear) {
            return static_cast<int>(std::lround(linearToSrgb(linear) * 255));
        };
        QCOMPARE(int{read->row<std::uint8_t>(1)[0]}, code(0.125f));
        QCOMPARE(int{read->row<std::uint8_t>(1)[1]}, 64);
        QCOMPARE(int{read->row<std::uint8_t>(1)[2]}, 255 - code(0.5f));
    }
};

QTEST_APPLESS_MAIN(PackedMapTest)
#include "packed_map_test.moc"
