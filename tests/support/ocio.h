// A colour configuration of our own.
#pragma once

#include <filesystem>
#include <fstream>
#include <string>

namespace kettle::test {

/// Writes an OpenColorIO configuration whose space `name` holds numbers that `factor` turns into scene-linear
/// light.
inline void writeConfiguration(const std::filesystem::path& file, const std::string& name,
                               const std::string& factor) {
    std::ofstream(file) << "ocio_profile_version: 2\n"
                        << "name: " << name << "\n"
                        << R"(roles:
  default: raw
  scene_linear: lin
displays:
  screen:
    - !<View> {name: plain, colorspace: lin}
colorspaces:
  - !<ColorSpace>
    name: raw
    isdata: true
  - !<ColorSpace>
    name: lin
  - !<ColorSpace>
)"
                        << "    name: " << name << "\n    to_scene_reference: !<MatrixTransform> {matrix: ["
                        << factor << ", 0, 0, 0, 0, " << factor << ", 0, 0, 0, 0, " << factor
                        << ", 0, 0, 0, 0, 1]}\n";
}

}  // namespace kettle::test
