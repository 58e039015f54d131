// Stamps of a map: a cell has one, at a spot, of a size and turned by an angle that its number tells. A point
// sees those of the nine cells around it, so that none is cut at a cell's edge; the higher lies over the
// lower.
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <vector>

#include "core/base/hash.h"
#include "core/engine/placed_kernels.h"
#include "core/engine/placed_lookup.h"
#include "core/engine/stamps.h"
#include "core/engine/stamps_where.h"

namespace kettle {
namespace {

struct Stamp {
    float x, y;  ///< its middle, in cells
    float size, c, s;
    float pictureX, pictureY;  ///< which of the map's pictures it is, counted from its lower left
    std::uint64_t order;       ///< of all, unlike for all cells; the highest lies on top
};

std::uint64_t numberOf(const Placed& p, int column, int row) {
    if (p.period >= 1) {
        const int period = static_cast<int>(p.period);
        column = ((column % period) + period) % period, row = ((row % period) + period) % period;
    }
    return combine(combine(p.seed + 0x51ull, static_cast<std::uint32_t>(column)),
                   static_cast<std::uint32_t>(row));
}

Stamp stampOf(const Placed& p, int column, int row) {
    const std::uint64_t h = numberOf(p, column, row);
    const auto unit = [&](std::uint64_t n) { return unitFloat(mixBits(h + n)); };
    // Of `count` things one, by a number of its own.
    const auto chosen = [&](std::uint64_t n, int count) {
        return std::min(std::floor(unit(n) * static_cast<float>(count)), static_cast<float>(count - 1));
    };
    const float turn = (2 * unit(3) - 1) * p.turnVary * std::numbers::pi_v<float> / 180;
    return {static_cast<float>(column) + unit(0),
            static_cast<float>(row) + unit(1),
            p.stamp * (1 - p.sizeVary * unit(2)),
            std::cos(turn),
            std::sin(turn),
            chosen(4, p.picturesAcross),
            chosen(5, p.picturesUp),
            h};
}

/// False if a stamp of a higher order lies too near, whether that one stands or not: so nine cells tell.
bool stands(const Placed& p, int column, int row, const Stamp& own) {
    if (p.apart <= 0) return true;
    for (int j = -1; j <= 1; ++j)
        for (int i = -1; i <= 1; ++i) {
            if (i == 0 && j == 0) continue;
            const std::uint64_t h = numberOf(p, column + i, row + j);
            if (h < own.order) continue;
            const float dx = static_cast<float>(column + i) + unitFloat(mixBits(h)) - own.x,
                        dy = static_cast<float>(row + j) + unitFloat(mixBits(h + 1)) - own.y;
            if (dx * dx + dy * dy < p.apart * p.apart) return false;
        }
    return true;
}

constexpr float kFarthest = 1e6f;

int whole(float t) {
    return static_cast<int>(std::floor(std::clamp(t, -kFarthest, kFarthest)));
}

/// The cell of a place, and its tile of texture space.
StampCell cellOf(float u, float v, float textureU, float textureV) {
    return {whole(u), whole(v), whole(textureU), whole(textureV)};
}

/// Which of the stamps around some points lie, all of them asked at once.
class Lying {
public:
    explicit Lying(const StampsWhere* where) : m_where(where) {}
    void ask(const Placed& p, const PlacedPoints& points, const float* u, const float* v) {
        if (m_where == nullptr) return;
        for (std::size_t i = 0; i < points.count; ++i) {
            const StampCell at = cellOf(u[i], v[i], points.x[i], points.y[i]);
            if (i > 0 && at == m_last) continue;
            m_last = at;
            for (int row = -1; row <= 1; ++row)
                for (int column = -1; column <= 1; ++column)
                    m_lies.try_emplace({at.column + column, at.row + row, at.tileColumn, at.tileRow}, true);
        }
        std::vector<StampCell> cells;
        for (const auto& [cell, lies] : m_lies) cells.push_back(cell);
        const std::vector<bool> lying = m_where->lie(p, cells);
        std::size_t i = 0;
        for (auto& [cell, lies] : m_lies) lies = lying[i++];
    }
    bool operator()(const StampCell& cell) const { return m_where == nullptr || m_lies.at(cell); }

private:
    const StampsWhere* m_where;
    StampCell m_last;
    std::map<StampCell, bool> m_lies;
};

/// The stamps around a cell, from the lowest to the highest.
struct Around {
    std::size_t count = 0;
    std::array<Stamp, 9> stamps;
    void fill(const Placed& p, const StampCell& cell, const Lying& lying) {
        count = 0;
        for (int j = -1; j <= 1; ++j)
            for (int i = -1; i <= 1; ++i) {
                const StampCell at{cell.column + i, cell.row + j, cell.tileColumn, cell.tileRow};
                const Stamp stamp = stampOf(p, at.column, at.row);
                if (stands(p, at.column, at.row, stamp) && lying(at)) insert(stamp);
            }
    }
    void insert(const Stamp& stamp) {
        std::size_t at = count++;
        for (; at > 0 && stamps[at - 1].order > stamp.order; --at) stamps[at] = stamps[at - 1];
        stamps[at] = stamp;
    }
};

/// The points of some stamps, one stamp after the other, from the lowest to the highest of a place.
struct Hits {
    std::size_t count = 0;
    std::vector<std::uint32_t> points;
    std::vector<float> edge, u, v, footprint;

