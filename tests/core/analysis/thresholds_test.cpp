// Each check speaks above its threshold and is silent below it: shares and values on both sides, close to it.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>

#include "core/analysis/checks.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A scalar line that is `there` over the left `share` of the picture, and `elsewhere` beside it.
Line part(const std::string& channel, double share, double there, double elsewhere) {
    const std::string text = "mix(" + std::to_string(elsewhere) + ", " + std::to_string(there) + ", u < " +
                             std::to_string(share) + ")";
    return line(channel, Kind::Scalar, channel,
                {step(channel + "-v", "value"), step(channel + "-f", "formula", {{"formula", text}})});
}

/// The same as a grey of linear light.
Line colourPart(double share, double there, double elsewhere) {
    const std::string grey = "mix(" + std::to_string(elsewhere) + ", " + std::to_string(there) + ", u < " +
                             std::to_string(share) + ")";
    return line("base", Kind::Colour, "base-colour",
                {step("c", "colour"),
                 step("f", "formula", {{"formula", "rgb(" + grey + ", " + grey + ", " + grey + ")"}})});
}

QStringList found(std::vector<Line> lines, const std::filesystem::path& folder = "/nowhere",
                  std::vector<Map> maps = {}) {
    Project p;
    if (!maps.empty()) p.sets.emplace_back(TextureSet{"set", "Set", "", std::move(maps), {}});
    for (Line& l : lines) p.lines.emplace_back(std::move(l));
    QStringList names;
    for (const Finding& f : checkProject(p, "", Resources(folder))) names << QString::fromStdString(f.check);
    return names;
}

}  // namespace

class ThresholdsTest final : public QObject {
    Q_OBJECT

    /// The picture is looked at in 128 columns, so that shares come in steps of 0.8 %.
    static bool speaks(const char* check, std::vector<Line> lines) {
        return found(std::move(lines)).contains(QLatin1String(check));
    }

private Q_SLOTS:
    void darkBaseColours() {
        // Below 30 of 255 is 0.0130 of light; more than 5 % of the picture.
        QVERIFY(!speaks("albedo", {colourPart(0.04, 0.012, 0.3)}));
        QVERIFY(speaks("albedo", {colourPart(0.06, 0.012, 0.3)}));
        QVERIFY(!speaks("albedo", {colourPart(0.5, 0.0135, 0.3)}));
    }
    void brightBaseColours() {
        // Above 240 of 255 is 0.8714 of light; more than 1 %.
        QVERIFY(!speaks("albedo", {colourPart(0.009, 0.9, 0.3)}));
        QVERIFY(speaks("albedo", {colourPart(0.02, 0.9, 0.3)}));
        QVERIFY(speaks("albedo", {colourPart(0.5, 0.875, 0.3)}));
        QVERIFY(!speaks("albedo", {colourPart(0.5, 0.865, 0.3)}));
    }
    void darkMetalIsNoDarkPaint() {
        QVERIFY(speaks("albedo", {colourPart(0.5, 0.005, 0.3), part("metalness", 0.5, 0, 1)}));
        QVERIFY(!speaks("albedo", {colourPart(0.5, 0.005, 0.3), part("metalness", 0.5, 1, 0)}));
    }
    void mirrors() {
        QVERIFY(!speaks("roughness-pinned", {part("roughness", 0.04, 0, 0.5)}));
        QVERIFY(speaks("roughness-pinned", {part("roughness", 0.06, 0, 0.5)}));
        QVERIFY(!speaks("roughness-pinned", {part("roughness", 0.9, 0.01, 0.5)}));
    }
    void fullRoughness() {
        QVERIFY(!speaks("roughness-pinned", {part("roughness", 0.19, 1, 0.5)}));
        QVERIFY(speaks("roughness-pinned", {part("roughness", 0.22, 1, 0.5)}));
        QVERIFY(!speaks("roughness-pinned", {part("roughness", 0.9, 0.99, 0.5)}));
    }
    void halfMetal() {
        QVERIFY(!speaks("metalness-middle", {part("metalness", 0.19, 0.5, 1)}));
        QVERIFY(speaks("metalness-middle", {part("metalness", 0.22, 0.5, 1)}));
        QVERIFY(!speaks("metalness-middle", {part("metalness", 0.9, 0.05, 1)}));
        QVERIFY(!speaks("metalness-middle", {part("metalness", 0.9, 0.95, 0)}));
    }
    void normalsThatAreTooShort() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        // Straight up with a length of 0.91 and of 0.88 (0.5 + length / 2 as a code), over all or a part.
        const auto write = [&](const char* name, int z, int columns) {
            return writePicture(path / name, 128, 8, 3,
                                [&](int x, int, int c) { return c == 2 ? (x < columns ? z : 255) : 128; });
        };
        QVERIFY(write("near.png", 244, 128) && write("short.png", 240, 128));
        QVERIFY(write("few.png", 200, 6) && write("some.png", 200, 8));
        const auto isTold = [&](const char* file) {
            return found({}, path, {{"normal", file, "raw", {}}}).contains(QStringLiteral("normal-length"));
        };
        QVERIFY(!isTold("near.png"));
        QVERIFY(isTold("short.png"));
        QVERIFY(!isTold("few.png"));
        QVERIFY(isTold("some.png"));
    }
    void aBypassedStepDoesNotWarn() {
        Step over = step("b", "blend", {{"mode", std::string("overlay")}, {"space", std::string("linear")}});
        over.feeds["over"] = constantFeed(Colour{0.3f, 0.3f, 0.3f});
        Line l = line("base", Kind::Colour, "base-colour", {step("c", "colour"), over});
        QVERIFY(speaks("step", {l}));
        over.bypass = true;
        QVERIFY(!speaks("step", {line("base", Kind::Colour, "base-colour", {step("c", "colour"), over})}));
    }
};

QTEST_GUILESS_MAIN(ThresholdsTest)
#include "thresholds_test.moc"
