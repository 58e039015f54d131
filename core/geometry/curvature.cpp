#include "core/geometry/curvature.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/threads/parallel.h"

namespace kettle {
namespace {

/// A piece of the surface in one cell of space that faces one of six ways.
struct Piece {
    std::uint64_t cell = 0;
    int facing = 0;
    Vec3 position, normal;  ///< sums, then means
    float area = 0;
};

constexpr int kCellsOfSpread = 3;  ///< cells a spread: about 30 pieces are weighed for each place

/// Space in cells as wide as a third of the spread.
class Cells {
public:
    Cells(Vec3 low, float width) : m_low(low), m_width(width) {}
    int along(float from, float at) const { return static_cast<int>(std::floor((at - from) / m_width)) + 8; }
    static std::uint64_t number(int x, int y, int z) {
        const auto part = [](int i) { return static_cast<std::uint64_t>(i) & 0x1fffffu; };
        return part(x) | part(y) << 21 | part(z) << 42;
    }
    void place(Vec3 p, int& x, int& y, int& z) const {
        x = along(m_low.x, p.x), y = along(m_low.y, p.y), z = along(m_low.z, p.z);
    }

private:
    Vec3 m_low;
    float m_width;
};

int facingOf(Vec3 n) {
    const float x = std::fabs(n.x), y = std::fabs(n.y), z = std::fabs(n.z);
    if (x >= y && x >= z) return n.x < 0 ? 1 : 0;
    if (y >= z) return n.y < 0 ? 3 : 2;
    return n.z < 0 ? 5 : 4;
}

/// The mesh cut into small triangles and gathered by cell and direction.
class Pieces {
public:
    Pieces(const Mesh& mesh, const Cells& cells, float width) : m_cells(cells) {
        for (std::size_t t = 0; t < mesh.triangleCount(); ++t) add(mesh, t, width);
        std::sort(m_pieces.begin(), m_pieces.end(), [](const Piece& a, const Piece& b) {
            return a.cell != b.cell ? a.cell < b.cell : a.facing < b.facing;
        });
        for (Piece& p : m_pieces) {
            p.position = p.position * (1 / p.area);
            p.normal = normalised(p.normal);
        }
    }
    /// Appends all in the cells x0 to x1 of a row; they lie beside each other.
    void inRow(int x0, int x1, int y, int z, std::vector<Piece>& found) const {
        const std::uint64_t first = Cells::number(x0, y, z), last = Cells::number(x1, y, z);
        auto at = std::lower_bound(m_pieces.begin(), m_pieces.end(), first,
                                   [](const Piece& piece, std::uint64_t cell) { return piece.cell < cell; });
        for (; at != m_pieces.end() && at->cell <= last; ++at) found.push_back(*at);
    }

private:
    void add(const Mesh& mesh, std::size_t t, float width) {
        const std::uint32_t* c = &mesh.indices[3 * t];
        const Vec3 a = mesh.positions[c[0]], e1 = mesh.positions[c[1]] - a, e2 = mesh.positions[c[2]] - a;
        const float area = 0.5f * length(cross(e1, e2));
        if (!(area > 0)) return;
        constexpr int kMost = 256;
        const int n = std::clamp(
            static_cast<int>(std::ceil(1.5f * std::max({length(e1), length(e2), length(e2 - e1)}) / width)),
            1, kMost);
        const float share = area / static_cast<float>(n * n), step = 1 / static_cast<float>(n);
        const auto gatherAt = [&](float b1, float b2) {
            const Vec3 normal =
                mesh.normals[c[0]] * (1 - b1 - b2) + mesh.normals[c[1]] * b1 + mesh.normals[c[2]] * b2;
            gather(a + e1 * b1 + e2 * b2, normalised(normal), share);
        };
        for (int j = 0; j < n; ++j)
            for (int i = 0; i + j < n; ++i) {
                const float x = static_cast<float>(i), y = static_cast<float>(j);
                gatherAt((x + 1.0f / 3) * step, (y + 1.0f / 3) * step);
                if (i + j + 1 < n) gatherAt((x + 2.0f / 3) * step, (y + 2.0f / 3) * step);
            }
    }
    void gather(Vec3 at, Vec3 normal, float area) {
        int x = 0, y = 0, z = 0;
        m_cells.place(at, x, y, z);
        const std::uint64_t cell = Cells::number(x, y, z);
        const int facing = facingOf(normal);
        const auto [found, isNew] = m_known.try_emplace(cell * 6 + static_cast<std::uint64_t>(facing),
                                                        static_cast<std::uint32_t>(m_pieces.size()));
        if (isNew) m_pieces.push_back({cell, facing, {}, {}, 0});
        Piece& p = m_pieces[found->second];
        p.position += at * area;
        p.normal += normal * area;
        p.area += area;
    }
    const Cells& m_cells;
    std::unordered_map<std::uint64_t, std::uint32_t> m_known;
    std::vector<Piece> m_pieces;
};

/// Samples that lie in one block of cells, and so weigh the same pieces.
struct Block {
    int x, y, z;
    std::vector<std::uint32_t> samples;
};
constexpr int kCellsOfBlock = 2;

std::vector<Block> blocksOf(const SurfaceSamples& samples, const Cells& cells) {
    std::unordered_map<std::uint64_t, std::size_t> known;
    std::vector<Block> blocks;
    for (std::size_t s = 0; s < samples.size(); ++s) {
        int x = 0, y = 0, z = 0;
        cells.place(samples.positions()[s], x, y, z);
        x /= kCellsOfBlock, y /= kCellsOfBlock, z /= kCellsOfBlock;
        const auto [at, isNew] = known.try_emplace(Cells::number(x, y, z), blocks.size());
        if (isNew) blocks.push_back({x * kCellsOfBlock, y * kCellsOfBlock, z * kCellsOfBlock, {}});
        blocks[at->second].samples.push_back(static_cast<std::uint32_t>(s));
    }
    return blocks;
}

/// How the normals of the pieces around a place lean away from it, by distance: the best fit.
float bendAt(Vec3 at, Vec3 normal, const std::vector<Piece>& pieces, float radius) {
    float apart = 0, squares = 0;
    const float inverse = 1 / (radius * radius);
    for (const Piece& p : pieces) {
        const Vec3 d = p.position - at;
        const float square = dot(d, d), share = square * inverse;
        // The far side of a thin wall faces away.
        if (share >= 1 || dot(p.normal, normal) < -0.5f) continue;
        const float weight = p.area * (1 - share);
        apart += weight * dot(p.normal - normal, d);
        squares += weight * square;
    }
    return squares > 0 ? apart / squares * radius : 0;
}

}  // namespace

std::vector<float> curvatureOf(const Mesh& mesh, const SurfaceSamples& samples, float spread) {
    Vec3 low, high;
    mesh.bounds(low, high);
    // Finer than a 300th of the model nothing can be told of it.
    const float radius = std::max(spread, std::max(1e-6f, length(high - low)) / 300);
    const Cells cells(low, radius / kCellsOfSpread);
    const Pieces pieces(mesh, cells, radius / kCellsOfSpread);
    const std::vector<Block> blocks = blocksOf(samples, cells);
    std::vector<float> result(samples.size(), 0.0f);
    parallelFor(blocks.size(), 64, [&](std::size_t begin, std::size_t end) {
        std::vector<Piece> around;
        for (std::size_t b = begin; b < end; ++b) {
            const Block& block = blocks[b];
            around.clear();
            constexpr int kReach = kCellsOfSpread, kFar = kCellsOfBlock - 1 + kCellsOfSpread;
            for (int z = block.z - kReach; z <= block.z + kFar; ++z)
                for (int y = block.y - kReach; y <= block.y + kFar; ++y)
                    pieces.inRow(block.x - kReach, block.x + kFar, y, z, around);
            for (const std::uint32_t s : block.samples)
                result[s] = bendAt(samples.positions()[s], samples.normals()[s], around, radius);
        }
    });
    return result;
}

}  // namespace kettle
