// An EXR of any channels, as its specification lays it out (openexr.com, "OpenEXR File Layout"): floats,
// uncompressed, one scanline after the other.
#pragma once

#include <cstdint>
#include <filesystem>
#include <fstream>
#include <map>
#include <string>
#include <vector>

namespace kettle::test {

/// Channels by their full names ("diffuse.R"), each with one number for all pixels.
inline void writeExr(const std::filesystem::path& file, int width, int height,
                     const std::map<std::string, float>& channels) {
    std::string out;
    const auto put = [&out](const auto& value) {
        out.append(reinterpret_cast<const char*>(&value), sizeof value);
    };
    const auto attribute = [&](const char* name, const char* type, std::int32_t size) {
        out.append(name).append(1, '\0').append(type).append(1, '\0');
        put(size);
    };
    put(std::uint32_t{20000630});
    put(std::uint32_t{2});
    std::int32_t listed = 1;
    for (const auto& [name, value] : channels) listed += static_cast<std::int32_t>(name.size()) + 17;
    attribute("channels", "chlist", listed);
    for (const auto& [name, value] : channels) {
        out.append(name).append(1, '\0');
        for (const std::int32_t field : {2, 0, 1, 1}) put(field);  // float, not linear, no subsampling
    }
    out.append(1, '\0');
    attribute("compression", "compression", 1);
    out.append(1, '\0');
    for (const char* window : {"dataWindow", "displayWindow"}) {
        attribute(window, "box2i", 16);
        for (const std::int32_t side : {0, 0, width - 1, height - 1}) put(side);
    }
    attribute("lineOrder", "lineOrder", 1);
    out.append(1, '\0');
    attribute("pixelAspectRatio", "float", 4);
    put(1.0f);
    attribute("screenWindowCenter", "v2f", 8);
    put(0.0f);
    put(0.0f);
    attribute("screenWindowWidth", "float", 4);
    put(1.0f);
    out.append(1, '\0');
    const auto line = static_cast<std::int32_t>(channels.size()) * width * 4;
    for (int y = 0; y < height; ++y)
        put(static_cast<std::uint64_t>(out.size()) +
            static_cast<std::uint64_t>(height - y) * sizeof(std::uint64_t) +
            static_cast<std::uint64_t>(y) * static_cast<std::uint64_t>(line + 8));
    for (std::int32_t y = 0; y < height; ++y) {
        put(y);
        put(line);
        for (const auto& [name, value] : channels)
            for (int x = 0; x < width; ++x) put(value);
    }
    std::ofstream(file, std::ios::binary) << out;
}

}  // namespace kettle::test
