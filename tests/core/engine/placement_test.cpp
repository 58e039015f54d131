// Maps that lie otherwise than in their texture: by known places of a known picture, on planes whose sides
// are known, and repetition broken up by what must stay and what must go.
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "core/base/hash.h"
#include "core/engine/placed_kernels.h"
#include "core/engine/stamps.h"
#include "core/geometry/mesh_facts.h"
#include "core/steps/map.h"
#include "tests/support/placement_bench.h"

using namespace kettle;
using namespace kettle::test;

namespace {

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

private Q_SLOTS:
    void aMapIsRepeatedTurnedAndMoved() {
        QVERIFY(m_bench.reads({}, 0.3, 0.2, 0.3, 0.2));
        QVERIFY(m_bench.reads({{"repeats", 3.0}}, 0.3, 0.2, 0.9, 0.6));
        // Anticlockwise by a quarter: what was to the right of the middle is above it.
        QVERIFY(m_bench.reads({{"rotation", 90.0}}, 0.5, 0.8, 0.8, 0.5));
        QVERIFY(m_bench.reads({{"rotation", 90.0}}, 0.3, 0.6, 0.6, 0.7));
        const double c = std::cos(0.5235987755982988), s = std::sin(0.5235987755982988);
        QVERIFY(m_bench.reads({{"rotation", 30.0}}, 0.5 + 0.2 * c, 0.5 + 0.2 * s, 0.7, 0.5));
        QVERIFY(m_bench.reads({{"offset-u", 0.25}, {"offset-v", -0.1}}, 0.5, 0.5, 0.25, 0.6));
    }

    void beyondItsEdgesItMirrorsOrEnds() {
        QVERIFY(m_bench.reads({{"repeats", 2.0}, {"across", std::string("mirror")}}, 0.6, 0.3, 0.8, 0.6));
        QVERIFY(m_bench.reads({{"repeats", 2.0}, {"up", std::string("mirror")}}, 0.2, 0.9, 0.4, 0.2));
        const Controls once{{"repeats", 2.0}, {"across", std::string("once")}, {"up", std::string("once")}};
        QVERIFY(m_bench.reads(once, 0.2, 0.3, 0.4, 0.6));
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

    /// At a corner of the net one hexagon has all; in a triangle's middle three share alike; elsewhere each
    /// has a sixth less than its share, and all are made 1 in sum.
    void hexagonsShareAPoint() {
        const auto weights = [](double a, double b) {
            // The point that has the shares 1 - a - b, b and a of a triangle's corners.
            const auto u = static_cast<float>((a + 0.5 * b) / 3.4641016151377544),
                       v = static_cast<float>(b * 0.8660254037844386 / 3.4641016151377544);
            std::array<std::int32_t, 3> column{}, row{};
            std::array<float, 4> w{};
            findHexagons(&u, &v, 1, column.data(), row.data(), w.data());
            return w;
        };
        QVERIFY(near(weights(0.001, 0.001), {1, 0, 0}, 1e-4f));
        QVERIFY(near(weights(1.0 / 3, 1.0 / 3 - 1e-4), {1.0f / 3, 1.0f / 3, 1.0f / 3}, 1e-3f));
        QVERIFY(near(weights(0.3, 0.6 - 1e-4), {0, 0.7647059f, 0.2352941f}, 1e-3f));
        QVERIFY(near(weights(0.25, 0.25), {0.6666667f, 0.1666667f, 0.1666667f}, 1e-4f));
        const std::array<float, 6> some{0, 0, 0.5f, 0.2f, 0, 0.1f};
        const auto end = [&](std::size_t first) { return endOfShare(some.data(), first, some.size()); };
        QCOMPARE(end(0), 2u);
        QCOMPARE(end(1), 2u);
        QCOMPARE(end(2), 4u);
        QCOMPARE(end(4), 5u);
        QCOMPARE(end(5), 6u);
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
