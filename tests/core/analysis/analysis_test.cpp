// Spreads, tone ribbons, the board's pictures, the flat view and the probe.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <numeric>

#include "core/analysis/board_pictures.h"
#include "core/analysis/effects.h"
#include "core/colour/encoding.h"
#include "core/document/blend_modes.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "core/document/layers.h"
#include "core/steps/step.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

float sumOf(const std::array<float, Spread::kBins>& bins) {
    return std::accumulate(bins.begin(), bins.end(), 0.0f);
}
int red(std::uint32_t p) {
    return static_cast<int>(p >> 16 & 255);
}
int green(std::uint32_t p) {
    return static_cast<int>(p >> 8 & 255);
}
int blue(std::uint32_t p) {
    return static_cast<int>(p & 255);
}

}  // namespace

class AnalysisTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aSpreadCountsShares() {
        const std::vector<float> x{0, 0, 0, 1};
        const Spread s = spreadOf(Kind::Scalar, {x.data(), nullptr, nullptr}, x.size());
        QCOMPARE(s.components.size(), std::size_t{1});
        QCOMPARE(s.components[0][0], 0.75f);
        QCOMPARE(s.components[0][Spread::kBins - 1], 0.25f);
        QCOMPARE(s.brightness, s.components[0]);
    }
    void valuesOutsideAndOddOnesCountAtTheEnds() {
        const std::vector<float> x{-4, 9, std::nanf(""), 0.5f};
        const Spread s = spreadOf(Kind::Scalar, {x.data(), nullptr, nullptr}, x.size());
        QVERIFY(std::fabs(sumOf(s.components[0]) - 1) < 1e-6f);
        QCOMPARE(s.components[0][0], 0.5f);
    }
    /// Of 640 even numbers, a share lies below the number that is as large.
    void percentilesOfEvenNumbers() {
        std::vector<float> x(640);
        for (std::size_t i = 0; i < x.size(); ++i) x[i] = (static_cast<float>(i) + 0.5f) / 640;
        const Spread s = spreadOf(Kind::Scalar, {x.data(), nullptr, nullptr}, x.size());
        for (const float share : {0.05f, 0.25f, 0.5f, 0.95f})
            QVERIFY(std::fabs(percentileOf(s.brightness, share) - share) < 0.002f);
        const std::vector<float> one{0.3f};
        const Spread single = spreadOf(Kind::Scalar, {one.data(), nullptr, nullptr}, 1);
        QVERIFY(std::fabs(percentileOf(single.brightness, 0.5f) - 0.3f) < 1.0f / Spread::kBins);
        QCOMPARE(percentileOf(Spread{}.brightness, 0.5f), 0.0f);
    }
    void onlyWhatAChannelsLineDoesCountsAsWork() {
        Project p = twoLines();  // a shift on the base colour; a straight ramp on a shared line
        QCOMPARE(workedSteps(p), 1);
        p.lines[1].edit().steps.emplace_back(step("g3", "levels", {{"gamma", 2.0}}));
        QCOMPARE(workedSteps(p), 1);  // a shared line does nothing by itself
        p.lines[1].edit().channel = "roughness";
        QCOMPARE(workedSteps(p), 2);
        p.lines[1].edit().steps[2].edit().bypass = true;
        p.lines[0].edit().steps[1].edit().controls["amount"] = 0.0;
        QCOMPARE(workedSteps(p), 0);
        p.lines[1].edit().steps.emplace_back(step("gloss", "invert", {{"from", std::string("gloss")}}));
        QCOMPARE(workedSteps(p), 0);  // so it was brought in
        p.lines[1].edit().steps.emplace_back(step("hand", "invert"));
        QCOMPARE(workedSteps(p), 1);
        QCOMPARE(workedSteps(Project{}), 0);
    }
    /// One edition after the other by who knows the one before, and by who does not.
    void whatEditionsShareIsCountedTheSame() {
        WorkedSteps known;
        Project p = twoLines();
        const auto same = [&] { return known.of(p, shippedSteps()) == workedSteps(p); };
        QVERIFY(same());
        p = *edits::setControl(p, "", "shift", "hue", 0.0);
        QVERIFY(same());
        p = *edits::setControl(p, "", "shift", "hue", 9.0);
        QVERIFY(same());
        p = *edits::insertStep(p, "", "base", 1, step("first", "hsv-shift"));  // all behind it move on
        QVERIFY(same());
        p = *edits::setControl(p, "", "first", "value", 0.5);
        QCOMPARE(known.of(p, shippedSteps()), 2);
        p = *edits::removeStep(p, "shift");
        QVERIFY(same());
        p.lines[1].edit().channel = "roughness";
        p.lines[1].edit().steps.emplace_back(step("g3", "levels", {{"gamma", 2.0}}));
        QVERIFY(same());
        std::swap(p.lines[0], p.lines[1]);
        QVERIFY(same());
        p.lines[0].edit().kind = Kind::Colour;
        QVERIFY(same());
        std::string layer, fill;
        p = *edits::addLayer(p, "", {"Rust", "", ""}, layer);
        p = *edits::cover(p, "", layer, "base", step("", "colour"), fill);
        const int with = known.of(p, shippedSteps());
        QCOMPARE(with, workedSteps(p));
        for (auto& line : p.lines)
            if (isLayer(*line)) line.edit().steps.back().edit().bypass = true;
        QVERIFY(same());
        QVERIFY(known.of(p, shippedSteps()) < with);  // its fills lay nothing now
        p = Project{};
        QVERIFY(same());
    }
    void coloursCountAsTheyLook() {
        const float half = srgbToLinear(0.5f);
        const std::vector<float> r{half}, g{0}, b{1};
        const Spread s = spreadOf(Kind::Colour, {r.data(), g.data(), b.data()}, 1);
        QCOMPARE(s.components[0][32], 1.0f);
        QCOMPARE(s.components[1][0], 1.0f);
        QCOMPARE(s.components[2][63], 1.0f);
    }
    void huesCountBySaturationAndGreysNot() {
        const std::vector<float> r{1, 0, 0.5f}, g{0, 1, 0.5f}, b{0, 0, 0.5f};
        const Spread s = spreadOf(Kind::Colour, {r.data(), g.data(), b.data()}, 3);
        QVERIFY(std::fabs(s.hues[0] - 1 / 3.0f) < 1e-6f);
        QVERIFY(std::fabs(s.hues[24] - 1 / 3.0f) < 1e-6f);
        QVERIFY(std::fabs(std::accumulate(s.hues.begin(), s.hues.end(), 0.0f) - 2 / 3.0f) < 1e-6f);
    }
    void nothingHasAnEmptySpread() {
        QCOMPARE(sumOf(spreadOf(Kind::Scalar, {}, 0).components[0]), 0.0f);
        QCOMPARE(toneRibbonOf(Kind::Scalar, {}, 0, 14).size(), std::size_t{14});
    }
    void aRibbonIsSortedFromLightToDarkEachRowByItsShare() {
        std::vector<float> x(100, 0.0f);
        for (std::size_t i = 0; i < 100; i += 4) x[i] = 1;  // a quarter is white
        const auto ribbon = toneRibbonOf(Kind::Scalar, {x.data(), nullptr, nullptr}, x.size(), 20);
        for (std::size_t row = 0; row < 20; ++row) QCOMPARE(red(ribbon[row]), row < 5 ? 255 : 0);
    }
    void aRibbonShowsTheTones() {
        std::vector<float> r, g, b;
        for (int i = 0; i < 50; ++i) {
            r.push_back(i % 2 == 0 ? 0.9f : 0.02f);
            g.push_back(i % 2 == 0 ? 0.1f : 0.02f);
            b.push_back(i % 2 == 0 ? 0.1f : 0.3f);
        }
        const auto ribbon = toneRibbonOf(Kind::Colour, {r.data(), g.data(), b.data()}, r.size(), 2);
        QVERIFY(red(ribbon[0]) > 200 && blue(ribbon[0]) < 120);
        QVERIFY(blue(ribbon[1]) > red(ribbon[1]));
    }
    void normalsAreShownAsMapsAre() { QCOMPARE(shownPixel(Kind::Normal, 0, 0, 1), 0xFF8080FFu); }

    void theBoardGetsAPictureOfEveryStep() {
        const Resources none{std::filesystem::path()};
        BoardPictures board(26, 13, 14);
        const Project p = twoLines();
        const auto pictures = board.paint(p, "", none);
        QCOMPARE(pictures.size(), std::size_t{4});
        const StepPictures& source = pictures.at("source");
        QCOMPARE(source.result->thumbnail.size(), std::size_t{26 * 13});
        QCOMPARE(source.result->ribbon.size(), std::size_t{14});
        QCOMPARE(green(source.result->thumbnail[0]), static_cast<int>(toByte(linearToSrgb(0.25f))));
        QCOMPARE(red(pictures.at("g1").result->ribbon[3]), 128);
        QVERIFY(pictures.at("shift").result->thumbnail != source.result->thumbnail);
        // What a step that is off gives is what comes in: they share it.
        const Project off = *edits::setBypass(p, "", "shift", true);
        const auto shared = board.paint(off, "", none);
        QCOMPARE(shared.at("shift").result, shared.at("source").result);
        QCOMPARE(shared.at("source").result->thumbnail, source.result->thumbnail);
        CancelToken cancel;
        cancel.cancel();
        QVERIFY(board.paint(p, "", none, cancel).empty());
        QCOMPARE(board.paintLook(p, "look", none), pictures.at("shift").result->thumbnail);
    }
    void theFlatPictureFollowsItsWindow() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QVERIFY(writePicture(path / "map.png", 8, 8, 4, [](int x, int y, int c) {
                    return c == 0 ? x * 30 : c == 1 ? y * 30 : c == 3 ? 51 : 0;
                }).has_value());
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"base-colour", "map.png", "raw", {}}}, {}});
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour")}));
        const Resources resources(path);
        FlatPainter painter;
        FlatRequest whole{"base", "m", {}, 8, 8, 0, 0, 1, 1};
        const auto all = painter.paint(p, "", whole, resources);
        QCOMPARE(all.size(), std::size_t{64});
        QCOMPARE(red(all[5]), static_cast<int>(toByte(linearToSrgb(150 / 255.0f))));
        FlatRequest quarter{"base", "m", {}, 4, 4, 0.5, 0.5, 1, 1};
        const auto part = painter.paint(p, "", quarter, resources);
        QCOMPARE(part[0], all[4]);
        QCOMPARE(part[5], all[8 + 5]);
        whole.component = Component::Alpha;
        QCOMPARE(red(painter.paint(p, "", whole, resources)[0]), 51);
        whole.line = "nowhere";
        QVERIFY(painter.paint(p, "", whole, resources).empty());
    }
    void theProbeTellsLinearAndShown() {
        const Resources none{std::filesystem::path()};
        const auto v = probe(twoLines(), "", "base", "source", 0.3f, 0.7f, none);
        QVERIFY(v.has_value());
        QCOMPARE(v->linear[0], 0.5f);
        QVERIFY(std::fabs(v->shown[0] - linearToSrgb(0.5f)) < 1e-6f);
        QCOMPARE(probe(twoLines(), "", "grey", "", 0, 0, none)->shown[0], 0.5f);
        QCOMPARE(QString::fromStdString(probe(twoLines(), "", "fog", "", 0, 0, none).error().sentence),
                 QStringLiteral("There is no line fog in the project. Choose another."));
        QVERIFY(!probe(twoLines(), "", "base", "g1", 0, 0, none));
        QVERIFY(!probe(twoLines(), "sepia", "base", "", 0, 0, none));
    }

    void theGalleryHasEveryModeOnTheRealInputs() {
        Project p = colourThrough(
            {0.2f, 0.5f, 0.8f},
            step("mix", "blend", {{"amount", 1.0}}, {{"over", constantFeed(Colour{0.5f, 0.5f, 0.5f})}}));
        const Resources resources{std::filesystem::path()};
        const auto modes = paintModes(p, "", "mix", 8, 5, resources);
        QCOMPARE(modes.size(), kBlendModes.size());
        QCOMPARE(modes.at("normal").size(), std::size_t{40});
        QCOMPARE(modes.at("normal")[7], shownPixel(Kind::Colour, 0.5f, 0.5f, 0.5f));
        QCOMPARE(modes.at("multiply")[7], shownPixel(Kind::Colour, 0.1f, 0.25f, 0.4f));
        QVERIFY(paintModes(p, "", "source", 8, 5, resources).empty());
    }
    void theBoardsPicturesSayWhatHasNoEffectAndWhatIsMissing() {
        Project p = colourThrough({0.2f, 0.5f, 0.8f}, step("wide", "clamp", {{"low", -1.0}, {"high", 9.0}}));
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"wear", "gone.png", "auto", {}}}, {}});
        p.lines.emplace_back(line("wear", Kind::Scalar, "", {mapStep("m", "wear")}));
        BoardPictures painter(20, 10, 14);
        const auto pictures = painter.paint(p, "", Resources{std::filesystem::path()});
        QCOMPARE(QString::fromStdString(pictures.at("wide").noEffect),
                 QStringLiteral("nothing that comes in is changed by it"));
        QVERIFY(pictures.at("m").warning.starts_with("Cannot find "));
        QVERIFY(pictures.at("source").warning.empty());
    }
    void whatWorksOnAnotherTileIsNotCalledDead() {
        QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        // The mask is black on the first tile and white on a tile of the second row.
        for (const int tile : {1001, 1012})
            QVERIFY(writePicture(root / ("m." + std::to_string(tile) + ".png"), 8, 8, 1,
                                 [tile](int, int, int) { return tile == 1012 ? 255 : 0; }));
        Project p = twoLines();
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"mask", "m.<UDIM>.png", "raw", {}}}, {}});
        p.lines[1].edit().steps[0] = Shared<Step>(mapStep("g1", "mask"));
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("grey", "g1");
        const Resources resources(root);
        BoardPictures board(40, 30, 14);
        const auto pictures = board.paint(p, "", resources);
        QCOMPARE(pictures.at("shift").noEffect, std::string());
        // Half of the points are white: the ribbon's light half.
        QCOMPARE(red(pictures.at("g1").result->ribbon.front()), 255);
        QCOMPARE(red(pictures.at("g1").result->ribbon.back()), 0);
        QVERIFY(std::fabs(pictures.at("g1").result->spread.brightness.back() - 0.5f) < 0.01f);
        // Black everywhere it is dead, and says why.
        QVERIFY(writePicture(root / "m.1012.png", 8, 8, 1, [](int, int, int) { return 0; }));
        std::filesystem::last_write_time(
            root / "m.1012.png", std::filesystem::file_time_type::clock::now() + std::chrono::seconds(2));
        QCOMPARE(board.paint(p, "", resources).at("shift").noEffect,
                 std::string("the mask is black everywhere"));
    }
    void aComponentIsShownAsPeopleReadIt() {
        Project p = colourThrough({0.25f, 0.5f, 1.0f}, step("keep", "invert", {{"amount", 0.0}}));
        p.lines[0].edit().steps.pop_back();
        FlatPainter flat;
        const auto shown = [&](Component component) {
            FlatRequest r{"base", "", component, 2, 2};
            return red(flat.paint(p, "", r, Resources("/nowhere")).front());
        };
        const auto code = [](float v) { return static_cast<int>(toByte(v)); };
        QVERIFY(std::abs(shown(Component::Red) - code(linearToSrgb(0.25f))) <= 1);
        QVERIFY(std::abs(shown(Component::Maximum) - 255) <= 1);
        QVERIFY(std::abs(shown(Component::Luminance) -
                         code(linearToSrgb(0.2126f * 0.25f + 0.7152f * 0.5f + 0.0722f))) <= 1);
        QVERIFY(std::abs(shown(Component::Alpha) - 255) <= 1);
        // Hue and saturation of the displayed numbers, as they are.
        const float r = linearToSrgb(0.25f), g = linearToSrgb(0.5f);
        QVERIFY(std::abs(shown(Component::Hue) - code((240 - 60 * (g - r) / (1 - r)) / 360)) <= 1);
        QVERIFY(std::abs(shown(Component::Saturation) - code(1 - r)) <= 1);
    }
};

QTEST_APPLESS_MAIN(AnalysisTest)
#include "analysis_test.moc"
