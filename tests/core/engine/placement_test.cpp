// Maps that lie otherwise than in their texture: by known places of a known picture, on planes whose sides
// are known, and repetition broken up by what must stay and what must go.
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "core/base/hash.h"
#include "core/engine/stamps.h"
#include "core/geometry/mesh_facts.h"
#include "core/steps/map_placement.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A finder of one mesh.
class OneModel final : public ModelFinder {
public:
    explicit OneModel(Mesh mesh)
        : m_facts(std::make_shared<MeshFacts>(
              std::make_shared<const RayScene>(std::make_shared<const Mesh>(std::move(mesh))))) {}
    std::shared_ptr<const ModelFacts> facts(const std::string&, const std::string&) override {
        return m_facts;
    }

private:
    std::shared_ptr<const ModelFacts> m_facts;
};

/// A square of 20 cm in texture coordinates 0..1; `corner` and its two sides.
Mesh square(Vec3 corner, Vec3 across, Vec3 up) {
    Mesh m;
    for (const Vec2 uv : {Vec2{0, 0}, Vec2{1, 0}, Vec2{1, 1}, Vec2{0, 1}}) {
        m.positions.push_back(corner + across * (uv.x * 20) + up * (uv.y * 20));
        m.normals.push_back(cross(across, up));
        m.uvs.push_back(uv);
        m.tangents.push_back({across, 1});
    }
    m.indices = {0, 1, 2, 0, 2, 3};
    m.trianglePart = {0, 0};
    m.parts = {"square"};
    m.partHasUv = {1};
    return m;
}

/// What a picture of smooth slopes holds at a place, repeating.
float slopes(double u, double v, int c) {
    constexpr double kTurn = 6.283185307179586;
    return static_cast<float>(0.5 + 0.2 * std::sin(kTurn * (u + 0.1 * c)) +
                              0.15 * std::cos(kTurn * (2 * v - 0.07 * c)) + 0.1 * std::sin(kTurn * (u + v)));
}

