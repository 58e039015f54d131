// Which stamps of a scattered map lie, and which of a sheet's pictures each is: by a mask that is asked at
// their middles, by known places of a known picture.
#include <QtTest>
#include <set>

#include "core/engine/stamps.h"
#include "core/engine/stamps_where.h"
#include "core/steps/map.h"
#include "tests/support/placement_bench.h"

using namespace kettle;
using namespace kettle::test;

namespace {

constexpr int kSide = 500;

/// Stamps that lie on their own, with nothing over another.
Controls apart(const char* component = "alpha") {
    return {{"lies", std::string("scattered")},
            {"count", 12.0},
            {"stamp", 0.4},
            {"size-vary", 0.2},
            {"apart", 1.0},
            {"soft", 0.0},
            {"component", std::string(component)}};
}

std::vector<StampCorners> outlines(const Controls& controls) {
    Step step;
    step.type = "map";
    step.controls = controls;
    const StepSpec& spec = *shippedSteps().find("map");
    return stampsIn(placementOf(StepView(spec, step, Kind::Scalar)), {0, 0}, {1, 1});
}

Vec2 middle(const StampCorners& c) {
    return (c[0] + c[2]) * 0.5f;
}

/// A picture's number at a place of texture space, which repeats.
float at(const std::vector<float>& grid, Vec2 place) {
    const auto pixel = [](float t) {
        return std::min(kSide - 1, static_cast<int>((t - std::floor(t)) * kSide));
    };
    return grid[static_cast<std::size_t>((kSide - 1 - pixel(place.y)) * kSide + pixel(place.x))];
}

/// Black to the left of the middle, white to the right.
Line halves() {
    return line("halves", Kind::Scalar, "",
                {step("g", "gradient", {{"shape", std::string("straight")}}),
                 step("w", "levels", {{"in-black", 0.49999}, {"in-white", 0.50001}})});
}

}  // namespace

class StampsWhereTest final : public QObject {
    Q_OBJECT
    PlacementBench m_bench;

private Q_SLOTS:
    void cleanup() { m_bench.askWhere({}); }

    /// Whole where the mask is white at its middle, and nowhere else: also across the mask's edge.
    void aStampLiesWholeWhereItsMiddleIsWhite() {
        m_bench.askWhere(feed("halves"), {halves()});
        const auto grid = m_bench.grid("grain", apart(), kSide);
        int there = 0, gone = 0, across = 0;
        for (const StampCorners& c : outlines(apart())) {
            const Vec2 m = middle(c);
            const float u = m.x - std::floor(m.x);
            if (std::fabs(u - 0.5f) < 0.002f || u < 0.002f || u > 0.998f) continue;
            const bool lies = u > 0.5f;
            ++(lies ? there : gone);
            across += (c[0].x - 0.5f) * (c[2].x - 0.5f) < 0 ? 1 : 0;
            for (const float share : {0.0f, 0.5f, 0.75f})
                for (const Vec2 corner : c) QCOMPARE(at(grid, m + (corner - m) * share), lies ? 1.0f : 0.0f);
        }
        QVERIFY2(there > 15 && gone > 15 && across > 0,
                 qPrintable(QStringLiteral("%1, %2, %3").arg(there).arg(gone).arg(across)));
    }

    void blackLaysNoneAndWhiteAll() {
        const auto all = m_bench.grid("grain", apart(), kSide);
        m_bench.askWhere(constantFeed(1.0));
        QVERIFY(m_bench.grid("grain", apart(), kSide) == all);
        m_bench.askWhere(constantFeed(0.0));
        const auto none = m_bench.grid("grain", apart(), kSide);
        QVERIFY(std::all_of(none.begin(), none.end(), [](float a) { return a == 0; }));
    }

    /// A grey is the share of them that lies: of 40 x 40 cells a quarter within three deviations.
    void greyLaysAShare() {
        Controls many = apart();
        many["count"] = 40.0;
        many["apart"] = 0.0;
        many["stamp"] = 0.1;
        const auto covered = [&](std::optional<Feed> where) {
            m_bench.askWhere(std::move(where));
            double sum = 0;
            for (const float a : m_bench.grid("grain", many, 800)) sum += static_cast<double>(a);
            return sum;
        };
        const double share = covered(constantFeed(0.25)) / covered({});
        QVERIFY2(std::fabs(share - 0.25) < 3 * std::sqrt(0.25 * 0.75 / 1600) + 0.01,
                 qPrintable(QString::number(share)));
    }

    /// All maps of a set in the same spots, for any block, row by row, and beside a point.
    void theSameForEveryMapAndBlock() {
        m_bench.askWhere(feed("halves"), {halves()});
        const auto grain = m_bench.grid("grain", apart(), 120),
                   colour = m_bench.grid("base-colour", apart(), 120);
        QVERIFY(grain == colour);
        for (const std::size_t block : {16u, 512u})
            QVERIFY(m_bench.grid("grain", apart(), 120, block) == grain);
    }

