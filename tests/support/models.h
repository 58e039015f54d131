// Small models of our own, written as files.
#pragma once

#include <filesystem>
#include <fstream>
#include <string>

namespace kettle::test {

inline void writeText(const std::filesystem::path& file, const std::string& text) {
    std::ofstream(file, std::ios::binary) << text;
}

/// A quad that faces +z as OBJ text, its lower left corner at x, y; `first`: the number of its first vertex.
inline std::string quadText(double x, double y, double side, int first, double u = 0, bool hasUv = true) {
    std::string text;
    const auto at = [&](double a, double b) {
        text += "v " + std::to_string(x + a * side) + " " + std::to_string(y + b * side) + " 0\n";
        if (hasUv) text += "vt " + std::to_string(u + a) + " " + std::to_string(b) + "\n";
    };
    at(0, 0), at(1, 0), at(1, 1), at(0, 1);
    text += "f";
    for (int k = first; k < first + 4; ++k)
        text += " " + std::to_string(k) + (hasUv ? "/" + std::to_string(k) : std::string());
    return text + "\n";
}

/// galley-stove.obj with its materials: a body of two objects in stove_body, and rings in stove_rings, side
/// by side, 40 cm wide. Returns the file.
inline std::filesystem::path writeStove(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    writeText(folder / "galley-stove.mtl",
              "newmtl stove_body\nKd 0.5 0.5 0.5\nnewmtl stove_rings\nKd 0.2 0.2 0.2\n");
    const std::filesystem::path file = folder / "galley-stove.obj";
    writeText(file, "mtllib galley-stove.mtl\no body\nusemtl stove_body\n" + quadText(0, 0, 20, 1) +
                        "o door\nusemtl stove_body\n" + quadText(0, -20, 20, 5, 1) +
                        "o rings\nusemtl stove_rings\n" + quadText(20, 0, 20, 9));
    return file;
}

}  // namespace kettle::test
