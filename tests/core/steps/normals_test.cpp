// The steps on normals: known answers of stacking (worked out by hand from the published formulas), slopes of
// heights whose derivative is known, and the promises beside them.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <numbers>

#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

Vec3 unit(Vec3 v) {
    return normalised(v);
}

/// A normal line of constant direction: a height ramp of the needed slopes would do as well, but a map says
/// it plainly. Made as a picture of one colour, 16 bit, so that its error is below 2e-5.
class Set {
public:
    explicit Set(const std::map<std::string, Vec3>& directions) {
        TextureSet set;
        set.id = "set";
        for (const auto& [role, n] : directions) {
            PixelBuffer p = PixelBuffer::make(4, 4, 3, Depth::Float);
            for (int y = 0; y < 4; ++y)
                for (int x = 0; x < 4; ++x) {
                    p.row<float>(y)[x * 3] = n.x * 0.5f + 0.5f;
                    p.row<float>(y)[x * 3 + 1] = n.y * 0.5f + 0.5f;
                    p.row<float>(y)[x * 3 + 2] = n.z * 0.5f + 0.5f;
                }
            add(set, role, p);
        }
        project.sets.emplace_back(std::move(set));
    }
    void add(TextureSet& set, const std::string& role, const PixelBuffer& p) {
        const std::string file = role + ".exr";
        QVERIFY(writeImage(path() / file, p, FileFormat::ExrFloat, "").has_value());
        set.maps.push_back({role, file, "raw", {}});
    }
    std::filesystem::path path() const { return folder.path().toStdString(); }
    /// The end of a normal line that begins with the map "base" and goes on with `more`.
    std::array<float, 4> through(Step more, float u = 0.5f, float v = 0.5f) {
        Project p = project;
        p.lines.emplace_back(line("n", Kind::Normal, "normal", {mapStep("m", "base"), std::move(more)}));
        return evaluate(p, "n", {}, u, v, path());
    }
    /// As the map alone gives it.
    std::array<float, 4> untouched() { return through(step("s", "flatten", {{"amount", 0.0}})); }
    QTemporaryDir folder;
    Project project;
};

/// A 64 x 32 grey map of floats.
PixelBuffer heights(const std::function<double(double u, double v)>& h, int width = 64, int height = 32) {
    PixelBuffer p = PixelBuffer::make(width, height, 1, Depth::Float);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            p.row<float>(y)[x] = static_cast<float>(h((x + 0.5) / width, 1 - (y + 0.5) / height));
    return p;
}

Project relief(Set& set, const PixelBuffer& p, Controls controls) {
    Project project = set.project;
    TextureSet maps = *project.sets[0];
    set.add(maps, "height", p);
    project.sets[0] = Shared<TextureSet>(std::move(maps));
    project.lines.emplace_back(line("h", Kind::Scalar, "height", {mapStep("hm", "height")}));
    project.lines.emplace_back(
        line("n", Kind::Normal, "normal",
             {step("f", "flat-normal"),
              step("r", "height-to-normal", std::move(controls), {{"height", feed("h")}})}));
    return project;
}

}  // namespace

class NormalsTest final : public QObject {
    Q_OBJECT

    Set m_set{{{"base", {0.6f, 0, 0.8f}}, {"detail", {0, 0.6f, 0.8f}}, {"flat", {0, 0, 1}}}};

