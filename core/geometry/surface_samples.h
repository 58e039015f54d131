// A net of places over a mesh, fine enough for what varies slowly over it, and numbers read between them.
#pragma once

#include <cstdint>
#include <vector>

#include "core/scene/mesh.h"

namespace kettle {

/// Each triangle has a lattice of places, as fine as its size asks for; one that needs none has its corners,
/// which it shares.
class SurfaceSamples {
public:
    /// About `wanted` places in all, or as many as the mesh has vertices.
    explicit SurfaceSamples(const Mesh& mesh, std::size_t wanted = 250'000);
    std::size_t size() const { return m_positions.size(); }
    const std::vector<Vec3>& positions() const { return m_positions; }  ///< cm
    const std::vector<Vec3>& normals() const { return m_normals; }      ///< unit, smooth
    /// A number of each place, read at `count` places of the mesh (ModelPlaces); `nowhere` beside it.
    void read(const std::vector<float>& numbers, float nowhere, const std::uint32_t* triangles,
              const float* b1, const float* b2, std::size_t count, float* out) const;

private:
    /// `steps` pieces an edge. 1: `first` is not used, its corners are vertices of the mesh.
    struct Lattice {
        std::uint32_t first = 0;
        std::uint16_t steps = 1;
    };
    std::vector<Lattice> m_lattices;
    std::vector<std::uint32_t> m_corners;  ///< three a triangle
    std::vector<Vec3> m_positions, m_normals;
};

}  // namespace kettle
