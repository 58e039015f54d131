// Points of texture space found on a mesh: the triangles sorted into cells, each point tested against those
// of its cell. Exact at any size, so that every grid, from a thumbnail to an export, asks the same.
#pragma once

#include <cstdint>
#include <map>
#include <vector>

#include "core/geometry/uv_kernels.h"
#include "core/scene/mesh.h"

namespace kettle {

class UvCells {
public:
    /// Keeps what it needs of the mesh, which must not change. Triangles without area in texture space are
    /// left out, and so are those of parts that are not `wanted`, if any is told.
    explicit UvCells(const Mesh& mesh, const std::vector<bool>& wanted = {});
    /// See ModelFacts::find and move. Threads: safe.
    void find(const float* u, const float* v, std::size_t count, std::uint32_t* triangles, float* b1,
              float* b2) const;
    void move(const std::uint32_t* triangles, const float* u, const float* v, std::size_t count, float* b1,
              float* b2) const;
    /// How far beyond its edges a part is still found, in tiles.
    static constexpr float kRim = 1.0f / 128;

private:
    /// One tile's cells, row by row from the bottom.
    struct Tile {
        float left = 0, bottom = 0;
        int side = 0;
        std::vector<std::uint32_t> first, triangles;  ///< of each cell its triangles, the lowest number first
        std::vector<std::uint8_t> away;               ///< cells to the next one with a triangle
    };
    struct Nearest {
        std::uint32_t triangle;
        float square, b1, b2;
    };
    void fill(Tile& tile, const std::vector<std::uint32_t>& members) const;
    void findIn(const Tile& tile, const float* u, const float* v, std::size_t count, std::uint32_t* triangles,
                float* b1, float* b2) const;
    /// `likely`: a triangle that is near, so that most others need no look; it changes nothing.
    bool nearest(const Tile& tile, int column, int row, float u, float v, std::uint32_t likely,
                 std::uint32_t& triangle, float& b1, float& b2) const;
    void nearer(std::uint32_t triangle, float u, float v, Nearest& best) const;

    std::vector<UvWeights> m_weights;  ///< of all triangles
    struct Box {
        float left, bottom, right, top;
    };
    std::vector<Box> m_boxes;
    static Box boxOf(const Mesh& mesh, std::uint32_t t);
    std::map<std::pair<int, int>, Tile> m_tiles;
};

}  // namespace kettle
