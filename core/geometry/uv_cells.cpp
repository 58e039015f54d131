#include "core/geometry/uv_cells.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kettle {
namespace {

constexpr int kFewestCells = 8, kMostCells = 1024;
constexpr double kMostEntries = 8e6;  ///< of all cells of a tile together, as long as that can be

/// Cells to the next one with anything in it, along rows, columns and diagonals. Two sweeps.
std::vector<std::uint8_t> distances(int side, const std::vector<std::uint32_t>& first) {
    std::vector<std::uint8_t> away(static_cast<std::size_t>(side) * static_cast<std::size_t>(side), 255);
    const auto at = [&](int x, int y) -> std::uint8_t& {
        return away[static_cast<std::size_t>(y) * static_cast<std::size_t>(side) +
                    static_cast<std::size_t>(x)];
    };
    const auto take = [&](int x, int y, int otherX, int otherY) {
        if (otherX < 0 || otherY < 0 || otherX >= side || otherY >= side) return;
        at(x, y) =
            static_cast<std::uint8_t>(std::min<int>(at(x, y), std::min(254, at(otherX, otherY) + 0) + 1));
    };
    for (std::size_t i = 0; i < away.size(); ++i)
        if (first[i + 1] > first[i]) away[i] = 0;
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x)
            take(x, y, x - 1, y), take(x, y, x, y - 1), take(x, y, x - 1, y - 1), take(x, y, x + 1, y - 1);
    for (int y = side - 1; y >= 0; --y)
        for (int x = side - 1; x >= 0; --x)
            take(x, y, x + 1, y), take(x, y, x, y + 1), take(x, y, x + 1, y + 1), take(x, y, x - 1, y + 1);
    return away;
}

}  // namespace

UvCells::Box UvCells::boxOf(const Mesh& mesh, std::uint32_t t) {
    const Vec2 a = mesh.uvs[mesh.indices[3 * t]], b = mesh.uvs[mesh.indices[3 * t + 1]],
               c = mesh.uvs[mesh.indices[3 * t + 2]];
    return {std::min({a.x, b.x, c.x}), std::min({a.y, b.y, c.y}), std::max({a.x, b.x, c.x}),
            std::max({a.y, b.y, c.y})};
}

UvCells::UvCells(const Mesh& mesh, const std::vector<bool>& wanted)
    : m_weights(mesh.triangleCount()), m_boxes(mesh.triangleCount()) {
    std::map<std::pair<int, int>, std::vector<std::uint32_t>> members;
    for (std::uint32_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec2 a = mesh.uvs[mesh.indices[3 * t]];
        const Vec2 e1 = mesh.uvs[mesh.indices[3 * t + 1]] - a, e2 = mesh.uvs[mesh.indices[3 * t + 2]] - a;
        const float area = e1.x * e2.y - e1.y * e2.x;
        const std::size_t part = mesh.trianglePart[t];
        const bool hasUv = part >= mesh.partHasUv.size() || mesh.partHasUv[part] != 0;
        if (!hasUv || !(std::fabs(area) > 1e-14f)) continue;
        if (!wanted.empty() && (part >= wanted.size() || !wanted[part])) continue;
        m_weights[t] = {a.x, a.y, e2.y / area, -e2.x / area, -e1.y / area, e1.x / area};
        const Box box = m_boxes[t] = boxOf(mesh, t);
        // A rim reaches into the next tile no farther than the tile itself is told of it.
        const int left = static_cast<int>(std::floor(box.left)),
                  right = static_cast<int>(std::floor(box.right)),
                  low = static_cast<int>(std::floor(box.bottom)),
                  high = static_cast<int>(std::floor(box.top));
        if (right - left > 100 || high - low > 100) continue;
        for (int row = low; row <= high; ++row)
            for (int column = left; column <= right; ++column) members[{column, row}].push_back(t);
    }
    for (const auto& [place, triangles] : members) {
        Tile& tile = m_tiles[place];
        tile.left = static_cast<float>(place.first), tile.bottom = static_cast<float>(place.second);
        fill(tile, triangles);
    }
}

