#include "core/geometry/displacement.h"

#include <array>
#include <bit>
#include <unordered_map>

#include "core/base/hash.h"

namespace kettle {
namespace {

/// One pass of splitting: each edge that is too long gets a vertex in its middle.
class Splitter {
public:
    Splitter(Mesh& mesh, float longest) : m_mesh(mesh), m_longest(longest) {}

    /// How many triangles a pass would make.
    std::size_t wouldHave() const {
        std::size_t count = 0;
        for (std::size_t t = 0; t < m_mesh.triangleCount(); ++t) {
            const std::uint32_t* v = &m_mesh.indices[3 * t];
            count += 1 + (isLong(v[0], v[1]) ? 1 : 0) + (isLong(v[1], v[2]) ? 1 : 0) +
                     (isLong(v[2], v[0]) ? 1 : 0);
        }
        return count;
    }
    void split() {
        std::vector<std::uint32_t> indices;
        std::vector<std::uint16_t> parts;
        indices.reserve(m_mesh.indices.size() * 4);
        for (std::size_t t = 0; t < m_mesh.triangleCount(); ++t) {
            const std::array<std::uint32_t, 3> v{m_mesh.indices[3 * t], m_mesh.indices[3 * t + 1],
                                                 m_mesh.indices[3 * t + 2]};
            const auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
                indices.insert(indices.end(), {a, b, c});
                parts.push_back(m_mesh.trianglePart[t]);
            };
            splitTriangle(v, add);
        }
        m_mesh.indices = std::move(indices);
        m_mesh.trianglePart = std::move(parts);
    }

private:
    bool isLong(std::uint32_t a, std::uint32_t b) const {
        return length(m_mesh.positions[a] - m_mesh.positions[b]) > m_longest;
    }
    template <class Add>
    void splitTriangle(std::array<std::uint32_t, 3> v, Add&& add) {
        // Turned so that an edge that stays, if there is one beside one that does not, comes last.
        for (int turn = 0; turn < 3; ++turn) {
            const bool first = isLong(v[0], v[1]), second = isLong(v[1], v[2]), third = isLong(v[2], v[0]);
            const int count = (first ? 1 : 0) + (second ? 1 : 0) + (third ? 1 : 0);
            if (count == 0) return add(v[0], v[1], v[2]);
            if (count == 3) {
                const std::uint32_t a = middle(v[0], v[1]), b = middle(v[1], v[2]), c = middle(v[2], v[0]);
                add(v[0], a, c), add(a, v[1], b), add(c, b, v[2]), add(a, b, c);
                return;
            }
            if (count == 1 && first) {
                const std::uint32_t a = middle(v[0], v[1]);
                add(v[0], a, v[2]), add(a, v[1], v[2]);
                return;
            }
            if (count == 2 && first && second) {
                const std::uint32_t a = middle(v[0], v[1]), b = middle(v[1], v[2]);
                add(a, v[1], b), add(v[0], a, b), add(v[0], b, v[2]);
                return;
            }
            v = {v[1], v[2], v[0]};
        }
    }
    std::uint32_t middle(std::uint32_t a, std::uint32_t b) {
        const std::uint64_t key = static_cast<std::uint64_t>(std::min(a, b)) << 32 | std::max(a, b);
        const auto [known, isNew] =
            m_middles.try_emplace(key, static_cast<std::uint32_t>(m_mesh.positions.size()));
        if (!isNew) return known->second;
        m_mesh.positions.push_back((m_mesh.positions[a] + m_mesh.positions[b]) * 0.5f);
        m_mesh.normals.push_back(normalised(m_mesh.normals[a] + m_mesh.normals[b]));
        m_mesh.uvs.push_back((m_mesh.uvs[a] + m_mesh.uvs[b]) * 0.5f);
        const Tangent &ta = m_mesh.tangents[a], &tb = m_mesh.tangents[b];
        m_mesh.tangents.push_back({normalised(ta.direction + tb.direction), ta.side});
        return known->second;
    }