    void add(const StampFrame& stamp, const float* x, const float* y, const float* covered, std::size_t n,
             std::size_t first) {
        grow(count + n + kRun);
        const std::size_t found =
            findInStamp(stamp, x, y, covered, n, static_cast<std::uint32_t>(first),
                        {&points[count], &edge[count], &u[count], &v[count], &footprint[count]});
        if (found > 0) m_turns.push_back({count, count + found, stamp.c, stamp.s});
        count += found;
    }
    /// Turns what was read of directions as the stamps are.
    void turn(float* across, float* up) const {
        for (const Turn& t : m_turns)
            for (std::size_t k = t.first; k < t.last; ++k) {
                const float x = across[k] - 0.5f, y = up[k] - 0.5f;
                across[k] = x * t.c - y * t.s + 0.5f, up[k] = x * t.s + y * t.c + 0.5f;
            }
    }

private:
    void grow(std::size_t least) {
        if (points.size() >= least) return;
        const std::size_t size = std::max(least, 2 * points.size());
        points.resize(size);
        for (std::vector<float>* one : {&edge, &u, &v, &footprint}) one->resize(size);
    }
    struct Turn {
        std::size_t first, last;
        float c, s;
    };
    std::vector<Turn> m_turns;
};

}  // namespace

StampMiddle middleOf(const Placed& p, int column, int row) {
    const float flat = p.xx * p.yy - p.xy * p.yx;
    const Stamp stamp = stampOf(p, column, row);
    const float x = stamp.x - p.x0, y = stamp.y - p.y0;
    return {{(p.yy * x - p.xy * y) / flat, (p.xx * y - p.yx * x) / flat},
            stamp.size / std::sqrt(std::fabs(flat)),
            unitFloat(mixBits(numberOf(p, column, row) + 6))};
}

std::vector<StampCorners> stampsIn(const Placed& p, Vec2 low, Vec2 high, std::size_t most,
                                   const StampsWhere* where) {
    const float flat = p.xx * p.yy - p.xy * p.yx;
    if (flat == 0) return {};
    // The part's corners in cells, and one cell around them.
    Vec2 first{1e9f, 1e9f}, last{-1e9f, -1e9f};
    for (const Vec2 at : {low, Vec2{high.x, low.y}, high, Vec2{low.x, high.y}}) {
        const float x = p.xx * at.x + p.xy * at.y + p.x0, y = p.yx * at.x + p.yy * at.y + p.y0;
        first = {std::min(first.x, x), std::min(first.y, y)},
        last = {std::max(last.x, x), std::max(last.y, y)};
    }
    for (float* bound : {&first.x, &first.y, &last.x, &last.y}) *bound = std::clamp(*bound, -1e6f, 1e6f);
    const int left = static_cast<int>(std::floor(first.x)) - 1,
              right = static_cast<int>(std::floor(last.x)) + 1,
              bottom = static_cast<int>(std::floor(first.y)) - 1,
              top = static_cast<int>(std::floor(last.y)) + 1;
    if (static_cast<double>(right - left + 1) * (top - bottom + 1) > static_cast<double>(most)) return {};
    std::vector<StampCell> cells;
    for (int row = bottom; row <= top; ++row)
        for (int column = left; column <= right; ++column) {
            if (!stands(p, column, row, stampOf(p, column, row))) continue;
            const Vec2 at = middleOf(p, column, row).at;
            cells.push_back({column, row, whole(at.x), whole(at.y)});
        }
    const std::vector<bool> lying =
        where != nullptr ? where->lie(p, cells) : std::vector<bool>(cells.size(), true);
    std::vector<StampCorners> all;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (!lying[i]) continue;
        const Stamp stamp = stampOf(p, cells[i].column, cells[i].row);
        StampCorners& corners = all.emplace_back();
        constexpr Vec2 kCorners[] = {{-0.5f, -0.5f}, {0.5f, -0.5f}, {0.5f, 0.5f}, {-0.5f, 0.5f}};
        for (std::size_t k = 0; k < 4; ++k) {
            const Vec2 c = kCorners[k] * stamp.size;
            // As sampleScattered turns a place into a stamp's own, the other way round; then out of
            // cells.
            const float x = stamp.x + c.x * stamp.c - c.y * stamp.s - p.x0,
                        y = stamp.y + c.x * stamp.s + c.y * stamp.c - p.y0;
            corners[k] = {(p.yy * x - p.xy * y) / flat, (p.xx * y - p.yx * x) / flat};
        }
    }
    return all;
}

