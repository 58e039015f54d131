// Which triangles points of texture space lie in, many points at a time. Within the folder.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kettle {

/// A triangle's barycentric weights as planes over texture space, from its first corner.
struct UvWeights {
    float u = 0, v = 0, b1u = 0, b1v = 0, b2u = 0, b2v = 0;
    void at(float pu, float pv, float& b1, float& b2) const {
        const float x = pu - u, y = pv - v;
        b1 = b1u * x + b1v * y;
        b2 = b2u * x + b2v * y;
    }
};

/// No triangle.
inline constexpr std::uint32_t kNoTriangle = 0xffffffffu;

/// Points of texture space one after the other, and how many may be read, and their results written over,
/// from the first of them on.
struct UvPoints {
    const float *u, *v;
    std::size_t count, room;
};

/// Of each point the first of some triangles that it lies in, and its weights there; kNoTriangle and 0 where
/// it lies in none. What lies beyond the points within their room is undefined then. `weights`: of all
/// triangles. A point gives the same bits whatever others are asked after with it. Threads: safe.
void findTriangles(const UvWeights* weights, const std::uint32_t* candidates, std::size_t candidateCount,
                   const UvPoints& points, std::uint32_t* triangles, float* b1, float* b2);

/// The cell of each point of a tile that has side x side of them: row by row from the bottom. Threads: safe.
void findCells(const float* u, const float* v, std::size_t count, float left, float bottom, int side,
               std::int32_t* cells);

}  // namespace kettle