void UvCells::fill(Tile& tile, const std::vector<std::uint32_t>& members) const {
    const double wanted = std::sqrt(4.0 * static_cast<double>(members.size()));
    tile.side = std::clamp(static_cast<int>(wanted), kFewestCells, kMostCells);
    // Copies that share their place lie over each other by thousands; each large triangle would then stand in
    // every one of many cells.
    const auto entries = [&](int side) {
        double sum = 0;
        for (const std::uint32_t t : members) {
            const Box& box = m_boxes[t];
            const auto across = [&](float size) {
                return std::min(1.0, static_cast<double>(size)) * side + 1;
            };
            sum += across(box.right - box.left) * across(box.top - box.bottom);
        }
        return sum;
    };
    while (tile.side > 1 && entries(tile.side) > kMostEntries) tile.side /= 2;
    const auto cellOf = [&](float along) {
        return std::clamp(static_cast<int>(std::floor(along * static_cast<float>(tile.side))), 0,
                          tile.side - 1);
    };
    const auto each = [&](std::uint32_t t, auto&& visit) {
        const Box& box = m_boxes[t];
        constexpr float kWider = 1e-6f;
        for (int y = cellOf(box.bottom - tile.bottom - kWider); y <= cellOf(box.top - tile.bottom + kWider);
             ++y)
            for (int x = cellOf(box.left - tile.left - kWider); x <= cellOf(box.right - tile.left + kWider);
                 ++x)
                visit(static_cast<std::size_t>(y * tile.side + x));
    };
    tile.first.assign(static_cast<std::size_t>(tile.side) * static_cast<std::size_t>(tile.side) + 1, 0);
    for (const std::uint32_t t : members) each(t, [&](std::size_t cell) { ++tile.first[cell + 1]; });
    for (std::size_t i = 1; i < tile.first.size(); ++i) tile.first[i] += tile.first[i - 1];
    tile.triangles.resize(tile.first.back());
    std::vector<std::uint32_t> next(tile.first.begin(), tile.first.end() - 1);
    for (const std::uint32_t t : members)
        each(t, [&](std::size_t cell) { tile.triangles[next[cell]++] = t; });
    tile.away = distances(tile.side, tile.first);
}

void UvCells::nearer(std::uint32_t triangle, float u, float v, Nearest& best) const {
    const Box& box = m_boxes[triangle];
    const float outX = std::max({box.left - u, u - box.right, 0.0f}),
                outY = std::max({box.bottom - v, v - box.top, 0.0f});
    // No triangle counts as nearer than its box: so the box tells exactly, and in whichever order triangles
    // are looked at, of equally near ones the first is taken.
    const float least = outX * outX + outY * outY;
    if (least > best.square || (least == best.square && triangle >= best.triangle)) return;
    const UvWeights& w = m_weights[triangle];
    // The edges again, from the weights' planes: the corner lists need not be kept.
    const float area = w.b1u * w.b2v - w.b1v * w.b2u;
    const Vec2 e1{w.b2v / area, -w.b2u / area}, e2{-w.b1v / area, w.b1u / area};
    const float x = u - w.u, y = v - w.v;
    const auto along = [&](Vec2 from, Vec2 to, float& t) {
        const Vec2 d = to - from;
        const float square = d.x * d.x + d.y * d.y;
        t = std::clamp(((x - from.x) * d.x + (y - from.y) * d.y) / std::max(square, 1e-30f), 0.0f, 1.0f);
        const float dx = from.x + d.x * t - x, dy = from.y + d.y * t - y;
        return dx * dx + dy * dy;
    };
    float t = 0;
    const auto take = [&](float square, float b1, float b2) {
        square = std::max(square, least);
        if (square < best.square || (square == best.square && triangle < best.triangle))
            best = {triangle, square, b1, b2};
    };
    float square = along({0, 0}, e1, t);
    take(square, t, 0);
    square = along({0, 0}, e2, t);
    take(square, 0, t);
    square = along(e1, e2, t);
    take(square, 1 - t, t);
}

bool UvCells::nearest(const Tile& tile, int column, int row, float u, float v, std::uint32_t likely,
                      std::uint32_t& triangle, float& b1, float& b2) const {
    const float cell = 1.0f / static_cast<float>(tile.side);
    const int away = tile.away[static_cast<std::size_t>(row * tile.side + column)];
    const int farthest = static_cast<int>(std::ceil(kRim / cell));
    Nearest best{kNoTriangle, kRim * kRim, 0, 0};
    if (likely != kNoTriangle) nearer(likely, u, v, best);
    for (int ring = away; ring <= farthest; ++ring) {
        const float least = static_cast<float>(std::max(0, ring - 1)) * cell;
        if (least * least > best.square) break;
        // Of the ring only what is no farther than the best so far.
        const float far = std::sqrt(best.square) + 2e-6f;
        const auto cellAt = [&](float along) {
            return std::clamp(static_cast<int>(along * static_cast<float>(tile.side)), 0, tile.side - 1);
        };
        const int left = std::max(cellAt(u - tile.left - far), column - ring),
                  right = std::min(cellAt(u - tile.left + far), column + ring),
                  low = std::max(cellAt(v - tile.bottom - far), row - ring),
                  high = std::min(cellAt(v - tile.bottom + far), row + ring);
        const auto look = [&](int x, int y) {
            if (x < left || x > right) return;
            const auto at = static_cast<std::size_t>(y * tile.side + x);
            for (std::uint32_t i = tile.first[at]; i < tile.first[at + 1]; ++i)
                nearer(tile.triangles[i], u, v, best);
        };
        for (int y = low; y <= high; ++y)
            if (y == row - ring || y == row + ring)
                for (int x = left; x <= right; ++x) look(x, y);
            else
                look(column - ring, y), look(column + ring, y);
    }
    if (best.square >= kRim * kRim) return false;
    triangle = best.triangle, b1 = best.b1, b2 = best.b2;
    return true;
}