void PlacedLookup::sampleScattered(const PlacedPoints& points, unsigned mask, float* const out[4]) {
    const std::size_t count = points.count;
    for (std::size_t i = 0; i < count; ++i) {
        m_u[i] = std::clamp(m_u[i], -kFarthest, kFarthest);
        m_v[i] = std::clamp(m_v[i], -kFarthest, kFarthest);
    }
    Lying lying(m_where);
    lying.ask(m_placed, points, m_u.data(), m_v.data());
    const float texelAcross = 0.5f / static_cast<float>(m_map.width()),
                texelUp = 0.5f / static_cast<float>(m_map.height());
    Hits hits;
    Around around;
    for (std::size_t i = 0; i < count;) {
        const StampCell cell = cellOf(m_u[i], m_v[i], points.x[i], points.y[i]);
        const auto isWithin = [&](std::size_t k) {
            const auto lies = [](float t, int whole) {
                return t >= static_cast<float>(whole) && t < static_cast<float>(whole) + 1;
            };
            return lies(m_u[k], cell.column) && lies(m_v[k], cell.row) &&
                   (m_where == nullptr ||
                    (lies(points.x[k], cell.tileColumn) && lies(points.y[k], cell.tileRow)));
        };
        std::size_t end = i + 1;
        while (end < count && isWithin(end)) ++end;
        around.fill(m_placed, cell, lying);
        for (std::size_t k = 0; k < around.count; ++k) {
            const Stamp& stamp = around.stamps[k];
            const StampFrame frame{stamp.x,
                                   stamp.y,
                                   stamp.size,
                                   stamp.c,
                                   stamp.s,
                                   m_placed.soft,
                                   {stamp.pictureX, static_cast<float>(m_placed.picturesAcross), texelAcross},
                                   {stamp.pictureY, static_cast<float>(m_placed.picturesUp), texelUp}};
            hits.add(frame, &m_u[i], &m_v[i], &m_footprint[i], end - i, i);
        }
        i = end;
    }
    std::array<std::vector<float>, 4> read;
    float* looked[4]{};
    for (std::size_t c = 0; c < 4; ++c) {
        read[c].resize(hits.count);
        looked[c] = read[c].data();
    }
    const unsigned needed = mask | 8u | (m_placed.isNormals ? 3u : 0u);  // directions turn as a whole
    m_map.sample({hits.u.data(), hits.v.data(), hits.footprint.data(), hits.count}, needed, looked);
    std::vector<float> covered(count, 0.0f);
    for (std::size_t c = 0; c < 3; ++c)
        if (mask >> c & 1u) std::fill_n(out[c], count, 0.0f);
    if (m_placed.isNormals) hits.turn(read[0].data(), read[1].data());
    for (std::size_t k = 0; k < hits.count; ++k) {
        const std::size_t i = hits.points[k];
        const float a = hits.edge[k] * std::clamp(read[3][k], 0.0f, 1.0f);
        for (std::size_t c = 0; c < 3; ++c)
            if (mask >> c & 1u) out[c][i] = out[c][i] * (1 - a) + read[c][k] * a;
        covered[i] = covered[i] * (1 - a) + a;
    }
    // Colours apart from their alpha; where there is none, what stands in for the map.
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t c = 0; c < 3; ++c)
            if (mask >> c & 1u) out[c][i] = covered[i] > 1e-6f ? out[c][i] / covered[i] : m_outside[c];
        if (mask & 8u) out[3][i] = covered[i];
    }
}

}  // namespace kettle