class PlacementBench {
public:
    PlacementBench() {
        TextureSet set;
        set.id = "set";
        write(set, "base-colour", 256,
              [](int x, int y, int c) { return slopes((x + 0.5) / 256, 1 - (y + 0.5) / 256, c); });
        write(set, "normal", 8, [](int, int, int c) {
            return c == 0 ? 0.5f + 0.18f : c == 1 ? 0.5f + 0.06f : 0.5f + 0.46f;
        });
        write(set, "grain", 256, [](int x, int y, int) {
            // Smooth, repeating and uneven: many darks, few lights.
            double sum = 0;
            for (int k = 0; k < 24; ++k) {
                const auto random = [&](int n) {
                    return static_cast<double>(unitFloat(mixBits(static_cast<std::uint64_t>(k * 10 + n))));
                };
                const double across = std::floor(random(0) * 13) - 6, up = std::floor(random(1) * 13) - 6;
                sum += std::sin(6.283185307179586 * (across * x / 256 + up * y / 256 + random(2)));
            }
            const double n = 0.5 + 0.5 * std::tanh(sum / 4);
            return static_cast<float>(n * n);
        });
        m_project.sets.emplace_back(std::move(set));
    }
    /// The end of a line that reads `role` as `controls` say.
    std::array<float, 4> at(const std::string& role, Kind kind, Controls controls, float u, float v,
                            ModelFinder* model = nullptr) {
        const Compiled c = compiled(role, kind, std::move(controls));
        Resources resources(m_folder.path().toStdString());
        if (model != nullptr) resources.setModels(std::shared_ptr<ModelFinder>(model, [](auto*) {}));
        const auto values = runAt(c.program, resources.resolve(m_made, c.program), u, v);
        std::array<float, 4> result{};
        for (std::size_t k = 0; k < 4; ++k) result[k] = values[static_cast<std::size_t>(c.planes[0][k])];
        return result;
    }
    std::vector<float> grid(const std::string& role, Controls controls, int side, std::size_t block = 0) {
        const Compiled c = compiled(role, Kind::Scalar, std::move(controls));
        const Resources resources(m_folder.path().toStdString());
        const ResolvedMaps maps = resources.resolve(m_made, c.program);
        std::vector<float> all(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
        if (block == 0) {
            runGrid(c.program, maps, side, side, 1001,
                    [&](int y, int x, std::size_t count, const float* const* planes) {
                        std::copy_n(planes[c.planes[0][0]], count, all.begin() + y * side + x);
                    });
            return all;
        }
        const PointSet points = PointSet::grid(side, side);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        run(c.program, maps, samples, points.size(), planes, {}, block);
        std::copy_n(planes[static_cast<std::size_t>(c.planes[0][0])].data(), all.size(), all.begin());
        return all;
    }

    /// The red of a line that reads `role` on a model, at side x side points that are known before they are
    /// computed, and row by row.
    std::array<std::vector<float>, 2> redOn(ModelFinder& model, const std::string& role, Controls controls,
                                            int side) {
        const Compiled c = compiled(role, Kind::Colour, std::move(controls));
        Resources resources(m_folder.path().toStdString());
        resources.setModels(std::shared_ptr<ModelFinder>(&model, [](auto*) {}));
        const ResolvedMaps maps = resources.resolve(m_made, c.program);
        const PointSet points = PointSet::grid(side, side);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        run(c.program, maps, samples, points.size(), planes);
        const Plane& red = planes[static_cast<std::size_t>(c.planes[0][0])];
        std::array<std::vector<float>, 2> found{std::vector<float>(red.data(), red.data() + points.size()),
                                                std::vector<float>(points.size())};
        runGrid(c.program, maps, side, side, 1001,
                [&](int y, int x, std::size_t count, const float* const* rows) {
                    std::copy_n(rows[c.planes[0][0]], count, found[1].begin() + y * side + x);
                });
        return found;
    }

private:
    void write(TextureSet& set, const std::string& role, int side,
               const std::function<float(int, int, int)>& value) {
        PixelBuffer p = PixelBuffer::make(side, side, 3, Depth::Float);
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x)
                for (int c = 0; c < 3; ++c) p.row<float>(y)[x * 3 + c] = value(x, y, c);
        const std::string file = role + ".exr";
        QVERIFY(
            writeImage(m_folder.path().toStdString() + "/" + file, p, FileFormat::ExrFloat, "").has_value());
        set.maps.push_back({role, file, "raw", {}});
    }
    Compiled compiled(const std::string& role, Kind kind, Controls controls) {
        Step source = mapStep("m", role);
        source.controls = std::move(controls);
        m_made = m_project;
        m_made.lines.emplace_back(line("l", kind, "", {source}));
        return compile(m_made, nullptr, {{"l", "", 4, false}});
    }
    QTemporaryDir m_folder;
    Project m_project, m_made;
};

bool isAt(const std::array<float, 4>& got, double u, double v) {
    return near(got, {slopes(u, v, 0), slopes(u, v, 1), slopes(u, v, 2)}, 2e-3f);
}

/// Share of what differs between two spreads over 64 bins, 0..1.
double spreadDistance(const std::vector<float>& a, const std::vector<float>& b) {
    std::array<double, 64> bins{};
    const auto count = [&](const std::vector<float>& v, double sign) {
        for (const float x : v)
            bins[static_cast<std::size_t>(std::clamp(x * 64, 0.0f, 63.0f))] +=
                sign / static_cast<double>(v.size());
    };
    count(a, 1), count(b, -1);
    double sum = 0;
    for (const double d : bins) sum += std::fabs(d);
    return sum / 2;
}

/// The strongest likeness of a picture with itself, moved by whole repeats.
double strongestRepeat(const std::vector<float>& v, int side, int repeats) {
    double mean = 0, squares = 0;
    for (const float x : v) mean += static_cast<double>(x) / static_cast<double>(v.size());
    for (const float x : v) squares += (static_cast<double>(x) - mean) * (static_cast<double>(x) - mean);
    const int step = side / repeats;
    double strongest = 0;
    for (int j = 0; j < repeats; ++j)
        for (int i = 0; i < repeats; ++i) {
            if (i == 0 && j == 0) continue;
            double sum = 0;
            for (int y = 0; y < side; ++y)
                for (int x = 0; x < side; ++x)
                    sum += (static_cast<double>(v[static_cast<std::size_t>(y * side + x)]) - mean) *
                           (static_cast<double>(v[static_cast<std::size_t>((y + j * step) % side * side +
                                                                           (x + i * step) % side)]) -
                            mean);
            strongest = std::max(strongest, sum / squares);
        }
    return strongest;
}

}  // namespace

