// Running a project at a point, for the steps' tests.
#pragma once

#include <array>

#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "tests/support/projects.h"

namespace kettle::test {

/// The four components at the end of a line of a project without maps (or with the maps of `folder`).
inline std::array<float, 4> evaluate(const Project& project, const std::string& lineId = "base",
                                     const std::string& look = {}, float u = 0.5f, float v = 0.5f,
                                     const std::filesystem::path& folder = {}) {
    const Compiled compiled = compile(project, project.findLook(look), {{lineId, "", 4, false}});
    const Resources resources(folder);
    const auto values = runAt(compiled.program, resources.resolve(project, compiled.program), u, v);
    std::array<float, 4> result{};
    for (std::size_t c = 0; c < 4; ++c) result[c] = values[static_cast<std::size_t>(compiled.planes[0][c])];
    return result;
}

inline bool near(float a, float b, float tolerance = 2e-6f) {
    return std::fabs(a - b) <= tolerance;
}
inline bool near(const std::array<float, 4>& a, Vec3 b, float tolerance = 2e-6f) {
    return near(a[0], b.x, tolerance) && near(a[1], b.y, tolerance) && near(a[2], b.z, tolerance);
}

/// For a failing comparison: the numbers.
inline std::string words(const std::array<float, 4>& a) {
    return std::to_string(a[0]) + " " + std::to_string(a[1]) + " " + std::to_string(a[2]) + " " +
           std::to_string(a[3]);
}

}  // namespace kettle::test