    Mesh& m_mesh;
    float m_longest;
    std::unordered_map<std::uint64_t, std::uint32_t> m_middles;
};

/// Vertices at one place, as numbers of places.
std::vector<std::uint32_t> placesOf(const Mesh& mesh, std::uint32_t& count) {
    std::unordered_map<std::uint64_t, std::uint32_t> known;
    known.reserve(mesh.positions.size());
    std::vector<std::uint32_t> places(mesh.positions.size());
    for (std::size_t i = 0; i < places.size(); ++i) {
        const Vec3 p = mesh.positions[i] + Vec3{0, 0, 0};  // -0 becomes 0
        const std::uint64_t key =
            combine(combine(std::bit_cast<std::uint32_t>(p.x), std::bit_cast<std::uint32_t>(p.y)),
                    std::bit_cast<std::uint32_t>(p.z));
        places[i] = known.try_emplace(key, static_cast<std::uint32_t>(known.size())).first->second;
    }
    count = static_cast<std::uint32_t>(known.size());
    return places;
}

/// For each of `count` groups its members, one after the other: members[first[g]] to before members[first[g +
/// 1]].
void listMembers(const std::vector<std::uint32_t>& groupOf, std::size_t count,
                 std::vector<std::uint32_t>& first, std::vector<std::uint32_t>& members) {
    first.assign(count + 1, 0);
    members.resize(groupOf.size());
    for (const std::uint32_t g : groupOf) ++first[g + 1];
    for (std::size_t g = 0; g < count; ++g) first[g + 1] += first[g];
    std::vector<std::uint32_t> next(first.begin(), first.end() - 1);
    for (std::uint32_t i = 0; i < groupOf.size(); ++i) members[next[groupOf[i]]++] = i;
}

}  // namespace

Mesh tessellated(const Mesh& mesh, float longest, std::size_t mostTriangles, const CancelToken& cancel) {
    Mesh fine = mesh;
    constexpr int kMostPasses = 12;
    for (int pass = 0; pass < kMostPasses && longest > 0 && !cancel.isCancelled(); ++pass) {
        Splitter splitter(fine, longest);
        const std::size_t next = splitter.wouldHave();
        if (next == fine.triangleCount() || next > mostTriangles) break;
        splitter.split();
    }
    return fine;
}

MovableMesh::MovableMesh(Mesh mesh) : m_mesh(std::move(mesh)) {
    std::uint32_t count = 0;
    m_place = placesOf(m_mesh, count);
    listMembers(m_place, count, m_first, m_members);
    listMembers(m_mesh.indices, m_mesh.positions.size(), m_firstFace, m_faces);
    m_direction.resize(count);
    for (std::size_t i = 0; i < m_place.size(); ++i) m_direction[m_place[i]] += m_mesh.normals[i];
    for (Vec3& d : m_direction) d = normalised(d);
    m_before = smoothNormals(m_mesh.positions);
}

/// The faces' normals around each vertex, by area; across a seam or a hard edge only what faces alike joins.
std::vector<Vec3> MovableMesh::smoothNormals(const std::vector<Vec3>& positions) const {
    std::vector<Vec3> faces(m_mesh.triangleCount()), own(positions.size()), result(positions.size());
    constexpr std::size_t kGrain = 4096;
    parallelFor(faces.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        for (std::size_t t = begin; t < end; ++t) {
            const std::uint32_t* v = &m_mesh.indices[3 * t];
            faces[t] = cross(positions[v[1]] - positions[v[0]], positions[v[2]] - positions[v[0]]);
        }
    });
    parallelFor(own.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i)
            for (std::uint32_t k = m_firstFace[i]; k < m_firstFace[i + 1]; ++k)
                own[i] += faces[m_faces[k] / 3];
    });
    parallelFor(own.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            Vec3 sum;
            for (std::uint32_t k = m_first[m_place[i]]; k < m_first[m_place[i] + 1]; ++k)
                if (dot(m_mesh.normals[m_members[k]], m_mesh.normals[i]) > 0.9f) sum += own[m_members[k]];
            result[i] = normalised(sum);
        }
    });
    return result;
}

Mesh MovableMesh::moved(const std::vector<float>& by) const {
    Mesh mesh = m_mesh;
    constexpr std::size_t kGrain = 4096;
    parallelFor(m_direction.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        for (std::size_t p = begin; p < end; ++p) {
            float sum = 0;
            for (std::uint32_t k = m_first[p]; k < m_first[p + 1]; ++k) sum += by[m_members[k]];
            const Vec3 d = m_direction[p] * (sum / static_cast<float>(m_first[p + 1] - m_first[p]));
            for (std::uint32_t k = m_first[p]; k < m_first[p + 1]; ++k) mesh.positions[m_members[k]] += d;
        }
    });
    const std::vector<Vec3> after = smoothNormals(mesh.positions);
    parallelFor(after.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            // What the file's normal said beyond its faces stays.
            const Vec3 n = normalised(mesh.normals[i] + (after[i] - m_before[i]));
            mesh.normals[i] = n;
            Vec3& t = mesh.tangents[i].direction;
            t = normalised(t - n * dot(t, n));
        }
    });
    return mesh;
}

}  // namespace kettle
