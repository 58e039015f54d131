// Stamps of a map: a cell has one, at a spot, of a size and turned by an angle that its number tells. A point
// sees those of the nine cells around it, so that none is cut at a cell's edge; the higher lies over the
// lower.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"
#include "core/engine/placed_lookup.h"
#include "core/engine/stamps.h"

namespace kettle {
namespace {

struct Stamp {
    float x, y;  ///< its middle, in cells
    float size, c, s;
    std::uint64_t order;  ///< of all, unlike for all cells; the highest lies on top
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
    const float turn = (2 * unit(3) - 1) * p.turnVary * std::numbers::pi_v<float> / 180;
    return {static_cast<float>(column) + unit(0),
            static_cast<float>(row) + unit(1),
            p.stamp * (1 - p.sizeVary * unit(2)),
            std::cos(turn),
            std::sin(turn),
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

/// The stamps around a cell, from the lowest to the highest.
struct Around {
    int column = 0, row = 0;
    std::size_t count = 0;
    std::array<Stamp, 9> stamps;
    void fill(const Placed& p, int c, int r) {
        column = c, row = r, count = 0;
        for (int j = -1; j <= 1; ++j)
            for (int i = -1; i <= 1; ++i) {
                const Stamp stamp = stampOf(p, c + i, r + j);
                if (stands(p, c + i, r + j, stamp)) insert(stamp);
            }
    }
    void insert(const Stamp& stamp) {
        std::size_t at = count++;
        for (; at > 0 && stamps[at - 1].order > stamp.order; --at) stamps[at] = stamps[at - 1];
        stamps[at] = stamp;
    }
};

/// How much of a stamp there is so far from its edges, 0..1 across; `covered`: of a point, in stamps.
float edgeOf(float u, float v, float soft, float covered) {
    const float inside = std::min({u, 1 - u, v, 1 - v});
    const float width = std::max(0.5f * soft, std::max(covered, 1e-5f));
    const float t = std::clamp(inside / width + (soft > 0 ? 0.0f : 0.5f), 0.0f, 1.0f);
    return soft > 0 ? t * t * (3 - 2 * t) : t;
}

/// A point's lookup in one of its stamps.
struct Hit {
    std::uint32_t point;
    float edge, c, s;
};

}  // namespace

std::vector<StampCorners> stampsIn(const Placed& p, Vec2 low, Vec2 high, std::size_t most) {
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
    std::vector<StampCorners> all;
    for (int row = bottom; row <= top; ++row)
        for (int column = left; column <= right; ++column) {
            const Stamp stamp = stampOf(p, column, row);
            if (!stands(p, column, row, stamp)) continue;
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

void PlacedLookup::sampleScattered(std::size_t count, unsigned mask, float* const out[4]) {
    std::vector<Hit> hits;
    std::vector<float> u, v, footprint;
    Around around;
    bool isFilled = false;
    for (std::size_t i = 0; i < count; ++i) {
        const float x = std::clamp(m_u[i], -1e6f, 1e6f), y = std::clamp(m_v[i], -1e6f, 1e6f);
        const int column = static_cast<int>(std::floor(x)), row = static_cast<int>(std::floor(y));
        if (!isFilled || column != around.column || row != around.row) around.fill(m_placed, column, row);
        isFilled = true;
        for (std::size_t k = 0; k < around.count; ++k) {
            const Stamp& stamp = around.stamps[k];
            const float dx = (x - stamp.x) / stamp.size, dy = (y - stamp.y) / stamp.size;
            const float su = dx * stamp.c + dy * stamp.s + 0.5f, sv = dy * stamp.c - dx * stamp.s + 0.5f;
            const float covered = m_footprint[i] / stamp.size;
            const float edge = edgeOf(su, sv, m_placed.soft, covered);
            if (edge <= 0) continue;
            hits.push_back({static_cast<std::uint32_t>(i), edge, stamp.c, stamp.s});
            // The picture's own edge, and not what repeats behind it.
            u.push_back(std::clamp(su, 0.0f, 0.999999f)), v.push_back(std::clamp(sv, 0.0f, 0.999999f));
            footprint.push_back(covered);
        }
    }
    std::array<std::vector<float>, 4> read;
    float* looked[4]{};
    for (std::size_t c = 0; c < 4; ++c) {
        read[c].resize(hits.size());
        looked[c] = read[c].data();
    }
    const unsigned needed = mask | 8u | (m_placed.isNormals ? 3u : 0u);  // directions turn as a whole
    m_map.sample({u.data(), v.data(), footprint.data(), hits.size()}, needed, looked);
    std::vector<float> covered(count, 0.0f);
    for (std::size_t c = 0; c < 3; ++c)
        if (mask >> c & 1u) std::fill_n(out[c], count, 0.0f);
    for (std::size_t k = 0; k < hits.size(); ++k) {
        const Hit& hit = hits[k];
        const std::size_t i = hit.point;
        if (m_placed.isNormals) {
            const float x = read[0][k] - 0.5f, y = read[1][k] - 0.5f;
            read[0][k] = x * hit.c - y * hit.s + 0.5f, read[1][k] = x * hit.s + y * hit.c + 0.5f;
        }
        const float a = hit.edge * std::clamp(read[3][k], 0.0f, 1.0f);
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
