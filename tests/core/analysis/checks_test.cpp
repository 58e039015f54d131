#include <QTemporaryDir>
#include <QtTest>
#include <cmath>

#include "core/analysis/checks.h"
#include "core/analysis/effects.h"
#include "core/analysis/matching.h"
#include "core/analysis/statistics.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class ChecksTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path path() const { return m_folder.path().toStdString(); }

    Project withMap(const char* role, const char* file, Kind kind, const char* channel) {
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{role, file, "auto", {}}}, {}});
        p.lines.emplace_back(line("line", kind, channel, {mapStep("m", role)}));
        return p;
    }
    QStringList found(const Project& p) {
        QStringList names;
        for (const Finding& f : checkProject(p, "", Resources(path())))
            names << QString::fromStdString(f.check);
        return names;
    }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(writePicture(path() / "half.png", 64, 64, 1, [](int x, int, int) {
                    return x < 32 ? 0 : 255;
                }).has_value());
        QVERIFY(writePicture(path() / "ramp.png", 64, 64, 3, [](int x, int y, int c) {
                    return c == 0 ? x * 4 : c == 1 ? y * 4 : 128;
                }).has_value());
        QVERIFY(writePicture(path() / "flat-normal.png", 64, 64, 3, [](int, int, int c) {
                    return c == 2 ? 255 : 128;
                }).has_value());
        QVERIFY(writePicture(path() / "inward.png", 64, 64, 3, [](int, int, int c) {
                    return c == 2 ? 0 : 128;
                }).has_value());
        QVERIFY(writePicture(path() / "short.png", 64, 64, 3, [](int, int, int) { return 140; }).has_value());
        QVERIFY(writePicture(path() / "mask.png", 64, 64, 4, [](int x, int, int c) {
                    return c == 3 ? x * 4 : 255;
                }).has_value());
        QVERIFY(writePicture(path() / "black.png", 64, 64, 3, [](int, int, int) { return 4; }).has_value());
        QVERIFY(writePicture(path() / "paint.png", 64, 64, 3, [](int x, int, int c) {
                    return c == 0 ? 120 + x : 70 + c * 10;
                }).has_value());
    }

    void figuresOfAKnownList() {
        std::vector<float> v;
        for (int i = 1; i <= 100; ++i) v.push_back(static_cast<float>(i));
        const ComponentFigures f = figuresOf(v.data(), v.size());
        QCOMPARE(f.mean, 50.5f);
        QVERIFY(near(f.deviation, 28.86607f, 1e-4f));  // sqrt((100^2 - 1) / 12)
        QCOMPARE(f.minimum, 1.0f);
        QCOMPARE(f.maximum, 100.0f);
        QCOMPARE(f.percentiles[0], 1.0f);
        QCOMPARE(f.percentiles[3], 50.0f);
        QCOMPARE(f.percentiles[5], 95.0f);
        QCOMPARE(figuresOf(v.data(), 0).mean, 0.0f);
    }
    void differencesInFigures() {
        const std::vector<float> a{0.2f, 0.5f, 0.5f, 0.5f}, b{0.2f, 0.5f, 0.5f, 0.6f};
        const Difference d =
            differenceOf({a.data(), a.data(), a.data()}, {b.data(), b.data(), b.data()}, 4, true);
        QCOMPARE(d.changedShare, 0.25);
        QVERIFY(std::fabs(d.plainMaximum - 0.1) < 1e-6 && std::fabs(d.plainMean - 0.025) < 1e-6);
        const float x = srgbToLinear(0.5f), y = srgbToLinear(0.6f);
        const double one = ciede2000(cieLabOf({x, x, x}), cieLabOf({y, y, y}));
        QVERIFY(std::fabs(d.maximum - one) < 1e-4 && std::fabs(d.mean - one / 4) < 1e-4);
        QCOMPARE(d.percentile95, d.maximum);
    }
    void coverageOfAMask() {
        const std::vector<float> m{0, 0, -1, 0.5f, 1, 2, 1, 0.25f};
        const Coverage c = coverageOf(m.data(), m.size());
        QCOMPARE(c.black, 0.375);
        QCOMPARE(c.white, 0.375);
        QCOMPARE(c.between, 0.25);
        QVERIFY(std::fabs(c.mean - 3.75 / 8) < 1e-9);
    }

    void stepsWithoutEffectSayWhy() {
        Project p = withMap("base-colour", "paint.png", Kind::Colour, "base-colour");
        auto& steps = p.lines[0].edit().steps;
        steps.emplace_back(step("zero", "hsv-shift", {{"hue", 50.0}, {"amount", 0.0}}));
        steps.emplace_back(step("masked", "hsv-shift", {{"hue", 50.0}}, {{"mask", feed("black")}}));
        steps.emplace_back(step("equal", "blend", {}, {{"over", feed("line", "m")}}));
        steps.emplace_back(step("wide", "clamp", {{"low", -1.0}, {"high", 9.0}}));
        steps.emplace_back(step("works", "hsv-shift", {{"hue", 50.0}}));
        steps.emplace_back(step("off", "hsv-shift"));
        steps.back().edit().bypass = true;
        p.lines.emplace_back(line("black", Kind::Scalar, "", {step("b", "value", {{"value", 0.0}})}));
        const Resources resources(path());
        const auto reasons = stepsWithoutEffect(p, nullptr, resources, PointSet::grid(32, 32));
        QCOMPARE(reasons.size(), std::size_t{4});
        QCOMPARE(QString::fromStdString(reasons.at("zero")), QStringLiteral("the amount is 0"));
        QCOMPARE(QString::fromStdString(reasons.at("masked")),
                 QStringLiteral("the mask is black everywhere"));
        QCOMPARE(QString::fromStdString(reasons.at("equal")), QStringLiteral("both inputs are equal"));
        QCOMPARE(QString::fromStdString(reasons.at("wide")),
                 QStringLiteral("nothing that comes in is changed by it"));
    }

    void eachFaultIsFound() {
        QCOMPARE(found(withMap("base-colour", "paint.png", Kind::Colour, "base-colour")), QStringList());
        QCOMPARE(found(withMap("base-colour", "black.png", Kind::Colour, "base-colour")),
                 QStringList{QStringLiteral("albedo")});
        QCOMPARE(found(withMap("roughness", "half.png", Kind::Scalar, "roughness")),
                 QStringList({QStringLiteral("roughness-pinned"), QStringLiteral("roughness-pinned")}));
        QCOMPARE(found(withMap("metalness", "ramp.png", Kind::Scalar, "metalness")),
                 QStringList{QStringLiteral("metalness-middle")});
        QCOMPARE(found(withMap("normal", "flat-normal.png", Kind::Normal, "normal")), QStringList());
        QCOMPARE(found(withMap("normal", "short.png", Kind::Normal, "normal")),
                 QStringList{QStringLiteral("normal-length")});
        QCOMPARE(found(withMap("normal", "inward.png", Kind::Normal, "normal")),
                 QStringList{QStringLiteral("normal-inward")});
        QCOMPARE(found(withMap("wear", "mask.png", Kind::Scalar, "opacity")),
                 QStringList{QStringLiteral("mask-alpha")});
        QCOMPARE(found(withMap("base-colour", "gone.png", Kind::Colour, "base-colour")),
                 QStringList{QStringLiteral("file")});
    }
    void wrongEncodingsAndSpacesAreFound() {
        Project p = withMap("base-colour", "paint.png", Kind::Colour, "base-colour");
        p.sets[0].edit().maps[0].encoding = "raw";
        QVERIFY(found(p).contains(QStringLiteral("encoding")));
        p = withMap("roughness", "ramp.png", Kind::Scalar, "roughness");
        p.sets[0].edit().maps[0].encoding = "sRGB";
        const auto findings = checkProject(p, "", Resources(path()));
        QVERIFY(!findings.empty());
        QCOMPARE(QString::fromStdString(findings[0].sentence),
                 QStringLiteral("ramp.png holds numbers, not colours, but is read as sRGB, which bends them. "
                                "Set its encoding to raw."));
        p = withMap("base-colour", "paint.png", Kind::Colour, "base-colour");
        p.lines[0].edit().steps.emplace_back(
            step("b", "blend", {{"mode", std::string("overlay")}, {"space", std::string("linear")}},
                 {{"over", constantFeed(0.7)}}));
        QVERIFY(found(p).contains(QStringLiteral("step")));
    }
    void unusedLinesAreFound() {
        Project p = withMap("base-colour", "paint.png", Kind::Colour, "base-colour");
        p.lines.emplace_back(line("spare", Kind::Scalar, "", {step("v", "value")}));
        QCOMPARE(found(p), QStringList{QStringLiteral("unused-line")});
    }

    void aimSolvesAnAreaOfManyColours() {
        Project p = withMap("base-colour", "ramp.png", Kind::Colour, "base-colour");
        const Colour wanted{0.12f, 0.3f, 0.26f};
        p.lines[0].edit().steps.emplace_back(step("aim", "aim", {{"to", wanted}}));
        const Resources resources(path());
        const auto solved = solveAim(p, "", "aim", {0.1f, 0.1f, 0.5f, 0.5f}, resources);
        QVERIFY(solved.has_value());
        // Without the trims the mean of the spread-out colours misses.
        Project plain = solved->project;
        for (const char* trim : {"trim-hue", "trim-saturation", "trim-value"})
            plain.lines[0].edit().steps[1].edit().controls.erase(trim);
        const auto meanOf = [&](const Project& q) {
            PointSet points = PointSet::grid(40, 40);
            for (std::size_t i = 0; i < points.size(); ++i)
                points.u[i] = 0.1f + 0.4f * points.u[i], points.v[i] = 0.1f + 0.4f * points.v[i];
            const Sampled s = sampleWants(q, nullptr, {{"line", "", 3}}, resources, points);
            return Vec3{figuresOf(s.plane(0, 0), s.count).mean, figuresOf(s.plane(0, 1), s.count).mean,
                        figuresOf(s.plane(0, 2), s.count).mean};
        };
        const auto missing = [&](const Project& q) {
            return ciede2000(cieLabOf(meanOf(q)), cieLabOf({wanted.r, wanted.g, wanted.b}));
        };
        QVERIFY2(missing(solved->project) < missing(plain), qPrintable(QString::number(missing(plain))));
        QVERIFY2(missing(solved->project) < 1.0, qPrintable(QString::number(missing(solved->project))));
        QVERIFY(solved->remains < 0.5);
        // By a gain the mean lands exactly, since a mean is linear.
        p.lines[0].edit().steps[1].edit().controls["by"] = std::string("gain");
        const auto gained = solveAim(p, "", "aim", {0.1f, 0.1f, 0.5f, 0.5f}, resources);
        QVERIFY(gained.has_value() && gained->remains < 0.01);
        QVERIFY(!solveAim(p, "", "m", {}, resources));
        QVERIFY(!solveAim(p, "", "aim", {0.5f, 0.5f, 0.5f, 0.5f}, resources));
    }
    void matchedPicturesHaveTheReferencesMeanAndSpread() {
        Project p = withMap("base-colour", "paint.png", Kind::Colour, "base-colour");
        p.sets[0].edit().maps.push_back({"other", "ramp.png", "sRGB", {}});
        p.lines.emplace_back(line("reference", Kind::Colour, "", {mapStep("r", "other")}));
        p.lines[0].edit().steps.emplace_back(step("match", "colour-match"));
        const Resources resources(path());
        QCOMPARE(
            QString::fromStdString(measureMatch(p, "", "match", resources).error().sentence),
            QStringLiteral("Nothing is joined as the reference. Join the line whose colours are wanted."));
        p.lines[0].edit().steps[1].edit().feeds["reference"] = feed("reference");
        const auto measured = measureMatch(p, "", "match", resources);
        QVERIFY(measured.has_value());
        const Sampled s = sampleWants(*measured, nullptr, {{"line", "", 3}, {"reference", "", 3}}, resources,
                                      PointSet::grid(96, 96));
        const LabFigures ours = oklabFigures(s.colour(0), s.count),
                         theirs = oklabFigures(s.colour(1), s.count);
        QVERIFY(length(ours.mean - theirs.mean) < 2e-3f);
        QVERIFY(std::fabs(ours.deviation.x - theirs.deviation.x) < 2e-3f);
        QVERIFY(std::fabs(ours.deviation.y - theirs.deviation.y) < 2e-3f);
    }
};

QTEST_APPLESS_MAIN(ChecksTest)
#include "checks_test.moc"
