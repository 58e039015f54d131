// Models from grids of points, as OBJ with a group a part.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <functional>
#include <string>

#include "core/base/files.h"
#include "core/base/vec.h"

namespace kettle::demo {

/// Collects grids of points as quads.
class ObjWriter {
public:
    /// point and uv over s, t in 0..1; normals from the grid itself. `flip` turns the faces round.
    void grid(const std::string& part, int columns, int rows, const std::function<Vec3(float, float)>& point,
              const std::function<Vec2(float, float)>& uv, bool flip = false) {
        m_text += "g " + part + "\n";
        const float e = 1e-3f;
        for (int j = 0; j <= rows; ++j)
            for (int i = 0; i <= columns; ++i) {
                const float s = static_cast<float>(i) / static_cast<float>(columns),
                            t = static_cast<float>(j) / static_cast<float>(rows);
                const Vec3 p = point(s, t);
                const Vec2 q = uv(s, t);
                // At a pole one derivative vanishes; step inwards for it.
                const float st = std::clamp(t, 0.004f, 0.996f);
                Vec3 n = normalised(
                    cross(point(s + e, st) - point(s - e, st), point(s, st + e) - point(s, st - e)));
                if (flip) n = -n;
                m_text += fmt::format("v {:.4f} {:.4f} {:.4f}\nvt {:.5f} {:.5f}\nvn {:.4f} {:.4f} {:.4f}\n",
                                      p.x, p.y, p.z, q.x, q.y, n.x, n.y, n.z);
            }
        for (int j = 0; j < rows; ++j)
            for (int i = 0; i < columns; ++i) {
                const int a = m_count + j * (columns + 1) + i + 1, b = a + 1, c = b + columns + 1,
                          d = a + columns + 1;
                m_text +=
                    flip ? fmt::format("f {0}/{0}/{0} {1}/{1}/{1} {2}/{2}/{2} {3}/{3}/{3}\n", d, c, b, a)
                         : fmt::format("f {0}/{0}/{0} {1}/{1}/{1} {2}/{2}/{2} {3}/{3}/{3}\n", a, b, c, d);
            }
        m_count += (columns + 1) * (rows + 1);
    }
    /// The grids from here on are of this material.
    void material(const std::string& name) { m_text += "usemtl " + name + "\n"; }
    /// Names the file that the materials are in.
    void library(const std::string& name) { m_text += "mtllib " + name + "\n"; }
    Result<void> save(const std::filesystem::path& file) const { return writeFileAtomically(file, m_text); }

private:
    std::string m_text = "# Pale Kettle demo model, centimetres, y up\n";
    int m_count = 0;
};

}  // namespace kettle::demo
