// A mesh made fine enough for a picture, and moved by heights.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/scene/mesh.h"

namespace kettle {

/// Splits edges that are longer than `longest` (cm) in two, until none is or there would be more than
/// `mostTriangles`. Neighbours split the same edges, so that no gaps open. Parts, texture coordinates and
/// normals go with it. Stops early if cancelled.
Mesh tessellated(const Mesh& mesh, float longest, std::size_t mostTriangles, const CancelToken& cancel = {});

/// A mesh that is moved again and again, with what does not change while it is.
class MovableMesh {
public:
    explicit MovableMesh(Mesh mesh);
    const Mesh& mesh() const { return m_mesh; }
    /// Every vertex moved by its own number of centimetres along the smooth normal, with normals and tangents
    /// turned to the new shape. Vertices at one place move together, by the mean of theirs. `by`: one a
    /// vertex, finite. Threads: uses all.
    Mesh moved(const std::vector<float>& by) const;

private:
    std::vector<Vec3> smoothNormals(const std::vector<Vec3>& positions) const;
    Mesh m_mesh;
    std::vector<std::uint32_t> m_place;             ///< of each vertex: vertices at one place share a number
    std::vector<std::uint32_t> m_first, m_members;  ///< of each place its vertices
    std::vector<std::uint32_t> m_firstFace, m_faces;  ///< of each vertex its triangles
    std::vector<Vec3> m_before, m_direction;          ///< smooth normals of vertices, mean normals of places
};

}  // namespace kettle
