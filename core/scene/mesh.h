// Meshes: what the maps lie on. Sizes in centimetres, y up.
#pragma once

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"

namespace kettle {

/// A direction along increasing u, and the side (+1 or -1) that cross(normal, tangent) must be turned to for
/// increasing v.
struct Tangent {
    Vec3 direction{1, 0, 0};
    float side = 1;
};

/// Triangles with one position, normal, texture coordinate and tangent a vertex; all four lists have the same
/// length.
struct Mesh {
    std::vector<Vec3> positions, normals;
    std::vector<Vec2> uvs;
    std::vector<Tangent> tangents;
    std::vector<std::uint32_t> indices;       ///< three a triangle
    std::vector<std::uint16_t> trianglePart;  ///< which of `parts` a triangle belongs to
    std::vector<std::string> parts;

    /// Three indices each.
    std::size_t triangleCount() const { return indices.size() / 3; }
    /// The corners of the smallest upright box around it, in centimetres; both 0 for an empty mesh.
    void bounds(Vec3& low, Vec3& high) const;
};

/// Reads OBJ, glTF/GLB or PLY; missing normals and tangents are computed. The library reads in a process of
/// its own: whatever a broken file makes it do, this one goes on. Errors: Missing; Unreadable (also for a
/// mesh without triangles or without texture coordinates, and for one that takes longer than `longest`);
/// NoMemory.
Result<Mesh> loadMesh(const std::filesystem::path& file,
                      std::chrono::milliseconds longest = std::chrono::minutes(3));

}  // namespace kettle
