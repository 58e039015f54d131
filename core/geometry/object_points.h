// The objects and parts of a mesh as people list them, and one point of the surface for each, so that what a
// line gives there can be told of the whole object.
#pragma once

#include <string>
#include <vector>

#include "core/engine/run.h"
#include "core/geometry/uv_cells.h"
#include "core/scene/mesh.h"

namespace kettle {

struct ModelObject {
    std::string name;
    std::vector<std::size_t> parts;  ///< which of the mesh's, in its order
    std::size_t triangles = 0;
};
/// In the order of the model; its place there is an object's number unless another is given.
std::vector<ModelObject> objectsOf(const Mesh& mesh);

/// For each object and then for each part of the mesh: the middle of its largest triangle.
PointSet objectPoints(const Mesh& mesh, const std::vector<ModelObject>& objects);

/// For each object whether another covers a place of texture space that it covers: those that no flat map
/// tells apart. Looks at the middles of triangles. `cells`: of this mesh.
std::vector<bool> sharesTexture(const Mesh& mesh, const UvCells& cells);

}  // namespace kettle
