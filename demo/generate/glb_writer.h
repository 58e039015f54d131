// Models of many copies as binary glTF: each mesh is stored once, each copy is a node. Lengths are given in
// centimetres and written in metres, as the format says.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"

namespace kettle::demo {

class GlbWriter {
public:
    /// Begins a mesh of one material; grids then add to it. Gives its number.
    int mesh(const std::string& material);
    /// point and uv over s, t in 0..1; normals from the grid itself. `flip` turns the faces round.
    void grid(int columns, int rows, const std::function<Vec3(float, float)>& point,
              const std::function<Vec2(float, float)>& uv, bool flip = false);
    void copy(const std::string& name, int mesh, Vec3 place);
    Result<void> save(const std::filesystem::path& file) const;

private:
    struct Grids {
        std::string material;
        std::vector<float> positions, normals, uvs;
        std::vector<std::uint16_t> indices;
    };
    struct Copy {
        std::string name;
        int mesh;
        Vec3 place;
    };
    std::vector<Grids> m_meshes;
    std::vector<Copy> m_copies;
};

}  // namespace kettle::demo
