// 0 and 1 go through the display's curve as exactly 0 and 1, and the W3C blend modes, which branch there, are
// right at every corner and edge.
#include <QtTest>

#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

using Rgb = std::array<double, 3>;

double lightOf(double shown) {
    return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
}
double shownOf(double light) {
    return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
}

// W3C Compositing and Blending level 1, section 10.1: B(backdrop, source) of one component.
double hardLight(double b, double s) {
    return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}
double softLight(double b, double s) {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
    const double d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
    return b + (2 * s - 1) * (d - b);
}
const std::map<std::string, double (*)(double, double)> kSeparable{
    {"normal", [](double, double s) { return s; }},
    {"multiply", [](double b, double s) { return b * s; }},
    {"screen", [](double b, double s) { return b + s - b * s; }},
    {"overlay", [](double b, double s) { return hardLight(s, b); }},
    {"darken", [](double b, double s) { return std::min(b, s); }},
    {"lighten", [](double b, double s) { return std::max(b, s); }},
    {"colour-dodge", [](double b, double s) { return b == 0   ? 0
                                                     : s == 1 ? 1
                                                              : std::min(1.0, b / (1 - s)); }},
    {"colour-burn",
     [](double b, double s) { return b == 1   ? 1
                                     : s == 0 ? 0
                                              : 1 - std::min(1.0, (1 - b) / s); }},
    {"hard-light", hardLight},
    {"soft-light", softLight},
    {"difference", [](double b, double s) { return std::fabs(b - s); }},
    {"exclusion", [](double b, double s) { return b + s - 2 * b * s; }}};

// Section 10.2: the non-separable modes.
double lum(const Rgb& c) {
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
}
Rgb setLum(Rgb c, double l) {
    const double d = l - lum(c);
    for (double& x : c) x += d;
    const double luma = lum(c), low = *std::min_element(c.begin(), c.end()),
                 high = *std::max_element(c.begin(), c.end());
    for (double& x : c) {
        if (low < 0) x = luma + (x - luma) * luma / (luma - low);
        if (high > 1) x = luma + (x - luma) * (1 - luma) / (high - luma);
    }
    return c;
}
double sat(const Rgb& c) {
    return *std::max_element(c.begin(), c.end()) - *std::min_element(c.begin(), c.end());
}
Rgb setSat(const Rgb& c, double s) {
    const double low = *std::min_element(c.begin(), c.end()), own = sat(c);
    Rgb out{};
    if (own > 0)
        for (std::size_t i = 0; i < 3; ++i) out[i] = (c[i] - low) * s / own;
    return out;
}
const std::map<std::string, Rgb (*)(const Rgb&, const Rgb&)> kWhole{
    {"hue", [](const Rgb& b, const Rgb& s) { return setLum(setSat(s, sat(b)), lum(b)); }},
    {"saturation", [](const Rgb& b, const Rgb& s) { return setLum(setSat(b, sat(s)), lum(b)); }},
    {"luminosity", [](const Rgb& b, const Rgb& s) { return setLum(b, lum(s)); }}};

Step blend(const std::string& mode, const Rgb& over) {
    const auto f = [](double shown) { return static_cast<float>(lightOf(shown)); };
    return step("b", "blend", {{"mode", mode}, {"space", std::string("encoded")}},
                {{"over", constantFeed(Colour{f(over[0]), f(over[1]), f(over[2])})}});
}

/// The result as displayed, by the program: with a constant under, and with one that is only known at the
/// point.
std::array<Rgb, 2> blended(const std::string& mode, const Rgb& under, const Rgb& over) {
    const auto f = [](double shown) { return static_cast<float>(lightOf(shown)); };
    Project p = colourThrough({f(under[0]), f(under[1]), f(under[2])}, blend(mode, over));
    std::array<Rgb, 2> results{};
    for (std::size_t way = 0; way < 2; ++way) {
        if (way == 1)
            p.lines[0].edit().steps[0].edit() =
                step("source", "formula",
                     {{"formula", "rgb(" + std::to_string(f(under[0])) + ", " + std::to_string(f(under[1])) +
                                      ", " + std::to_string(f(under[2])) + ") + 0 * u"}});
        const auto out = evaluate(p);
        for (std::size_t c = 0; c < 3; ++c) results[way][c] = shownOf(static_cast<double>(out[c]));
    }
    return results;
}

}  // namespace

class ExactEndsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void blackAndWhiteGoThroughTheCurveUnchanged() {
        // A Formula encodes and decodes by the same kernels as every step.
        for (const char* function : {"encode", "decode"})
            for (const char* number : {"0", "1"}) {
                const std::string of = std::string(function) + "(" + number;
                const float expected = std::string(number) == "1" ? 1.0f : 0.0f;
                for (const std::string& formula : {of + ")", of + " + 0 * u)"}) {
                    const Project p = colourThrough({}, step("f", "formula", {{"formula", formula}}));
                    QCOMPARE(evaluate(p)[0], expected);
                }
            }
    }
    void everyW3cModeIsRightAtCornersAndEdges() {
        const double ends[]{0, 0.5, 1};
        int pairs = 0;
        const auto check = [&](const std::string& mode, const Rgb& under, const Rgb& over,
                               const Rgb& expected) {
            ++pairs;
            for (const Rgb& found : blended(mode, under, over))
                for (std::size_t c = 0; c < 3; ++c)
                    if (!(std::fabs(found[c] - expected[c]) < 0.1 / 255)) {
                        qWarning("%s of %g over %g: %.6f, not %.6f", mode.c_str(), over[c], under[c],
                                 found[c], expected[c]);
                        return false;
                    }
            return true;
        };
        for (const double b : ends)
            for (const double s : ends)
                for (const auto& [mode, f] : kSeparable)
                    QVERIFY(check(mode, {b, b, b}, {s, s, s}, Rgb{f(b, s), f(b, s), f(b, s)}));
        // Colours at the corners of the cube, and grey.
        std::vector<Rgb> corners{{0.5, 0.5, 0.5}, {1, 0.5, 0}};
        for (int i = 0; i < 8; ++i)
            corners.push_back({i & 1 ? 1.0 : 0.0, i & 2 ? 1.0 : 0.0, i & 4 ? 1.0 : 0.0});
        for (const Rgb& b : corners)
            for (const Rgb& s : corners) {
                for (const auto& [mode, f] : kSeparable)
                    QVERIFY(check(mode, b, s, Rgb{f(b[0], s[0]), f(b[1], s[1]), f(b[2], s[2])}));
                for (const auto& [mode, f] : kWhole) QVERIFY(check(mode, b, s, f(b, s)));
                const Rgb colour = setLum(s, lum(b));
                QVERIFY(check("colour", b, s, colour));
            }
        QVERIFY(pairs > 720);
    }
    void anEightBitMapOfWhiteIsWhite() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        for (const bool isGrey : {false, true})
            for (const bool isDeep : {false, true}) {
                PixelBuffer p = PixelBuffer::make(4, 4, isGrey ? 1 : 3, isDeep ? Depth::U16 : Depth::U8);
                std::fill(p.bytes.begin(), p.bytes.end(), std::byte{255});
                QVERIFY(writeImage(path / "white.png", p, isDeep ? FileFormat::Png16 : FileFormat::Png8, ""));
                Project project = colourThrough({}, step("b", "blend", {{"mode", std::string("colour-burn")}},
                                                         {{"over", constantFeed(Colour{0, 0, 0})}}));
                TextureSet set;
                set.id = set.name = "set";
                set.maps.push_back({"base-colour", "white.png", "sRGB", ""});
                project.sets.emplace_back(set);
                project.lines[0].edit().steps[0].edit() = mapStep("source", "base-colour");
                // White under a burn stays white, whatever is over it.
                const auto out = evaluate(project, "base", {}, 0.5f, 0.5f, path);
                for (std::size_t c = 0; c < 3; ++c) QCOMPARE(out[c], 1.0f);
            }
    }
};

QTEST_GUILESS_MAIN(ExactEndsTest)
#include "exact_ends_test.moc"
