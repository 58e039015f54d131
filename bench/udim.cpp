// 64 tiles of 4096 x 4096 in five maps on a model of 64 parts of the texture: how soon they are seen, how
// much memory they take, how soon they are there again.
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <regex>

#include "bench/bench.h"
#include "bench/whole_process.h"
#include "core/document/json.h"

namespace kettle::bench {
namespace {

namespace fs = std::filesystem;
constexpr int kColumns = 8, kRows = 8;
constexpr MapFile kMaps[]{{"hull_basecolor", 3, 3, false},
                          {"hull_roughness", 1, 5, false},
                          {"hull_metalness", 1, 0, false},
                          {"hull_normal", 3, 3, false},
                          {"hull_ao", 1, 3, false}};

/// Each map once, and the other tiles as links to it: what a program reads is the same.
bool writeTiles(const fs::path& set) {
    for (const MapFile& map : kMaps) {
        const fs::path first = set / fmt::format("{}.1001.png", map.name);
        if (!writeMap(first, map)) return false;
        for (int i = 1; i < kColumns * kRows; ++i) {
            std::error_code code;
            fs::create_hard_link(
                first, set / fmt::format("{}.{}.png", map.name, 1001 + i % kColumns + 10 * (i / kColumns)),
                code);
            if (code) return false;
        }
    }
    return true;
}

/// A wall of eight by eight bent plates, a tile each.
bool writeModel(const fs::path& file) {
    constexpr int kCells = 12;
    std::ofstream out(file);
    int before = 1;
    for (int row = 0; row < kRows; ++row)
        for (int column = 0; column < kColumns; ++column) {
            for (int j = 0; j <= kCells; ++j)
                for (int i = 0; i <= kCells; ++i) {
                    const double u = static_cast<double>(i) / kCells, v = static_cast<double>(j) / kCells;
                    const double bend = 2 * u * (1 - u) + 2 * v * (1 - v);
                    out << fmt::format("v {:.4f} {:.4f} {:.4f}\n", (column + u * 0.96) * 10,
                                       (row + v * 0.96) * 10, bend);
                    out << fmt::format("vt {:.5f} {:.5f}\n", column + 0.002 + u * 0.996,
                                       row + 0.002 + v * 0.996);
                }
            for (int j = 0; j < kCells; ++j)
                for (int i = 0; i < kCells; ++i) {
                    const int a = before + j * (kCells + 1) + i, b = a + 1, c = b + kCells + 1, d = c - 1;
                    out << fmt::format("f {0}/{0} {1}/{1} {2}/{2} {3}/{3}\n", a, b, c, d);
                }
            before += (kCells + 1) * (kCells + 1);
        }
    return out.good();
}

}  // namespace

std::map<std::string, double> udimTiles(const std::string& filter) {
    std::map<std::string, double> figures;
    // Minutes and gigabytes: only for whoever asks for it by name.
    if (filter.find("udim-64") == std::string::npos) return figures;
    const fs::path folder = fs::temp_directory_path() / "pale-kettle-udim", set = folder / "hull";
    const fs::path cache = folder / "cache", project = folder / "hull.palekettle";
    std::error_code code;
    fs::remove_all(folder, code);
    fs::create_directories(set);
    ::setenv("XDG_CACHE_HOME", cache.c_str(), 1);
    const auto tell = [&](const std::string& name, double value, const char* unit) {
        figures["udim-64-" + name] = value;
        fmt::print("{:<48} {:>10.2f} {}\n", "udim-64-" + name, value, unit);
        std::fflush(stdout);
    };
    const auto tellAll = [&](const std::string& prefix, const std::map<std::string, double>& all) {
        for (const auto& [name, value] : all) {
            const bool isMemory = name.ends_with("memory"), isLong = name == "first" || name == "complete";
            tell(prefix + name, isLong ? value / 1000 : value, isMemory ? "MB" : isLong ? "s" : "ms");
        }
    };
    bool isReady = writeTiles(set) && writeModel(folder / "wall.obj") &&
                   runBatch({"new", set.string(), "-o", project.string(), "--force"}).seconds > 0;
    if (auto made = loadProject(project.string()); isReady && made) {
        made->view.model = (folder / "wall.obj").string();
        isReady = saveProject(*made, project.string()).has_value();
    }
    if (isReady) {
        tellAll("", inWindow("--tiles", project));
        tellAll("reopen-", inWindow("--tiles", project));
        const Measured out =
            runBatch({"export", project.string(), "--out", (folder / "out").string(), "--size", "1024"});
        tell("export-1024", out.seconds, "s");
        tell("export-memory", out.peakMegabytes, "MB");
    } else {
        std::fprintf(stderr, "The tiles could not be made in %s.\n", folder.c_str());
    }
    fs::remove_all(folder, code);
    return figures;
}

}  // namespace kettle::bench