    std::array<float, 4> stacked(const std::string& way, const std::string& detail, double amount = 1,
                                 Feeds more = {}) {
        Project p = m_set.project;
        p.lines.emplace_back(line("d", Kind::Normal, "", {mapStep("dm", detail)}));
        more["detail"] = feed("d");
        p.lines.emplace_back(line(
            "n", Kind::Normal, "normal",
            {mapStep("m", "base"), step("s", "stack-normals", {{"way", way}, {"amount", amount}}, more)}));
        return evaluate(p, "n", {}, 0.5f, 0.5f, m_set.path());
    }

private Q_SLOTS:
    void stackingHasTheAnswersOfItsFormulas() {
        // t = (0.6, 0, 1.8), u = (0, -0.6, 0.8): t.u = 1.44, t 1.44 / 1.8 - u.
        QVERIFY(near(stacked("reoriented", "detail"), {0.48f, 0.6f, 0.64f}));
        QVERIFY(near(stacked("whiteout", "detail"), unit({0.6f, 0.6f, 0.64f})));
        QVERIFY(near(stacked("linear", "detail"), unit({0.6f, 0.6f, 1.6f})));
        // Stored 0.8 0.5 0.9 under 0.5 0.8 0.9: overlay 0.8, 0.8, 1 - 2 * 0.1 * 0.1.
        QVERIFY(near(stacked("overlay", "detail"), unit({0.6f, 0.6f, 0.96f})));
    }
    void flatDetailChangesNothing() {
        for (const char* way : {"reoriented", "whiteout"})
            QVERIFY2(near(stacked(way, "flat"), {0.6f, 0, 0.8f}), way);
    }
    void amountGoesByWayOfAFlatterDetail() {
        QCOMPARE(stacked("reoriented", "detail", 0), m_set.untouched());
        // Half of (0, 0.6, 0.8) and (0, 0, 1), of unit length.
        const Vec3 d = unit({0, 0.3f, 0.9f}), t{0.6f, 0, 1.8f};
        const float dot = 1.8f * d.z;
        const Vec3 wanted = unit({0.6f * dot / t.z, d.y, t.z * dot / t.z - d.z});
        QVERIFY(near(stacked("reoriented", "detail", 0.5), wanted));
        QVERIFY(near(stacked("reoriented", "detail", 1, {{"mask", constantFeed(0.5)}}), wanted));
        QCOMPARE(stacked("reoriented", "detail", 1, {{"mask", constantFeed(0.0)}}), m_set.untouched());
    }
    void whatIsNoNormalIsNotStacked() {
        Project p = m_set.project;
        p.lines.emplace_back(line("g", Kind::Scalar, "", {step("v", "value", {{"value", 0.3}})}));
        p.lines.emplace_back(
            line("n", Kind::Normal, "normal",
                 {mapStep("m", "base"), step("s", "stack-normals", {}, {{"detail", feed("g")}})}));
        QVERIFY(near(evaluate(p, "n", {}, 0.5f, 0.5f, m_set.path()), {0.6f, 0, 0.8f}));
    }
    void strengthScalesSlopes() {
        QVERIFY(
            near(m_set.through(step("s", "normal-strength", {{"strength", 2.0}})), unit({1.2f, 0, 0.8f})));
        QVERIFY(near(m_set.through(step("s", "normal-strength", {{"strength", 0.0}})), {0, 0, 1}));
        QVERIFY(near(m_set.through(step("s", "normal-strength", {{"strength", -1.0}})), {-0.6f, 0, 0.8f}));
        QVERIFY(near(
            m_set.through(step("s", "normal-strength", {{"strength", 3.0}}, {{"mask", constantFeed(0.5)}})),
            unit({1.2f, 0, 0.8f})));
    }
    void flattenMixesTowardsStraightUp() {
        QVERIFY(near(m_set.through(step("f", "flatten")), {0, 0, 1}));
        QVERIFY(near(m_set.through(step("f", "flatten", {{"amount", 0.25}})), unit({0.45f, 0, 0.85f})));
        QCOMPARE(m_set.through(step("f", "flatten", {{"amount", 1.0}}, {{"mask", constantFeed(0.0)}})),
                 m_set.untouched());
    }
    void aPatternsReliefHasItsDerivative() {
        // A straight run over half the square: dh/du = 2; white stands 5 hundredths of the width high.
        Project p;
        p.lines.emplace_back(line("h", Kind::Scalar, "height", {step("g", "gradient", {{"scale", 0.5}})}));
        p.lines.emplace_back(line("n", Kind::Normal, "normal",
                                  {step("f", "flat-normal"), step("r", "height-to-normal", {{"depth", 5.0}},
                                                                  {{"height", feed("h")}})}));
        QVERIFY(near(evaluate(p, "n"), unit({-0.1f, 0, 1}), 1e-4f));
        // Turned a quarter it rises upwards, and green is up.
        p.lines[0] = Shared<Line>(
            line("h", Kind::Scalar, "height", {step("g", "gradient", {{"scale", 0.5}, {"rotation", 90.0}})}));
        QVERIFY(near(evaluate(p, "n"), unit({0, -0.1f, 1}), 1e-4f));
        // Beyond the run it is flat.
        QVERIFY(near(evaluate(p, "n", {}, 0.5f, 0.05f), {0, 0, 1}));
    }
    void aMapsReliefIsItsCentralDifference() {
        // One wave across and two up: the difference over one texel of the larger side.
        const double pi = std::numbers::pi;
        const auto h = [&](double u, double v) {
            return 0.5 + 0.25 * std::sin(2 * pi * u) + 0.125 * std::cos(4 * pi * v);
        };
        Set set({});
        const Project p = relief(set, heights(h, 256, 256), {{"depth", 10.0}});
        for (const auto& [u, v] : {std::pair{0.2, 0.3}, {0.5, 0.6}, {0.81, 0.14}}) {
            // On texel centres, so that lookups are exact.
            const double cu = (std::floor(u * 256) + 0.5) / 256, cv = (std::floor(v * 256) + 0.5) / 256;
            const Vec3 wanted = unit({static_cast<float>(-0.1 * 0.25 * 2 * pi * std::cos(2 * pi * cu)),
                                      static_cast<float>(0.1 * 0.125 * 4 * pi * std::sin(4 * pi * cv)), 1});
            const auto got = evaluate(p, "n", {}, static_cast<float>(cu), static_cast<float>(cv), set.path());
            QVERIFY2(near(got, wanted, 3e-4f), words(got).c_str());
        }
    }
    void atTheEdgeItWraps() {
        Set set({});
        // A saw: from the last texel to the first it falls by 63 / 64.
        const Project p =
            relief(set, heights([](double u, double) { return u; }, 64, 64), {{"depth", 100.0}});
        const auto middle = evaluate(p, "n", {}, 32.5f / 64, 0.5f, set.path());
        QVERIFY(near(middle, unit({-1, 0, 1}), 1e-3f));
        const auto edge = evaluate(p, "n", {}, 0.5f / 64, 0.5f, set.path());
        QVERIFY2(near(edge, unit({31, 0, 1}), 2e-3f), words(edge).c_str());  // -(1/64 - 63/64) / 2 * 64
    }
    void pictureAndPointAgree() {
        Set set({});
        const Project p =
            relief(set, heights([](double u, double v) { return std::sin(9 * u) * std::cos(7 * v); }),
                   {{"depth", 4.0}});
        const Resources resources(set.path());
        const Compiled c = compile(p, nullptr, {{"n", "", 3}});
        const ResolvedMaps maps = resources.resolve(p, c.program);
        // Rows at the map's own width, where a point covers a texel.
        std::vector<float> seen(64 * 64 * 3);
        QVERIFY(runGrid(
            c.program, maps, 64, 64, 1001, [&](int y, int x, std::size_t count, const float* const* planes) {
                for (std::size_t i = 0; i < count; ++i)
                    for (std::size_t k = 0; k < 3; ++k)
                        seen[(static_cast<std::size_t>(y * 64 + x) + i) * 3 + k] = planes[c.planes[0][k]][i];
            }));
        const PointSet points = PointSet::grid(64, 64);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        QVERIFY(run(c.program, maps, samples, points.size(), planes));
        for (std::size_t i = 0; i < points.size(); ++i)
            for (std::size_t k = 0; k < 3; ++k)
                QCOMPARE(seen[i * 3 + k], planes[static_cast<std::size_t>(c.planes[0][k])][i]);
    }
    void twoReliefsKeepTheirOwnStrides() {
        // Beside a relief of a fine map that of a coarse one stays what it is alone.
        Set set({});
        Project p = relief(set, heights([](double u, double) { return u * u; }, 16, 16), {{"depth", 50.0}});
        const auto alone = evaluate(p, "n", {}, 0.4f, 0.5f, set.path());
        TextureSet maps = *p.sets[0];
        set.add(maps, "fine", heights([](double u, double v) { return u * v; }, 256, 256));
        p.sets[0] = Shared<TextureSet>(std::move(maps));
        p.lines.emplace_back(line("f", Kind::Scalar, "", {mapStep("fm", "fine")}));
        p.lines.emplace_back(
            line("b", Kind::Normal, "",
                 {step("fq", "flat-normal"), step("q", "height-to-normal", {}, {{"height", feed("f")}})}));
        const Compiled both = compile(p, nullptr, {{"n", "", 3}, {"b", "", 3}});
        const Resources resources(set.path());
        const auto values = runAt(both.program, resources.resolve(p, both.program), 0.4f, 0.5f);
        for (std::size_t k = 0; k < 3; ++k)
            QCOMPARE(values[static_cast<std::size_t>(both.planes[0][k])], alone[k]);
    }
    void aLineOfStepsIsDerivedWhole() {
        // What the steps on the height line do is in the slope: levels over half of the range double it.
        Project p;
        p.lines.emplace_back(
            line("h", Kind::Scalar, "height",
                 {step("g", "gradient"), step("l", "levels", {{"in-black", 0.25}, {"in-white", 0.75}})}));
        p.lines.emplace_back(line("n", Kind::Normal, "normal",
                                  {step("f", "flat-normal"), step("r", "height-to-normal", {{"depth", 5.0}},
                                                                  {{"height", feed("h")}})}));
        QVERIFY(near(evaluate(p, "n"), unit({-0.1f, 0, 1}), 1e-4f));
        // A tap in front of them does not have it.
        p.lines[1] =
            Shared<Line>(line("n", Kind::Normal, "normal",
                              {step("f", "flat-normal"), step("r", "height-to-normal", {{"depth", 5.0}},
                                                              {{"height", feed("h", "g")}})}));
        QVERIFY(near(evaluate(p, "n"), unit({-0.05f, 0, 1}), 1e-4f));
    }
    void badHeightsGiveFiniteNormals() {
        Set set({});
        const Project p =
            relief(set, heights([](double u, double) { return u < 0.5 ? 0 : 1e30; }), {{"depth", 10.0}});
        for (const float u : {0.1f, 0.499f, 0.5f, 0.9f}) {
            const auto n = evaluate(p, "n", {}, u, 0.5f, set.path());
            QVERIFY(std::isfinite(n[0]) && std::fabs(n[0] * n[0] + n[1] * n[1] + n[2] * n[2] - 1) < 1e-4f);
        }
    }
    void withoutHeightNothingIsCarved() {
        QVERIFY(near(m_set.untouched(), {0.6f, 0, 0.8f}));
        QCOMPARE(m_set.through(step("r", "height-to-normal")), m_set.untouched());
        QCOMPARE(m_set.through(step("r", "height-to-normal", {}, {{"height", constantFeed(0.7)}})),
                 m_set.untouched());
    }
    void aReliefThatFeedsItselfEnds() {
        Project p;
        p.lines.emplace_back(line("h", Kind::Scalar, "height",
                                  {step("g", "gradient"), step("m", "maths", {}, {{"b", feed("n")}})}));
        p.lines.emplace_back(
            line("n", Kind::Normal, "normal",
                 {step("f", "flat-normal"), step("r", "height-to-normal", {}, {{"height", feed("h")}})}));
        const auto n = evaluate(p, "n");
        QVERIFY(std::isfinite(n[0]));
    }
};

QTEST_GUILESS_MAIN(NormalsTest)
#include "normals_test.moc"
