// What figures of whole processes share: maps of 4096 x 4096, and the programs run over them.
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace kettle::bench {

constexpr int kSide = 4096;

struct MapFile {
    const char* name;
    int channels, grain;
    bool isDeep;
};
/// Soft shapes with a grain, as a painted map has them; by integers, so equal everywhere. A PNG; false if it
/// cannot be written.
bool writeMap(const std::filesystem::path& file, const MapFile& map);

struct Measured {
    double seconds = -1, peakMegabytes = -1;
};
/// The batch tool with these words; negative numbers if it fails.
Measured runBatch(std::vector<std::string> words);
/// The window's bench in a process of its own: its figures by name, empty on failure.
std::map<std::string, double> inWindow(const char* what, const std::filesystem::path& of);

}  // namespace kettle::bench