void UvCells::find(const float* u, const float* v, std::size_t count, std::uint32_t* triangles, float* b1,
                   float* b2) const {
    for (std::size_t i = 0; i < count;) {
        const Tile* tile = nullptr;
        float left = 0, bottom = 0;
        const bool isSomewhere = std::fabs(u[i]) < 1e6f && std::fabs(v[i]) < 1e6f;
        if (isSomewhere) {
            left = std::floor(u[i]), bottom = std::floor(v[i]);
            const auto found = m_tiles.find({static_cast<int>(left), static_cast<int>(bottom)});
            tile = found == m_tiles.end() ? nullptr : &found->second;
        }
        const auto areHere = [&](std::size_t from, std::size_t n) {
            // Without a branch, so that the compiler takes many at a time.
            unsigned elsewhere = 0;
            for (std::size_t p = from; p < from + n; ++p) {
                const auto isOut = [](float at, float begin) {
                    return static_cast<unsigned>(!(at >= begin)) | static_cast<unsigned>(!(at < begin + 1));
                };
                elsewhere |= isOut(u[p], left) | isOut(v[p], bottom);
            }
            return elsewhere == 0;
        };
        // Most lie in the tile of the one before.
        constexpr std::size_t kMany = 64;
        std::size_t end = i + 1;
        while (end + kMany <= count && isSomewhere && areHere(end, kMany)) end += kMany;
        while (end < count && isSomewhere && areHere(end, 1)) ++end;
        if (tile != nullptr) {
            findIn(*tile, u + i, v + i, end - i, triangles + i, b1 + i, b2 + i);
        } else {
            std::fill(triangles + i, triangles + end, kNoTriangle);
            std::fill(b1 + i, b1 + end, 0.0f), std::fill(b2 + i, b2 + end, 0.0f);
        }
        i = end;
    }
}

/// Points of one tile, those of a cell together.
void UvCells::findIn(const Tile& tile, const float* u, const float* v, std::size_t count,
                     std::uint32_t* triangles, float* b1, float* b2) const {
    constexpr std::size_t kPiece = 1024;
    std::array<std::int32_t, kPiece> cells;
    std::uint32_t last = kNoTriangle;
    for (std::size_t piece = 0; piece < count; piece += kPiece) {
        const std::size_t pieceEnd = std::min(count, piece + kPiece);
        findCells(u + piece, v + piece, pieceEnd - piece, tile.left, tile.bottom, tile.side, cells.data());
        for (std::size_t i = piece; i < pieceEnd;) {
            const std::int32_t cell = cells[i - piece];
            std::size_t end = i + 1;
            while (end < pieceEnd && cells[end - piece] == cell) ++end;
            const std::uint32_t first = tile.first[static_cast<std::size_t>(cell)];
            findTriangles(m_weights.data(), tile.triangles.data() + first,
                          tile.first[static_cast<std::size_t>(cell) + 1] - first,
                          {u + i, v + i, end - i, count - i}, triangles + i, b1 + i, b2 + i);
            for (; i < end; ++i)
                if (triangles[i] == kNoTriangle && nearest(tile, cell % tile.side, cell / tile.side, u[i],
                                                           v[i], last, triangles[i], b1[i], b2[i]))
                    last = triangles[i];
        }
    }
}

void UvCells::move(const std::uint32_t* triangles, const float* u, const float* v, std::size_t count,
                   float* b1, float* b2) const {
    for (std::size_t i = 0; i < count; ++i)
        if (triangles[i] < m_weights.size()) m_weights[triangles[i]].at(u[i], v[i], b1[i], b2[i]);
}

}  // namespace kettle
