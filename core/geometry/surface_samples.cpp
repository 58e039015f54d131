#include "core/geometry/surface_samples.h"

#include <algorithm>
#include <cmath>

namespace kettle {
namespace {

constexpr int kMostSteps = 128;

float longestEdge(const Mesh& mesh, std::size_t t) {
    const Vec3 a = mesh.positions[mesh.indices[3 * t]], b = mesh.positions[mesh.indices[3 * t + 1]],
               c = mesh.positions[mesh.indices[3 * t + 2]];
    return std::max({length(b - a), length(c - b), length(a - c)});
}

int stepsOf(float edge, float piece) {
    return std::clamp(static_cast<int>(std::ceil(edge / piece)), 1, kMostSteps);
}

std::size_t placesIn(int steps) {
    const auto n = static_cast<std::size_t>(steps);
    return (n + 1) * (n + 2) / 2;
}

/// The length of a piece at which the lattices have about as many places as wanted.
float pieceFor(const std::vector<float>& edges, float size, std::size_t wanted) {
    float piece = size / 400;
    for (int tries = 0; tries < 40; ++tries, piece *= 1.25f) {
        std::size_t count = 0;
        for (const float edge : edges)
            if (const int steps = stepsOf(edge, piece); steps > 1) count += placesIn(steps);
        if (count <= wanted) break;
    }
    return piece;
}

}  // namespace

SurfaceSamples::SurfaceSamples(const Mesh& mesh, std::size_t wanted)
    : m_lattices(mesh.triangleCount()),
      m_corners(mesh.indices),
      m_positions(mesh.positions),
      m_normals(mesh.normals) {
    Vec3 low, high;
    mesh.bounds(low, high);
    std::vector<float> edges(mesh.triangleCount());
    for (std::size_t t = 0; t < edges.size(); ++t) edges[t] = longestEdge(mesh, t);
    const float piece = pieceFor(edges, std::max(1e-6f, length(high - low)), wanted);
    for (std::size_t t = 0; t < edges.size(); ++t) {
        const int steps = stepsOf(edges[t], piece);
        if (steps == 1) continue;
        m_lattices[t] = {static_cast<std::uint32_t>(m_positions.size()), static_cast<std::uint16_t>(steps)};
        const std::uint32_t* c = &mesh.indices[3 * t];
        for (int j = 0; j <= steps; ++j)
            for (int i = 0; i + j <= steps; ++i) {
                const float b1 = static_cast<float>(i) / static_cast<float>(steps),
                            b2 = static_cast<float>(j) / static_cast<float>(steps), b0 = 1 - b1 - b2;
                m_positions.push_back(mesh.positions[c[0]] * b0 + mesh.positions[c[1]] * b1 +
                                      mesh.positions[c[2]] * b2);
                m_normals.push_back(
                    normalised(mesh.normals[c[0]] * b0 + mesh.normals[c[1]] * b1 + mesh.normals[c[2]] * b2));
            }
    }
}

void SurfaceSamples::read(const std::vector<float>& numbers, float nowhere, const std::uint32_t* triangles,
                          const float* b1, const float* b2, std::size_t count, float* out) const {
    for (std::size_t k = 0; k < count; ++k) {
        const std::uint32_t t = triangles[k];
        if (t >= m_lattices.size()) {
            out[k] = nowhere;
            continue;
        }
        // In the rim beyond its edge a triangle goes on as it is there.
        float x = std::clamp(b1[k], 0.0f, 1.0f), y = std::clamp(b2[k], 0.0f, 1.0f);
        if (const float sum = x + y; sum > 1) x /= sum, y /= sum;
        const Lattice& lattice = m_lattices[t];
        if (lattice.steps == 1) {
            const std::uint32_t* c = &m_corners[3 * static_cast<std::size_t>(t)];
            out[k] = numbers[c[0]] * (1 - x - y) + numbers[c[1]] * x + numbers[c[2]] * y;
            continue;
        }
        const int n = lattice.steps;
        x *= static_cast<float>(n), y *= static_cast<float>(n);
        const int j = std::min(static_cast<int>(y), n - 1), i = std::min(static_cast<int>(x), n - 1 - j);
        const float fx = x - static_cast<float>(i), fy = y - static_cast<float>(j);
        // Row j of the lattice has n + 1 - j places.
        const auto at = [&](int column, int row) {
            const auto place = static_cast<std::size_t>(row * (n + 1) - row * (row - 1) / 2 + column);
            return numbers[lattice.first + place];
        };
        out[k] = fx + fy <= 1
                     ? at(i, j) * (1 - fx - fy) + at(i + 1, j) * fx + at(i, j + 1) * fy
                     : at(i + 1, j + 1) * (fx + fy - 1) + at(i + 1, j) * (1 - fy) + at(i, j + 1) * (1 - fx);
    }
}

}  // namespace kettle
