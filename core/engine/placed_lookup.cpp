#include "core/engine/placed_lookup.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/spread_tables.h"

namespace kettle {
namespace {

constexpr std::uint8_t kOutside = 1, kMirroredAcross = 2, kMirroredUp = 4;

/// One axis brought to where the map is; what has to be remembered of it in `state`.
float broughtIn(float t, Placed::Beyond beyond, std::uint8_t mirrored, std::uint8_t& state) {
    if (beyond == Placed::Beyond::Once) {
        if (!(t >= 0 && t < 1)) state |= kOutside;
        return t;
    }
    if (beyond == Placed::Beyond::Repeat) return t;
    const float there = t - 2 * std::floor(t * 0.5f);  // 0..2
    if (there < 1) return there;
    state |= mirrored;
    return 2 - there;
}

/// The three hexagons that a place lies in, by their numbers and weights. A hexagon is about a third of the
/// map wide. Source: Heitz and Neyret 2018, section 4.
struct Hexagons {
    std::int32_t column[3], row[3];
    float weight[3];
    Hexagons(float u, float v) {
        u *= 3.4641016f, v *= 3.4641016f;
        const float x = u - 0.57735027f * v, y = 1.15470054f * v;
        const float cx = std::floor(x), cy = std::floor(y), fx = x - cx, fy = y - cy, fz = 1 - fx - fy;
        const auto ix = static_cast<std::int32_t>(cx), iy = static_cast<std::int32_t>(cy);
        const bool isLower = fz > 0;
        const std::int32_t corners[2][3][2]{{{1, 1}, {1, 0}, {0, 1}}, {{0, 0}, {0, 1}, {1, 0}}};
        for (std::size_t k = 0; k < 3; ++k)
            column[k] = ix + corners[isLower ? 1 : 0][k][0], row[k] = iy + corners[isLower ? 1 : 0][k][1];
        weight[0] = isLower ? fz : -fz;
        weight[1] = isLower ? fy : 1 - fy;
        weight[2] = isLower ? fx : 1 - fx;
    }
};

}  // namespace

void PlacedLookup::sample(const PlacedPoints& points, unsigned mask, float* const out[4]) {
    const Placed& p = m_placed;
    m_u.resize(points.count), m_v.resize(points.count), m_footprint.resize(points.count);
    m_state.assign(points.count, 0);
    // How much of the map a unit of the plane is.
    const float scale = std::sqrt(std::fabs(p.xx * p.yy - p.xy * p.yx));
    for (std::size_t i = 0; i < points.count; ++i) {
        const float x = points.x[i], y = points.y[i];
        m_u[i] = broughtIn(p.xx * x + p.xy * y + p.x0, p.across, kMirroredAcross, m_state[i]);
        m_v[i] = broughtIn(p.yx * x + p.yy * y + p.y0, p.up, kMirroredUp, m_state[i]);
        m_footprint[i] = points.footprint[i] * scale;
    }
    if (p.scatters) return sampleScattered(points.count, mask, out);
    if (p.breaksUp)
        sampleBroken(points.count, mask, out);
    else
        sampleOnce(points.count, mask, out);
    for (std::size_t c = 0; c < 4; ++c) {
        if ((mask >> c & 1u) == 0) continue;
        const std::uint8_t turns = !p.isNormals ? 0 : c == 0 ? kMirroredAcross : c == 1 ? kMirroredUp : 0;
        const float outside = c == 3 ? 0.0f : m_outside[c];
        for (std::size_t i = 0; i < points.count; ++i) {
            if (m_state[i] & turns) out[c][i] = 1 - out[c][i];
            if (m_state[i] & kOutside) out[c][i] = outside;
        }
    }
}

void PlacedLookup::sampleOnce(std::size_t count, unsigned mask, float* const out[4]) {
    m_map.sample({m_u.data(), m_v.data(), m_footprint.data(), count}, mask, out);
}

void PlacedLookup::sampleBroken(std::size_t count, unsigned mask, float* const out[4]) {
    const SpreadTables& tables = m_map.spreadTables();
    m_memory.resize(count * 17);
    float* const weights = m_memory.data();
    float* const places = weights + 3 * count;
    float* const read = places + 2 * count;
    std::vector<Hexagons> hexagons;
    hexagons.reserve(count);
    for (std::size_t i = 0; i < count; ++i) {
        const float most = 1e6f;
        hexagons.emplace_back(std::clamp(m_u[i], -most, most), std::clamp(m_v[i], -most, most));
    }
    for (std::size_t k = 0; k < 3; ++k) {
        std::int32_t column = 0, row = 0;
        float across = 0, up = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const Hexagons& h = hexagons[i];
            // Neighbours mostly lie in one hexagon.
            if (i == 0 || h.column[k] != column || h.row[k] != row) {
                column = h.column[k], row = h.row[k];
                const std::uint64_t number =
                    combine(combine(m_placed.seed, static_cast<std::uint32_t>(column)),
                            static_cast<std::uint32_t>(row));
                across = unitFloat(number), up = unitFloat(number << 24);
            }
            places[i] = m_u[i] + across;
            places[count + i] = m_v[i] + up;
            weights[k * count + i] = h.weight[k];
        }
        float* part[4]{};
        for (std::size_t c = 0; c < 4; ++c) part[c] = read + (k * 4 + c) * count;
        m_map.sample({places, places + count, m_footprint.data(), count}, mask, part);
    }
    for (std::size_t c = 0; c < 4; ++c) {
        if ((mask >> c & 1u) == 0) continue;
        // Directions keep their middle and their deviation; their third component follows when they are made
        // unit vectors. Alpha is shape, and is mixed as it is.
        const bool isTabled = !m_placed.isNormals && c < 3;
        for (std::size_t i = 0; i < count; ++i) {
            float sum = 0, squares = 0;
            for (std::size_t k = 0; k < 3; ++k) {
                const float w = weights[k * count + i], x = read[(k * 4 + c) * count + i];
                sum += w * (isTabled ? tables.toNormal(c, x) : x);
                squares += w * w;
            }
            if (c == 3 || (m_placed.isNormals && c == 2)) {
                out[c][i] = sum;
                continue;
            }
            // What a point covers wholly has no spread left to be kept.
            const float t = std::clamp((m_footprint[i] - 1.0f / 32) * (1 / (0.25f - 1.0f / 32)), 0.0f, 1.0f);
            const float narrowed = std::sqrt(squares) * (1 - t) + t;
            const float kept = 0.5f + (sum - 0.5f) / narrowed;
            out[c][i] = isTabled ? tables.fromNormal(c, kept) : kept;
        }
    }
}

}  // namespace kettle
