#include "core/engine/fact_reader.h"

#include <algorithm>
#include <cmath>

#include "core/engine/placed_kernels.h"
#include "core/engine/placed_lookup.h"

namespace kettle {

void shift(const Offset& offset, float texel, const float* u, const float* v, const float* footprint,
           std::size_t count, float* shiftedU, float* shiftedV) {
    const float du = 0.5f * static_cast<float>(offset.u), dv = 0.5f * static_cast<float>(offset.v);
    for (std::size_t i = 0; i < count; ++i) {
        const float stride = std::max(footprint[i], texel);
        shiftedU[i] = u[i] + du * stride;
        shiftedV[i] = v[i] + dv * stride;
    }
}

void FactReader::at(const float* u, const float* v, const float* footprint, std::size_t count,
                    const ModelPlaces* places, std::size_t first) {
    m_u = u, m_v = v, m_footprint = footprint, m_count = count;
    m_triangles = nullptr;
    m_covered = nullptr;
    m_planesOffset.reset();
    if (places == nullptr || places->empty()) return;
    m_triangles = places->triangles.data() + first;
    m_b1 = places->b1.data() + first, m_b2 = places->b2.data() + first;
    if (!places->covered.empty()) m_covered = places->covered.data() + first;
}

void FactReader::findPlaces() {
    if (m_triangles != nullptr) return;
    m_foundTriangles.resize(m_count), m_found1.resize(m_count), m_found2.resize(m_count);
    m_maps.model->find(m_u, m_v, m_count, m_foundTriangles.data(), m_found1.data(), m_found2.data());
    m_triangles = m_foundTriangles.data(), m_b1 = m_found1.data(), m_b2 = m_found2.data();
}

FactReader::Beside FactReader::beside(const SourceKey& key, std::size_t source) {
    findPlaces();
    if (key.offset.isNone()) return {m_b1, m_b2};
    // The same triangle, moved along: what lies beside it in texture space may be another part.
    m_shiftedU.resize(m_count), m_shiftedV.resize(m_count);
    shift(key.offset, m_maps.texels[source], m_u, m_v, m_footprint, m_count, m_shiftedU.data(),
          m_shiftedV.data());
    m_moved1.assign(m_b1, m_b1 + m_count), m_moved2.assign(m_b2, m_b2 + m_count);
    m_maps.model->move(m_triangles, m_shiftedU.data(), m_shiftedV.data(), m_count, m_moved1.data(),
                       m_moved2.data());
    return {m_moved1.data(), m_moved2.data()};
}

void FactReader::readModel(const SourceKey& key, std::size_t source, unsigned mask, float* const out[4]) {
    const ModelField* field = m_maps.fields[source].get();
    if (field == nullptr) {
        const std::array<float, 4> neutral = neutralFact(*key.mesh());
        for (std::size_t c = 0; c < 4; ++c)
            if (mask >> c & 1u) std::fill_n(out[c], m_count, neutral[c]);
        return;
    }
    const auto [b1, b2] = beside(key, source);
    field->read(m_triangles, b1, b2, m_count, mask, out);
}

void FactReader::read(std::size_t source, unsigned mask, float* const out[4]) {
    const SourceKey& key = m_program.sources[source];
    if (key.mesh() != nullptr) return readModel(key, source, mask, out);
    if (const PointAttribute* fact = std::get_if<PointAttribute>(&key.what))
        readPoint(*fact, key, source, out[0]);
}

void FactReader::readPoint(PointAttribute fact, const SourceKey& key, std::size_t source, float* out) {
    switch (fact) {
        case PointAttribute::Covered:
            readCovered(source, out);
            return;
        case PointAttribute::Footprint:
            std::copy_n(m_footprint, m_count, out);
            return;
        case PointAttribute::Stride:
            for (std::size_t i = 0; i < m_count; ++i)
                out[i] = std::max(m_footprint[i], m_maps.texels[source]);
            return;
        case PointAttribute::U:
        case PointAttribute::V: {
            const float* plain = fact == PointAttribute::U ? m_u : m_v;
            if (key.offset.isNone()) {
                std::copy_n(plain, m_count, out);
                return;
            }
            const float by =
                0.5f * static_cast<float>(fact == PointAttribute::U ? key.offset.u : key.offset.v);
            for (std::size_t i = 0; i < m_count; ++i)
                out[i] = plain[i] + by * std::max(m_footprint[i], m_maps.texels[source]);
            return;
        }
    }
}

void FactReader::readCovered(std::size_t source, float* out) {
    if (m_covered != nullptr) {
        std::copy_n(m_covered, m_count, out);
        return;
    }
    const ModelField* size = m_maps.fields[source].get();
    if (size == nullptr) {
        std::fill_n(out, m_count, 0.0f);
        return;
    }
    findPlaces();
    float* const only[4]{out, nullptr, nullptr, nullptr};
    size->read(m_triangles, m_b1, m_b2, m_count, 1u, only);
    for (std::size_t i = 0; i < m_count; ++i) out[i] *= m_footprint[i];
}

void FactReader::findPlanes(const SourceKey& key, std::size_t source) {
    // The three sides of a map look at the same places.
    if (m_planesOffset && *m_planesOffset == key.offset) return;
    m_planesOffset = key.offset;
    const auto [b1, b2] = beside(key, source);
    m_planes.resize(10 * m_count);
    std::array<float*, 7> plane;
    for (std::size_t k = 0; k < plane.size(); ++k) plane[k] = m_planes.data() + k * m_count;
    float *position[4]{plane[0], plane[1], plane[2], nullptr},
        *normal[4]{plane[3], plane[4], plane[5], nullptr};
    m_maps.position->read(m_triangles, b1, b2, m_count, 7, position);
    m_maps.normal->read(m_triangles, m_b1, m_b2, m_count, 7, normal);
    float* const covered = plane[6];
    if (m_covered != nullptr) {
        std::copy_n(m_covered, m_count, covered);
        return;
    }
    float* size[4]{covered, nullptr, nullptr, nullptr};
    m_maps.size->read(m_triangles, b1, b2, m_count, 1, size);
    for (std::size_t i = 0; i < m_count; ++i) covered[i] *= m_footprint[i];
}

/// The runs in which a side has a share of what is seen: all of them beside a point, which may have another
/// normal there.
std::size_t FactReader::findRuns(const SourceKey& key, std::size_t side) {
    m_runs.resize(m_count / kRun + 1);
    const auto plane = [&](std::size_t k) { return m_planes.data() + k * m_count; };
    const float* const normal[3]{plane(3), plane(4), plane(5)};
    if (key.offset.isNone() && key.map()->placed.sharpness > 0)
        return findSeen(normal, side, key.map()->placed.sharpness, m_count, m_runs.data());
    std::size_t runs = 0;
    for (std::size_t from = 0; from < m_count; from += kRun)
        m_runs[runs++] = static_cast<std::uint32_t>(from);
    return runs;
}

/// What was read of runs of points, one behind the other, to where they lie; `neutral` between them.
void FactReader::putRuns(std::size_t runs, unsigned mask, const float* const read[4],
                         const std::array<float, 4>& neutral, float* const out[4]) const {
    for (std::size_t c = 0; c < 4; ++c) {
        if ((mask >> c & 1u) == 0) continue;
        std::fill_n(out[c], m_count, neutral[c]);
        for (std::size_t r = 0, at = 0; r < runs; ++r) {
            const std::size_t from = m_runs[r], n = std::min(kRun, m_count - from);
            std::copy_n(read[c] + at, n, out[c] + from);
            at += n;
        }
    }
}

/// A map as it is seen from one of the model's sides, where that side has a share.
void FactReader::readSide(PlacedLookup& lookup, std::size_t source, unsigned mask, float* const out[4]) {
    const SourceKey& key = m_program.sources[source];
    findPlanes(key, source);
    const auto plane = [&](std::size_t k) { return m_planes.data() + k * m_count; };
    // Across and up as one sees them who looks at the side; the wrong way round where it turns away.
    const Placed::Plane side = key.map()->placed.plane;
    const std::size_t across = side == Placed::Plane::X ? 2 : 0, up = side == Placed::Plane::Y ? 2 : 1,
                      axis = side == Placed::Plane::X   ? 0
                             : side == Placed::Plane::Y ? 1
                                                        : 2;
    const float seen = side == Placed::Plane::Z ? 1.0f : -1.0f;
    float *const x = plane(7), *const y = plane(8), *const covered = plane(9);
    float* const signedOne = side == Placed::Plane::Y ? y : x;
    const std::size_t runs = findRuns(key, axis);
    std::size_t count = 0;
    for (std::size_t r = 0; r < runs; ++r) {
        const std::size_t from = m_runs[r], n = std::min(kRun, m_count - from);
        const float* const facing = plane(3 + axis) + from;
        std::copy_n(plane(across) + from, n, x + count);
        std::copy_n(plane(up) + from, n, y + count);
        std::copy_n(plane(6) + from, n, covered + count);
        for (std::size_t i = 0; i < n; ++i) signedOne[count + i] *= std::copysign(seen, seen * facing[i]);
        count += n;
    }
    if (count == m_count) return lookup.sample({x, y, covered, count}, mask, out);
    m_read.resize(4 * count);
    float* read[4]{};
    for (std::size_t c = 0; c < 4; ++c) read[c] = m_read.data() + c * count;
    lookup.sample({x, y, covered, count}, mask, read);
    putRuns(runs, mask, read, m_maps.holes[source].neutral, out);
}

void FactReader::readPlaced(std::size_t source, unsigned mask, float* const out[4]) {
    const SourceKey& key = m_program.sources[source];
    const std::array<float, 4>& neutral = m_maps.holes[source].neutral;
    PlacedLookup lookup(*m_maps.maps[source], key.map()->placed, neutral, m_maps.wheres[source].get());
    if (key.map()->placed.plane != Placed::Plane::Texture) {
        if (m_maps.position != nullptr) return readSide(lookup, source, mask, out);
        for (std::size_t c = 0; c < 4; ++c)
            if (mask >> c & 1u) std::fill_n(out[c], m_count, neutral[c]);
        return;
    }
    const float *u = m_u, *v = m_v;
    if (!key.offset.isNone()) {
        m_shiftedU.resize(m_count), m_shiftedV.resize(m_count);
        shift(key.offset, m_maps.texels[source], m_u, m_v, m_footprint, m_count, m_shiftedU.data(),
              m_shiftedV.data());
        u = m_shiftedU.data(), v = m_shiftedV.data();
    }
    lookup.sample({u, v, m_footprint, m_count}, mask, out);
}

}  // namespace kettle