    /// What is asked may lie on the model: height above its foot, of which stamps below the middle have none.
    void theModelIsAskedAtTheMiddle() {
        OneModel front(square({0, 0, 3}, {1, 0, 0}, {0, 1, 0}));
        const Line high = line(
            "high", Kind::Scalar, "",
            {step("g", "model-height"), step("w", "levels", {{"in-black", 0.49999}, {"in-white", 0.50001}})});
        m_bench.askWhere(feed("high"), {high});
        Controls controls = apart("red");
        const auto [cached, rows] = m_bench.redOn(front, "base-colour", controls, kSide);
        QVERIFY(cached == rows);
        m_bench.askWhere({});
        const auto [all, allRows] = m_bench.redOn(front, "base-colour", controls, kSide);
        int there = 0, gone = 0;
        for (const StampCorners& c : outlines(controls)) {
            const Vec2 m = middle(c);
            const float v = m.y - std::floor(m.y);
            if (std::fabs(v - 0.5f) < 0.02f || v < 0.02f || v > 0.98f) continue;
            ++(v > 0.5f ? there : gone);
            // Elsewhere what stands in for the map.
            QCOMPARE(at(cached, m), v > 0.5f ? at(all, m) : 0.5f);
        }
        QVERIFY(there > 15 && gone > 15);
    }

    /// Another mask is another picture, though nothing else changed; the same one again is not read again.
    void anotherMaskIsAskedAnew() {
        const auto constant = [](float value) {
            ProgramBuilder p;
            return std::make_shared<const Program>(p.finish({p.constant(value)}));
        };
        ResolvedMaps nothing;
        const auto half = StampsWhere::of(constant(0.5f), nothing),
                   same = StampsWhere::of(constant(0.5f), nothing),
                   other = StampsWhere::of(constant(0.6f), nothing);
        QVERIFY(half == same && half != other && half->id() != other->id());
        MapSource a{"set", "role"}, b = a;
        a.where = constant(0.5f);
        QVERIFY(!(a == b) && !(b == a));
        b.where = constant(0.5f);
        QVERIFY(a == b);
        b.where = constant(0.6f);
        QVERIFY(!(a == b));
    }

    /// A mask that is itself stamps of a mask, and so on, and one that goes round, come to an end.
    void masksWithinMasksComeToAnEnd() {
        std::vector<Line> lines;
        for (int i = 0; i < 7; ++i) {
            Step map = mapStep("n" + std::to_string(i), "grain");
            map.controls = apart();
            map.feeds["where"] = feed("mask" + std::to_string((i + 1) % 7));
            lines.push_back(line("mask" + std::to_string(i), Kind::Scalar, "", {map}));
        }
        m_bench.askWhere(feed("mask0"), lines);
        for (const float a : m_bench.grid("grain", apart(), 60)) QVERIFY(a >= 0 && a <= 1);
    }

    /// Each stamp shows one of a sheet's pictures, all of them come, and none shows anything of its
    /// neighbour.
    void stampsAreOneOfASheetsPictures() {
        Controls sheet = apart("red");
        sheet["pictures-across"] = 4.0;
        sheet["pictures-up"] = 2.0;
        sheet["turn-vary"] = 0.0;
        std::set<int> met;
        int looked = 0;
        for (const StampCorners& c : outlines(sheet)) {
            const Vec2 m = middle(c);
            if (m.x < 0 || m.x >= 1 || m.y < 0 || m.y >= 1 || looked == 24) continue;
            ++looked;
            // Which picture it is, by what lies in the middle; then what lies near its corners.
            const auto middleOf = [&](int i, Vec2 share) {
                return std::pair{(i % 4 + 0.5 + 0.5 * static_cast<double>(share.x)) / 4,
                                 (i / 4 + 0.5 + 0.5 * static_cast<double>(share.y)) / 2};
            };
            const auto reads = [&](int i, Vec2 share) {
                const Vec2 place = m + Vec2{share.x * (c[1].x - c[0].x) / 2, share.y * (c[3].y - c[0].y) / 2};
                const auto [u, v] = middleOf(i, share);
                return m_bench.reads(sheet, static_cast<double>(place.x), static_cast<double>(place.y), u, v);
            };
            int which = -1;
            for (int i = 0; i < 8; ++i)
                if (reads(i, {0, 0})) which = i;
            QVERIFY(which >= 0);
            met.insert(which);
            for (const Vec2 share : {Vec2{0.9f, 0.9f}, {-0.9f, 0.9f}, {0.9f, -0.9f}, {-0.9f, -0.9f}})
                QVERIFY2(reads(which, share), qPrintable(QString::number(which)));
        }
        QCOMPARE(met.size(), 8u);
    }

    /// Black is black up to the stamp's very edge, though the sheet's next picture is white.
    void nothingOfTheNextPictureShowsAtAnEdge() {
        Controls sheet = apart("red");
        sheet["pictures-across"] = 4.0;
        sheet["turn-vary"] = 0.0;
        int blacks = 0, whites = 0;
        for (const StampCorners& c : outlines(sheet)) {
            const Vec2 m = middle(c);
            if (m.x < 0.2f || m.x >= 0.8f || m.y < 0.2f || m.y >= 0.8f) continue;
            const auto read = [&](float share) {
                return m_bench.at("sheet", Kind::Scalar, sheet, m.x + share * (c[1].x - c[0].x) / 2, m.y)[0];
            };
            const float own = read(0);
            QVERIFY(own == 0.0f || own == 1.0f);
            ++(own == 0.0f ? blacks : whites);
            for (const float share : {-0.998f, -0.99f, 0.99f, 0.998f}) QCOMPARE(read(share), own);
        }
        QVERIFY(blacks > 2 && whites > 2);
    }

    void oddNumbersOfPictures() {
        for (const double odd : {0.0, -3.0, 1e9, 2.7}) {
            Controls sheet = apart("red");
            sheet["pictures-across"] = odd, sheet["pictures-up"] = odd;
            for (const float v : m_bench.grid("grain", sheet, 40)) QVERIFY(std::isfinite(v));
        }
    }
};

QTEST_GUILESS_MAIN(StampsWhereTest)
#include "stamps_where_test.moc"
