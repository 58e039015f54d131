// Meshes: what the maps lie on. Sizes in centimetres, y up.
#pragma once

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"
#include "core/threads/parallel.h"

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
    /// What the file keeps apart: each object's triangles of one material. A part is called as its object
    /// is, and "object / material" where that has several; equal names are one part.
    std::vector<std::string> parts;
    std::vector<std::string> partObjects, partMaterials;  ///< of each part; a material may have no name
    std::vector<std::uint8_t> partHasUv;                  ///< 0: its texture coordinates are all 0

    /// Three indices each.
    std::size_t triangleCount() const { return indices.size() / 3; }
    /// The corners of the smallest upright box around it, in centimetres; both 0 for an empty mesh.
    void bounds(Vec3& low, Vec3& high) const;
    /// The UDIM tiles that its triangles lie in, in order; tiles beyond 9999 are left out.
    std::vector<int> tiles() const;
};

/// How many centimetres a unit of a file has: "mm", "cm", "m", "inch"; "auto" and all others: metres for
/// glTF, whose standard says so, centimetres for the rest, which say nothing.
float centimetresOf(const std::string& unit, const std::filesystem::path& file);
/// True for a model that is smaller than a centimetre or larger than a hundred metres: then its unit is
/// probably another. Sizes in centimetres.
bool isUnlikelySize(Vec3 low, Vec3 high);

/// How many centimetres the side of the texture's square is on the mesh, on the whole: by the areas of both;
/// 0 without texture coordinates.
double centimetresOfSquare(const Mesh& mesh);

/// Reads OBJ, glTF/GLB or PLY; missing normals and tangents are computed, and a part without texture
/// coordinates gets (0, 0) everywhere. The library reads in a process of its own: whatever a broken file
/// makes it do, this one goes on. Errors: Missing; Unreadable (also for a mesh without triangles, and for one
/// that takes longer than `longest`); NoMemory; Cancelled.
Result<Mesh> loadMesh(const std::filesystem::path& file,
                      std::chrono::milliseconds longest = std::chrono::minutes(3),
                      const std::string& unit = "auto", const CancelToken& cancel = {});

}  // namespace kettle