class PlacementTest final : public QObject {
    Q_OBJECT
    PlacementBench m_bench;

    bool reads(Controls controls, double u, double v, double fromU, double fromV,
               ModelFinder* model = nullptr) {
        return isAt(m_bench.at("base-colour", Kind::Colour, std::move(controls), static_cast<float>(u),
                               static_cast<float>(v), model),
                    fromU, fromV);
    }

private Q_SLOTS:
    void aMapIsRepeatedTurnedAndMoved() {
        QVERIFY(reads({}, 0.3, 0.2, 0.3, 0.2));
        QVERIFY(reads({{"repeats", 3.0}}, 0.3, 0.2, 0.9, 0.6));
        // Anticlockwise by a quarter: what was to the right of the middle is above it.
        QVERIFY(reads({{"rotation", 90.0}}, 0.5, 0.8, 0.8, 0.5));
        QVERIFY(reads({{"rotation", 90.0}}, 0.3, 0.6, 0.6, 0.7));
        const double c = std::cos(0.5235987755982988), s = std::sin(0.5235987755982988);
        QVERIFY(reads({{"rotation", 30.0}}, 0.5 + 0.2 * c, 0.5 + 0.2 * s, 0.7, 0.5));
        QVERIFY(reads({{"offset-u", 0.25}, {"offset-v", -0.1}}, 0.5, 0.5, 0.25, 0.6));
    }

    void beyondItsEdgesItMirrorsOrEnds() {
        QVERIFY(reads({{"repeats", 2.0}, {"across", std::string("mirror")}}, 0.6, 0.3, 0.8, 0.6));
        QVERIFY(reads({{"repeats", 2.0}, {"up", std::string("mirror")}}, 0.2, 0.9, 0.4, 0.2));
        const Controls once{{"repeats", 2.0}, {"across", std::string("once")}, {"up", std::string("once")}};
        QVERIFY(reads(once, 0.2, 0.3, 0.4, 0.6));
        const auto beside = m_bench.at("base-colour", Kind::Colour, once, 0.7f, 0.3f);
        QCOMPARE(beside[3], 0.0f);
        QCOMPARE(m_bench.at("base-colour", Kind::Colour, once, 0.2f, 0.3f)[3], 1.0f);
    }

    void normalsTurnWithTheirPlacement() {
        const auto plain = m_bench.at("normal", Kind::Normal, {}, 0.3f, 0.3f);
        const auto turned = m_bench.at("normal", Kind::Normal, {{"rotation", 90.0}}, 0.3f, 0.3f);
        QVERIFY(near(turned, {-plain[1], plain[0], plain[2]}, 1e-5f));
        const auto mirrored = m_bench.at("normal", Kind::Normal,
                                         {{"repeats", 2.0}, {"across", std::string("mirror")}}, 0.7f, 0.3f);
        QVERIFY(near(mirrored, {-plain[0], plain[1], plain[2]}, 1e-5f));
        const auto low =
            m_bench.at("normal", Kind::Normal, {{"repeats", 2.0}, {"up", std::string("mirror")}}, 0.3f, 0.7f);
        QVERIFY(near(low, {plain[0], -plain[1], plain[2]}, 1e-5f));
    }

