// What an export promises beyond the plain case: rounding, sizes of tall and unlike maps, tiles by name,
// alpha of greys, numbers that are none, sources under any name, results that would meet under one.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <limits>

#include "core/base/files.h"
#include "core/exchange/export.h"
#include "core/image/image.h"
#include "core/steps/step.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class ExportPromisesTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path path() const { return m_folder.path().toStdString(); }
    ExportOptions to(const char* name, FileFormat format = FileFormat::Png8) const {
        ExportOptions o;
        o.folder = path() / name;
        o.format = format;
        return o;
    }
    static Project withMaps(std::vector<Map> maps, std::vector<Line> lines) {
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", std::move(maps), {}});
        for (Line& l : lines) p.lines.emplace_back(std::move(l));
        return p;
    }
    PixelBuffer only(const Project& p, const ExportOptions& o) const {
        const auto made = exportMaps(p, Resources(path()), o);
        if (!made || made->files.size() != 1) return {};
        return readImage(made->files.front()).value_or(PixelBuffer{});
    }
    static Project constant(double value) {
        Project p;
        p.lines.emplace_back(line("v", Kind::Scalar, "roughness", {step("v", "value", {{"value", value}})}));
        return p;
    }

private Q_SLOTS:
    void initTestCase() {
        const auto grey = [](int x, int, int) { return x * 8; };
        QVERIFY(writePicture(path() / "tall.png", 16, 64, 1, grey).has_value());
        QVERIFY(writePicture(path() / "small.png", 8, 8, 1, grey).has_value());
        QVERIFY(writePicture(path() / "large.png", 32, 32, 1, grey).has_value());
        QVERIFY(writePicture(path() / "greyalpha.png", 16, 16, 2, [](int x, int, int c) {
                    return c == 1 ? x * 16 : 100;
                }).has_value());
        for (const int tile : {1001, 1002, 1011})
            QVERIFY(
                writePicture(path() / ("t." + std::to_string(tile) + ".png"), 8, 8, 1, [&](int, int, int) {
                    return tile - 1000;
                }).has_value());
        QVERIFY(writePicture(path() / "lone.1002.png", 8, 8, 1, grey).has_value());
    }

    void sixteenBitsAreRounded() {
        // 0.3 * 65535 = 19660.5 - 1.2e-12 in numbers of a computer's kind: take values clearly on each side.
        for (const auto& [value, code] : {std::pair{0.7 / 65535, 1},
                                          {0.3 / 65535, 0},
                                          {100.6 / 65535, 101},
                                          {100.4 / 65535, 100},
                                          {1.0, 65535},
                                          {2.0, 65535},
                                          {-1.0, 0}}) {
            ExportOptions o = to("round", FileFormat::Png16);
            o.size = 4;
            const PixelBuffer p = only(constant(value), o);
            QCOMPARE(p.depth, Depth::U16);
            QCOMPARE(int{p.row<std::uint16_t>(0)[0]}, code);
        }
    }
    void whatIsNoNumberIsWrittenAsNone() {
        // A step that gives what a fault might: none of ours does.
        static const Op kGive{"give", [](const KernelCall& k) {
                                  const float given[]{std::numeric_limits<float>::quiet_NaN(),
                                                      std::numeric_limits<float>::infinity(),
                                                      -std::numeric_limits<float>::infinity()};
                                  std::fill_n(k.out[0], k.count, given[static_cast<int>(k.params[0])]);
                              }};
        StepSpec give;
        give.type = "give";
        give.kinds = {Kind::Scalar};
        give.controls = {ControlSpec{"what", "What", ControlType::Number, 0.0}};
        give.emit = [](Emitter& e) {
            const Reg r = e.program().emit(kGive, {e.program().source({PointAttribute::U}, 0)},
                                           {e.real(NumberHandle{"what"})});
            return Value{Kind::Scalar, r, r, r, kNoReg};
        };
        std::vector<StepSpec> steps(shippedSteps().begin(), shippedSteps().end());
        steps.push_back(give);
        const Resources resources(path(), std::make_shared<ImageStore>(), ColourManagement::shipped(),
                                  Catalogue(std::move(steps)));
        const float written[]{0.0f, 65504.0f, -65504.0f};
        for (int what = 0; what < 3; ++what) {
            Project p = constant(0.5);
            p.lines[0].edit().steps.emplace_back(step("g", "give", {{"what", static_cast<double>(what)}}));
            ExportOptions o = to("none", FileFormat::ExrFloat);
            o.size = 4;
            const auto made = exportMaps(p, resources, o);
            QVERIFY(made.has_value());
            QCOMPARE(readImage(made->files.front())->row<float>(2)[2], written[what]);
            QVERIFY(!made->notes.empty());  // and it is said
        }
    }
    void aTallMapIsScaledByItsHeight() {
        const Project p = withMaps({{"roughness", "tall.png", "raw", {}}},
                                   {line("r", Kind::Scalar, "roughness", {mapStep("m", "roughness")})});
        const PixelBuffer whole = only(p, to("tall"));
        QCOMPARE(whole.width, 16);
        QCOMPARE(whole.height, 64);
        for (int y = 0; y < 64; y += 21)
            for (int x = 0; x < 16; ++x) QCOMPARE(int{whole.row<std::uint8_t>(y)[x]}, x * 8);
        ExportOptions half = to("half");
        half.size = 32;
        const PixelBuffer scaled = only(p, half);
        QCOMPARE(scaled.width, 8);
        QCOMPARE(scaled.height, 32);
        QCOMPARE(int{scaled.row<std::uint8_t>(3)[2]}, 36);  // the mean of columns 4 and 5
    }
    void theLargestMapDecidesTheSize() {
        for (const bool smallFirst : {true, false}) {
            Step over = step("b", "blend");
            over.feeds["over"] = feed("other");
            Step first = mapStep("m", smallFirst ? "roughness" : "other");
            Line other = line("other", Kind::Scalar, "", {mapStep("o", smallFirst ? "other" : "roughness")});
            const Project p =
                withMaps({{"roughness", "small.png", "raw", {}}, {"other", "large.png", "raw", {}}},
                         {line("r", Kind::Scalar, "roughness", {first, over}), other});
            over.controls["amount"] = 0.5;
            Project half = p;
            half.lines[0].edit().steps[1] = Shared<Step>(over);
            QCOMPARE(only(half, to("largest")).width, 32);
        }
    }
    void theAlphaOfGreysIsKept() {
        const Project p = withMaps({{"base-colour", "greyalpha.png", "auto", {}}},
                                   {line("c", Kind::Colour, "base-colour", {mapStep("m", "base-colour")})});
        const PixelBuffer made = only(p, to("greyalpha"));
        QCOMPARE(made.channels, 4);
        for (int x = 0; x < 16; ++x) {
            QCOMPARE(int{made.row<std::uint8_t>(5)[x * 4]}, 100);
            QCOMPARE(int{made.row<std::uint8_t>(5)[x * 4 + 3]}, x * 16);
        }
    }
    void tilesBearTheirNumbers() {
        const Project p = withMaps({{"roughness", "t.<UDIM>.png", "raw", {}}},
                                   {line("r", Kind::Scalar, "roughness", {mapStep("m", "roughness")})});
        const auto made = exportMaps(p, Resources(path()), to("tiles"));
        QVERIFY(made.has_value());
        QCOMPARE(made->files.size(), std::size_t{3});
        for (const auto& file : made->files) {
            const int tile = std::stoi(file.stem().extension().string().substr(1));
            const auto picture = readImage(file);
            QVERIFY(picture.has_value());
            QCOMPARE(int{picture->row<std::uint8_t>(3)[3]}, tile - 1000);  // also in the second row, 1011
        }
        // One tile alone, and not the first: its number is what says where it belongs.
        const Project lone = withMaps({{"roughness", "lone.<UDIM>.png", "raw", {}}},
                                      {line("r", Kind::Scalar, "roughness", {mapStep("m", "roughness")})});
        const auto one = exportMaps(lone, Resources(path()), to("lone"));
        QVERIFY(one.has_value());
        QVERIFY(one->files.front().filename().string().ends_with(".1002.png"));
    }
    void aTileOfASourceIsASource() {
        const Project p = withMaps({{"roughness", "t.<UDIM>.png", "raw", {}}},
                                   {line("r", Kind::Scalar, "roughness", {mapStep("m", "roughness")})});
        ExportOptions o = to("");
        o.folder = path();
        o.pattern = "t";
        const auto before = readFile(path() / "t.1011.png", 1 << 20);
        const auto made = exportMaps(p, Resources(path()), o);
        QVERIFY(!made);
        QCOMPARE(made.error().kind, ErrorKind::Refused);
        QVERIFY(made.error().sentence.find("source maps") != std::string::npos);
        QCOMPARE(*readFile(path() / "t.1011.png", 1 << 20), *before);
    }
    void looksDoNotMeetUnderOneName() {
        Project p = constant(0.5);
        p.looks.emplace_back(Look{"a", "A", {}, {}});
        ExportOptions o = to("meet");
        o.size = 4;
        o.looks = {"", "a"};
        o.pattern = "{channel}";
        const auto made = exportMaps(p, Resources(path()), o);
        QVERIFY(!made);
        QVERIFY(made.error().sentence.find("Two results would be written to") == 0);
        QVERIFY(!std::filesystem::exists(o.folder));
        // Characters that no disk takes can make two names one.
        p.looks.emplace_back(Look{"a b", "B", {}, {}});
        p.looks.emplace_back(Look{"a?b", "C", {}, {}});
        o.looks = {"a b", "a?b"};
        o.pattern = "{look}";
        QVERIFY(!exportMaps(p, Resources(path()), o));
        o.looks = {"a", "a b"};
        QCOMPARE(exportMaps(p, Resources(path()), o)->files.size(), std::size_t{2});
    }
    void onlyColoursBearTheirEncoding() {
        Project p = constant(0.5);
        p.lines.emplace_back(line("c", Kind::Colour, "base-colour", {step("c", "colour")}));
        ExportOptions o = to("tags");
        o.size = 4;
        const auto made = exportMaps(p, Resources(path()), o);
        QVERIFY(made.has_value());
        for (const auto& file : made->files) {
            const bool isColour = file.string().find("base-colour") != std::string::npos;
            QCOMPARE(inspectImage(file)->tag.empty(), !isColour);
        }
    }
};

QTEST_GUILESS_MAIN(ExportPromisesTest)
#include "export_promises_test.moc"
