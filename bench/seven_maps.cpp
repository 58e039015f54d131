// Seven maps of 4096 x 4096 through the batch tool as a process of its own: time, peak memory and size of an
// export in every format and of a picture; beside it the same files read and written by the image library
// alone, one after the other and two at a time.
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <regex>
#include <string>
#include <thread>
#include <vector>

#include "bench/bench.h"
#include "bench/whole_process.h"
#include "core/image/image.h"

namespace kettle::bench {
namespace {

namespace fs = std::filesystem;
constexpr MapFile kMaps[]{{"wall_basecolor", 3, 3, false}, {"wall_roughness", 1, 5, false},
                          {"wall_metalness", 1, 0, false}, {"wall_normal", 3, 3, false},
                          {"wall_height", 1, 60, true},    {"wall_ao", 1, 3, false},
                          {"wall_emission", 3, 0, false}};

/// Reads and writes the files as the image library does it by itself, with the settings that the export had
/// before it encoded its own. Seconds; negative on failure.
double byLibrary(const fs::path& set, const fs::path& out, FileFormat format, int atATime) {
    std::atomic<std::size_t> next{0};
    std::atomic<bool> failed{false};
    const auto copyOne = [&](const MapFile& map) {
        auto in = OIIO::ImageInput::open((set / (std::string(map.name) + ".png")).string());
        if (!in) return false;
        const bool isFloat = kettle::isFloat(format), isDeep = storageOf(format) == Depth::U16;
        const OIIO::TypeDesc type = isFloat  ? OIIO::TypeDesc::FLOAT
                                    : isDeep ? OIIO::TypeDesc::UINT16
                                             : OIIO::TypeDesc::UINT8;
        std::vector<char> pixels(static_cast<std::size_t>(kSide) * kSide * map.channels * type.size());
        if (!in->read_image(0, 0, 0, map.channels, type, pixels.data())) return false;
        OIIO::ImageSpec spec(kSide, kSide, map.channels,
                             format == FileFormat::ExrHalf ? OIIO::TypeDesc(OIIO::TypeDesc::HALF) : type);
        spec.attribute("png:compressionLevel", 4);
        if (isFloat || format == FileFormat::Tiff16) spec.attribute("compression", "zip");
        if (format == FileFormat::Jpeg) spec.attribute("CompressionQuality", 95);
        const std::string file = (out / (std::string(map.name) + extensionOf(format))).string();
        auto output = OIIO::ImageOutput::create(file);
        return output && output->open(file, spec) && output->write_image(type, pixels.data()) &&
               output->close();
    };
    const auto work = [&] {
        for (std::size_t i = next++; i < std::size(kMaps); i = next++)
            if (!copyOne(kMaps[i])) failed = true;
    };
    const auto begin = std::chrono::steady_clock::now();
    {
        std::vector<std::jthread> threads;
        for (int t = 0; t < atATime; ++t) threads.emplace_back(work);
    }
    return failed ? -1 : std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

double megabytesIn(const fs::path& folder) {
    double bytes = 0;
    for (const auto& entry : fs::directory_iterator(folder))
        if (entry.is_regular_file()) bytes += static_cast<double>(entry.file_size());
    return bytes / 1e6;
}

double median(std::vector<double> v) {
    std::sort(v.begin(), v.end());
    return v[v.size() / 2];
}

}  // namespace

std::map<std::string, double> sevenMaps(const std::string& filter) {
    std::map<std::string, double> figures;
    const std::regex wanted(filter);
    const auto isWanted = [&](const std::string& name) { return std::regex_search(name, wanted); };
    if (!isWanted("export-seven-4096") && !isWanted("picture-seven-4096") && !isWanted("open-seven-4096"))
        return figures;
    const fs::path folder = fs::temp_directory_path() / "pale-kettle-seven", set = folder / "wall",
                   out = folder / "out";
    fs::create_directories(set);
    const fs::path cache = folder / "cache";
    ::setenv("XDG_CACHE_HOME", cache.c_str(), 1);
    const std::string project = (folder / "wall.palekettle").string();
    const auto tell = [&](const std::string& name, double value, const char* unit) {
        figures[name] = value;
        fmt::print("{:<48} {:>10.2f} {}\n", name, value, unit);
        std::fflush(stdout);
    };
    bool isReady = true;
    for (const MapFile& map : kMaps)
        isReady = isReady && writeMap(set / (std::string(map.name) + ".png"), map);
    if (isReady && runBatch({"new", set.string(), "-o", project, "--force"}).seconds > 0) {
        for (const FileFormat format : {FileFormat::Png8, FileFormat::Png16, FileFormat::Tiff16,
                                        FileFormat::ExrHalf, FileFormat::Jpeg}) {
            const std::string name = std::string("export-seven-4096-") + nameOf(format);
            if (!isWanted(name)) continue;
            std::vector<double> ours, theirs, theirsTwo;
            double peak = 0;
            for (int round = 0; round < 3; ++round) {
                fs::remove_all(out);
                const Measured m =
                    runBatch({"export", project, "--out", out.string(), "--format", nameOf(format)});
                ours.push_back(m.seconds);
                peak = std::max(peak, m.peakMegabytes);
            }
            tell(name, median(ours), "s");
            tell(name + "-peak-memory", peak, "MB");
            tell(name + "-size", megabytesIn(out), "MB");
            fs::remove_all(out);
            fs::create_directories(out);
            tell(name + "-image-library", byLibrary(set, out, format, 1), "s");
            tell(name + "-image-library-two", byLibrary(set, out, format, 2), "s");
        }
        if (isWanted("picture-seven-4096")) {
            // Each first time with nothing prepared, each second from what the first has prepared.
            std::vector<double> first, again;
            for (int round = 0; round < 3; ++round) {
                fs::remove_all(cache);
                first.push_back(runBatch({"picture", project, "-o", (folder / "p.png").string()}).seconds);
                again.push_back(runBatch({"picture", project, "-o", (folder / "p.png").string()}).seconds);
            }
            tell("picture-seven-4096-900x600", median(first), "s");
            tell("picture-seven-4096-900x600-again", median(again), "s");
        }
        if (isWanted("open-seven-4096")) {
            fs::remove_all(cache);
            for (const char* which : {"open-seven-4096", "open-seven-4096-again"})
                for (const auto& [name, ms] : inWindow("--open", set)) {
                    const bool isEvent = name.starts_with("longest");
                    tell(std::string(which) + "-" + name, isEvent ? ms : ms / 1000, isEvent ? "ms" : "s");
                }
        }
    } else {
        std::fprintf(stderr, "The seven maps could not be made in %s.\n", folder.c_str());
    }
    std::error_code code;
    fs::remove_all(folder, code);
    return figures;
}

}  // namespace kettle::bench