    /// Whoever looks at a side from outside sees the map upright and not mirrored.
    void sidesShowTheMapUpright() {
        const Controls sides{{"lies", std::string("sides")}, {"size", 20.0}, {"seam", 0.0}};
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0})),
            right(square({5, 0, 0}, {0, 0, -1}, {0, 1, 0})), back(square({0, 0, 3}, {-1, 0, 0}, {0, 1, 0})),
            top(square({0, 7, 0}, {1, 0, 0}, {0, 0, -1}));
        for (OneModel* model : {&front, &right, &back, &top})
            QVERIFY(reads(sides, 0.3, 0.2, 0.3, 0.2, model));
        Controls turned = sides;
        turned["size"] = 10.0, turned["rotation"] = 90.0;
        // At (6, 4) cm, turned back by a quarter: (4, -6), in tens.
        QVERIFY(reads(turned, 0.3, 0.2, 0.4, -0.6, &front));
        // Without a model it is the same everywhere.
        const auto here = m_bench.at("base-colour", Kind::Colour, sides, 0.3f, 0.2f),
                   there = m_bench.at("base-colour", Kind::Colour, sides, 0.71f, 0.64f);
        for (std::size_t c = 0; c < 4; ++c) QVERIFY(near(here[c], there[c]));
    }

    /// Over a surface that turns from the front to the right, its sides share it by the powers of its normal,
    /// and what a side is not read for is nothing of it.
    void sidesShareWhatTurnsFromOneToTheOther() {
        Mesh bent = square({0, 0, 3}, {1, 0, 0}, {0, 1, 0});
        bent.normals[1] = bent.normals[2] = {1, 0, 0};
        OneModel model(bent);
        constexpr int kSide = 70;
        for (const auto& [seam, power] : {std::pair{0.0, 64}, std::pair{0.3, 32}, std::pair{1.0, 2}}) {
            const auto found =
                m_bench.redOn(model, "base-colour",
                              {{"lies", std::string("sides")}, {"size", 20.0}, {"seam", seam}}, kSide);
            QVERIFY(found[0] == found[1]);
            int shared = 0;
            for (int y = 0; y < kSide; ++y)
                for (int x = 0; x < kSide; ++x) {
                    const double u = (x + 0.5) / kSide, v = 1 - (y + 0.5) / kSide;
                    const double length = std::hypot(u, 1 - u);  // of a normal between the two
                    const double right = std::pow(u / length, power),
                                 front = std::pow((1 - u) / length, power);
                    const double least = (right + front) / 1024, rightMore = std::max(0.0, right - least),
                                 frontMore = std::max(0.0, front - least);
                    const double share = rightMore / (rightMore + frontMore);
                    // From the right across is -z, from the front x; up is y from both.
                    const double wanted = share * static_cast<double>(slopes(-0.15, v, 0)) +
                                          (1 - share) * static_cast<double>(slopes(u, v, 0));
                    const float got = found[0][static_cast<std::size_t>(y * kSide + x)];
                    QVERIFY2(std::fabs(static_cast<double>(got) - wanted) < 4e-3,
                             qPrintable(QStringLiteral("seam %1 at %2, %3: %4 and not %5")
                                            .arg(seam)
                                            .arg(u)
                                            .arg(v)
                                            .arg(static_cast<double>(got))
                                            .arg(wanted)));
                    shared += share > 0 && share < 1;
                }
            QVERIFY(shared > kSide && (seam == 1.0 || shared < kSide * kSide * 2 / 3));
        }
    }

    void normalsFromSidesAreThoseOfTheMap() {
        const Controls sides{{"lies", std::string("sides")}, {"size", 20.0}, {"seam", 0.0}};
        const auto plain = m_bench.at("normal", Kind::Normal, {}, 0.3f, 0.3f);
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0})),
            right(square({5, 0, 0}, {0, 0, -1}, {0, 1, 0})), top(square({0, 7, 0}, {1, 0, 0}, {0, 0, -1}));
        for (OneModel* model : {&front, &right, &top})
            QVERIFY(near(m_bench.at("normal", Kind::Normal, sides, 0.3f, 0.3f, model),
                         {plain[0], plain[1], plain[2]}, 1e-4f));
        // On a square that is unwrapped sideways the same relief has other coordinates.
        OneModel sideways(square({0, 0, 3}, {0, 1, 0}, {-1, 0, 0}));
        QVERIFY(near(m_bench.at("normal", Kind::Normal, sides, 0.3f, 0.3f, &sideways),
                     {plain[1], -plain[0], plain[2]}, 1e-4f));
    }

    /// The strongest repeat falls by at least 70 %, and lights and darks stay as often as they were.
    void brokenUpNothingRepeatsAndTheSpreadStays() {
        constexpr int kSide = 512, kRepeats = 8;
        const Controls repeated{{"repeats", static_cast<double>(kRepeats)}};
        Controls broken = repeated;
        broken["break-up"] = true;
        const auto before = m_bench.grid("grain", repeated, kSide),
                   after = m_bench.grid("grain", broken, kSide);
        QVERIFY(strongestRepeat(before, kSide, kRepeats) > 0.99);
        const double left = strongestRepeat(after, kSide, kRepeats);
        QVERIFY2(left < 0.3, qPrintable(QString::number(left)));
        // Of many pieces, so that chance does not matter.
        std::vector<float> many;
        for (double seed = 1; seed <= 16; ++seed) {
            broken["seed"] = seed;
            const auto pieces = m_bench.grid("grain", broken, 1024);
            many.insert(many.end(), pieces.begin(), pieces.end());
        }
        const double apart = spreadDistance(m_bench.grid("grain", {}, 1024), many);
        QVERIFY2(apart < 0.02, qPrintable(QString::number(apart)));
        QVERIFY(m_bench.grid("grain", broken, kSide) != after);
    }

    /// Every stamp is whole: the picture is white, so that the covered share is that of squares laid at
    /// random.
    void stampsLieWholeAndInTheSameSpots() {
        const Controls scattered{
            {"lies", std::string("scattered")}, {"count", 20.0}, {"stamp", 0.8}, {"size-vary", 0.0}};
        constexpr int kSide = 600;
        Controls coverage = scattered;
        coverage["component"] = std::string("alpha");
        const auto grain = m_bench.grid("grain", coverage, kSide),
                   colour = m_bench.grid("base-colour", coverage, kSide);
        QVERIFY(grain == colour);
        double covered = 0;
        for (const float a : grain) covered += static_cast<double>(a) / static_cast<double>(grain.size());
        // One square of 0.64 a cell, each at a spot of its own: nearly 1 - (1 - 0.64 / n)^n; between one
        // stamp a cell (0.64) and Poisson's 1 - exp(-0.64) = 0.473.
        QVERIFY2(covered > 0.46 && covered < 0.64, qPrintable(QString::number(covered)));
        // The edges meet, and nothing is cut at a cell's side: neighbours differ only where a stamp ends, and
        // stamps end along lines of all directions.
        int cutAcross = 0, ends = 0;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const float a = grain[static_cast<std::size_t>(y * kSide + x)],
                            b = grain[static_cast<std::size_t>(y * kSide + (x + 1) % kSide)];
                if (std::fabs(a - b) < 0.9f) continue;
                ++ends;
                if ((x + 1) % (kSide / 20) == 0) ++cutAcross;
            }
        QVERIFY(ends > 100 && cutAcross < ends / 8);
    }

    /// Over a million points: every stamp is there once, whole, and none lies on another, across the edges of
    /// cells and of the square as well.
    void aMillionPointsFindNoPieceMissing() {
        constexpr int kSide = 1000, kCount = 20;
        constexpr double kStamp = 0.3;
        const auto grid = m_bench.grid("grain",
                                       {{"lies", std::string("scattered")},
                                        {"count", static_cast<double>(kCount)},
                                        {"stamp", kStamp},
                                        {"size-vary", 0.0},
                                        {"apart", 1.0},
                                        {"component", std::string("alpha")}},
                                       kSide);
        const auto at = [&](int x, int y) {
            return static_cast<std::size_t>((y + kSide) % kSide * kSide + (x + kSide) % kSide);
        };
        std::vector<char> met(grid.size(), 0);
        std::vector<std::pair<int, int>> open;
        int stamps = 0;
        const double whole = std::pow(kStamp * kSide / kCount, 2), rim = 4 * kStamp * kSide / kCount;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                if (grid[at(x, y)] < 0.5f || met[at(x, y)]) continue;
                double area = 0;
                open.assign(1, {x, y});
                met[at(x, y)] = 1;
                while (!open.empty()) {
                    const auto [px, py] = open.back();
                    open.pop_back();
                    ++area;
                    for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}})
                        if (const std::size_t next = at(px + dx, py + dy); grid[next] >= 0.5f && !met[next]) {
                            met[next] = 1;
                            open.emplace_back((px + dx + kSide) % kSide, (py + dy + kSide) % kSide);
                        }
                }
                ++stamps;
                // A turned square counts its pixels but for a share of its rim.
                QVERIFY2(std::fabs(area - whole) < rim / 2,
                         qPrintable(QStringLiteral("%1 at %2, %3").arg(area).arg(x).arg(y)));
            }
        QVERIFY2(stamps > kCount * kCount / 8 && stamps < kCount * kCount,
                 qPrintable(QString::number(stamps)));
    }

    /// The outlines are where the stamps are, turned, sized and placed as they are.
    void outlinesAreWhereStampsAre() {
        const Controls scattered{{"lies", std::string("scattered")},
                                 {"count", 7.0},
                                 {"stamp", 0.6},
                                 {"size-vary", 0.5},
                                 {"apart", 0.7},
                                 {"rotation", 30.0},
                                 {"offset-u", 0.2},
                                 {"component", std::string("alpha")}};
        Step step;
        step.type = "map";
        step.controls = scattered;
        const StepSpec& spec = *shippedSteps().find("map");
        const Placed placed = placementOf(StepView(spec, step, Kind::Scalar));
        const auto outlines = stampsIn(placed, {0, 0}, {1, 1});
        QVERIFY(outlines.size() > 20);
        constexpr int kSide = 700;
        const auto grid = m_bench.grid("grain", scattered, kSide);
        int right = 0, near = 0;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const Vec2 at{(static_cast<float>(x) + 0.5f) / kSide,
                              1 - (static_cast<float>(y) + 0.5f) / kSide};
                float deepest = -1;
                for (const StampCorners& c : outlines) {
                    float inside = 1;
                    for (std::size_t k = 0; k < 4; ++k) {
                        const Vec2 side = c[(k + 1) % 4] - c[k], to = at - c[k];
                        inside = std::min(inside, (side.x * to.y - side.y * to.x) /
                                                      std::sqrt(side.x * side.x + side.y * side.y));
                    }
                    deepest = std::max(deepest, inside);
                }
                // Within a pixel of an edge it is neither.
                if (std::fabs(deepest) < 1.5f / kSide) {
                    ++near;
                    continue;
                }
                const float a = grid[static_cast<std::size_t>(y * kSide + x)];
                QVERIFY2(deepest > 0 ? a > 0.99f : a < 0.01f,
                         qPrintable(QStringLiteral("%1, %2").arg(x).arg(y)));
                ++right;
            }
        QVERIFY(near < right / 4);
        QVERIFY(stampsIn(placed, {-1000, -1000}, {1000, 1000}).empty());
    }

    void stampsKeepTheirDistance() {
        Controls scattered{{"lies", std::string("scattered")},
                           {"count", 30.0},
                           {"stamp", 0.1},
                           {"size-vary", 0.0},
                           {"component", std::string("alpha")}};
        constexpr int kSide = 900;
        const auto share = [&](double apart) {
            scattered["apart"] = apart;
            double sum = 0;
            for (const float a : m_bench.grid("grain", scattered, kSide)) sum += static_cast<double>(a);
            return sum / kSide / kSide;
        };
        const double all = share(0), some = share(0.5), few = share(1.0);
        QVERIFY(all > 0.008 && all < 0.0105);
        // Of stamps at random within cells, one of a near pair falls out.
        QVERIFY(some < all * 0.9 && some > all * 0.4 && few < some && few > all * 0.15);
    }

    void theSameForAnyBlockAndForGrids() {
        const Controls broken{
            {"repeats", 3.0}, {"break-up", true}, {"rotation", 20.0}, {"across", std::string("mirror")}};
        const auto grid = m_bench.grid("grain", broken, 100);
        for (const std::size_t block : {16u, 128u, 512u})
            QVERIFY(m_bench.grid("grain", broken, 100, block) == grid);
    }

    void oddNumbersGiveFiniteMaps() {
        for (const char* control : {"repeats", "rotation", "offset-u", "seed"})
            for (const double odd : {0.0, -2.0, 1e9, 1e-9})
                for (const bool breaks : {false, true}) {
                    const auto v = m_bench.at("base-colour", Kind::Colour,
                                              {{control, odd}, {"break-up", breaks}}, 0.3f, 0.2f);
                    QVERIFY2(std::isfinite(v[0]) && v[0] >= -0.01f && v[0] <= 1.01f, control);
                }
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0}));
        for (const double odd : {0.0, -5.0, 1e9}) {
            const auto v = m_bench.at("base-colour", Kind::Colour,
                                      {{"lies", std::string("sides")}, {"size", odd}}, 0.3f, 0.2f, &front);
            QVERIFY(std::isfinite(v[0]));
        }
    }
};

QTEST_GUILESS_MAIN(PlacementTest)
#include "placement_test.moc"
