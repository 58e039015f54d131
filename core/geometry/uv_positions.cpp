#include "core/geometry/uv_positions.h"

#include "core/engine/model_facts.h"

namespace kettle {

std::optional<Vec3> UvPositions::at(float u, float v) const {
    std::uint32_t triangle = ModelPlaces::kNowhere;
    float b1 = 0, b2 = 0;
    m_cells.find(&u, &v, 1, &triangle, &b1, &b2);
    if (triangle == ModelPlaces::kNowhere) return std::nullopt;
    const Mesh& mesh = m_scene->mesh();
    const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(triangle) * 3];
    return mesh.positions[t[0]] * (1 - b1 - b2) + mesh.positions[t[1]] * b1 + mesh.positions[t[2]] * b2;
}

}  // namespace kettle
