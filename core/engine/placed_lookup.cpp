#include "core/engine/placed_lookup.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/engine/placed_kernels.h"
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

/// From a point with a weight on, the end of those that are read at once: a few without one are read along.
std::size_t endOfReading(const float* weight, std::size_t first, std::size_t count) {
    for (std::size_t end = first;;) {
        end = endOfShare(weight, end, count);
        if (end == count) return end;
        const std::size_t next = endOfShare(weight, end, count);
        if (next == count || next - end >= kRun) return end;
        end = next;
    }
}

}  // namespace

void PlacedLookup::sample(const PlacedPoints& points, unsigned mask, float* const out[4]) {
    const Placed& p = m_placed;
    m_u.resize(points.count), m_v.resize(points.count), m_footprint.resize(points.count);
    // How much of the map a unit of the plane is.
    const float scale = std::sqrt(std::fabs(p.xx * p.yy - p.xy * p.yx));
    for (std::size_t i = 0; i < points.count; ++i) m_footprint[i] = points.footprint[i] * scale;
    for (std::size_t i = 0; i < points.count; ++i) m_u[i] = p.xx * points.x[i] + p.xy * points.y[i] + p.x0;
    for (std::size_t i = 0; i < points.count; ++i) m_v[i] = p.yx * points.x[i] + p.yy * points.y[i] + p.y0;
    const bool repeats = p.across == Placed::Beyond::Repeat && p.up == Placed::Beyond::Repeat;
    if (!repeats) {
        m_state.assign(points.count, 0);
        for (std::size_t i = 0; i < points.count; ++i) {
            m_u[i] = broughtIn(m_u[i], p.across, kMirroredAcross, m_state[i]);
            m_v[i] = broughtIn(m_v[i], p.up, kMirroredUp, m_state[i]);
        }
    }
    if (p.scatters) return sampleScattered(points, mask, out);
    if (p.breaksUp)
        sampleBroken(points.count, mask, out);
    else
        sampleOnce(points.count, mask, out);
    if (repeats) return;
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
    // So many that what they need between the lookups stays in the nearest cache.
    constexpr std::size_t kPiece = 512;
    m_memory.resize(std::min(count, kPiece) * 17), m_cells.resize(std::min(count, kPiece) * 6);
    for (std::size_t first = 0; first < count; first += kPiece) {
        float* to[4]{};
        for (std::size_t c = 0; c < 4; ++c) to[c] = (mask >> c & 1u) != 0 ? out[c] + first : nullptr;
        sampleBrokenPiece(first, std::min(kPiece, count - first), mask, to);
    }
}

void PlacedLookup::sampleBrokenPiece(std::size_t first, std::size_t count, unsigned mask,
                                     float* const out[4]) {
    const SpreadTables& tables = m_map.spreadTables();
    float* const weights = m_memory.data();
    float* const read = weights + 5 * count;  // of each component three runs
    findHexagons(m_u.data() + first, m_v.data() + first, count, m_cells.data(), m_cells.data() + 3 * count,
                 weights);
    for (std::size_t k = 0; k < 3; ++k) readHexagons(first, count, k, mask, read);
    for (std::size_t c = 0; c < 4; ++c) {
        if ((mask >> c & 1u) == 0) continue;
        const bool isKept = isTabled(c) || (m_placed.isNormals && c < 2);
        mixHexagons(weights, read + c * 3 * count, isKept ? m_footprint.data() + first : nullptr, count,
                    out[c]);
        if (isTabled(c)) tables.fromNormal(c, out[c], count);
    }
}

/// What the map has in one of the three hexagons of each point of a piece, where it has a weight; elsewhere
/// any number.
void PlacedLookup::readHexagons(std::size_t first, std::size_t count, std::size_t k, unsigned mask,
                                float* read) {
    const float *const u = m_u.data() + first, *const v = m_v.data() + first,
                       *const footprint = m_footprint.data() + first,
                       *const weight = m_memory.data() + k * count;
    float* const places = m_memory.data() + 3 * count;
    const std::int32_t *const column = m_cells.data() + k * count, *const row = column + 3 * count;
    for (std::size_t i = 0; i < count;) {
        const std::size_t end = endOfHexagon(column, row, i, count);
        const std::uint64_t number = combine(combine(m_placed.seed, static_cast<std::uint32_t>(column[i])),
                                             static_cast<std::uint32_t>(row[i]));
        const float across = unitFloat(number), up = unitFloat(number << 24);
        for (std::size_t p = i; p < end; ++p) places[p] = u[p] + across;
        for (std::size_t p = i; p < end; ++p) places[count + p] = v[p] + up;
        i = end;
    }
    for (std::size_t i = 0; i < count;) {
        float* part[4]{};
        for (std::size_t c = 0; c < 4; ++c) part[c] = read + (c * 3 + k) * count + i;
        if (!(weight[i] > 0)) {
            const std::size_t end = endOfShare(weight, i, count);
            for (std::size_t c = 0; c < 4; ++c)
                if ((mask >> c & 1u) != 0) std::fill_n(part[c], end - i, 0.5f);
            i = end;
            continue;
        }
        const std::size_t end = endOfReading(weight, i, count);
        m_map.sample({places + i, places + count + i, footprint + i, end - i}, mask, part);
        for (std::size_t c = 0; c < 4; ++c)
            if ((mask >> c & 1u) != 0 && isTabled(c)) m_map.spreadTables().toNormal(c, part[c], end - i);
        i = end;
    }
}

/// Directions keep their middle and their deviation; their third component follows when they are made unit
/// vectors. Alpha is shape, and is mixed as it is.
bool PlacedLookup::isTabled(std::size_t component) const {
    return !m_placed.isNormals && component < 3;
}

}  // namespace kettle
