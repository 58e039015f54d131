// Where a place of texture space lies on the model: for marks and frames on it.
#pragma once

#include <memory>
#include <optional>

#include "core/geometry/uv_cells.h"
#include "core/scene/rays.h"

namespace kettle {

class UvPositions {
public:
    /// Sorts the mesh's triangles once, which takes a tenth of a second for a million of them.
    explicit UvPositions(std::shared_ptr<const RayScene> scene)
        : m_scene(std::move(scene)), m_cells(m_scene->mesh()) {}
    /// Centimetres; nothing where no part has these texture coordinates. Threads: safe.
    std::optional<Vec3> at(float u, float v) const;
    const std::shared_ptr<const RayScene>& scene() const { return m_scene; }

private:
    std::shared_ptr<const RayScene> m_scene;
    UvCells m_cells;
};

}  // namespace kettle
