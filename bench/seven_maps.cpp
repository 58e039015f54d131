// Seven maps of 4096 x 4096 through the batch tool as a process of its own: time, peak memory and size of an
// export in every format and of a picture; beside it the same files read and written by the image library
// alone, one after the other and two at a time.
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <regex>
#include <string>
#include <thread>
#include <vector>

#include "bench/bench.h"
#include "core/base/hash.h"
#include "core/image/image.h"

extern char** environ;

namespace kettle::bench {
namespace {

namespace fs = std::filesystem;
constexpr int kSide = 4096;

struct MapFile {
    const char* name;
    int channels, grain;
    bool isDeep;
};
constexpr MapFile kMaps[]{{"wall_basecolor", 3, 3, false}, {"wall_roughness", 1, 5, false},
                          {"wall_metalness", 1, 0, false}, {"wall_normal", 3, 3, false},
                          {"wall_height", 1, 60, true},    {"wall_ao", 1, 3, false},
                          {"wall_emission", 3, 0, false}};

/// Soft shapes with a grain, as a painted map has them; by integers, so equal everywhere.
bool writeMap(const fs::path& folder, const MapFile& map) {
    PixelBuffer p = PixelBuffer::make(kSide, kSide, map.channels, map.isDeep ? Depth::U16 : Depth::U8);
    const int top = map.isDeep ? 65535 : 255;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            for (int c = 0; c < map.channels; ++c) {
                const int wave = (x / 2 + y + 300 * c) % 1024, soft = wave < 512 ? wave : 1023 - wave;
                const auto noise = mixBits(static_cast<std::uint64_t>((y * kSide + x) * 4 + c));
                const int grain =
                    map.grain == 0
                        ? 0
                        : static_cast<int>(noise % static_cast<unsigned>(map.grain)) - map.grain / 2;
                const int v = std::clamp((60 + soft / 4) * top / 255 + grain, 0, top);
                if (map.isDeep)
                    p.row<std::uint16_t>(y)[x * map.channels + c] = static_cast<std::uint16_t>(v);
                else
                    p.row<std::uint8_t>(y)[x * map.channels + c] = static_cast<std::uint8_t>(v);
            }
    return writeImage(folder / (std::string(map.name) + ".png"), p,
                      map.isDeep ? FileFormat::Png16 : FileFormat::Png8, "")
        .has_value();
}

struct Measured {
    double seconds = -1, peakMegabytes = -1;
};

Measured runBatch(std::vector<std::string> words) {
    std::vector<char*> arguments;
    words.insert(words.begin(), KETTLE_BATCH);
    for (std::string& w : words) arguments.push_back(w.data());
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t quiet;
    posix_spawn_file_actions_init(&quiet);
    posix_spawn_file_actions_addopen(&quiet, 1, "/dev/null", 1, 0);
    const auto begin = std::chrono::steady_clock::now();
    pid_t child = 0;
    if (posix_spawn(&child, KETTLE_BATCH, &quiet, nullptr, arguments.data(), environ) != 0) return {};
    int status = 0;
    rusage usage{};
    wait4(child, &status, 0, &usage);
    if (status != 0) return {};
    return {std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count(),
            static_cast<double>(usage.ru_maxrss) / 1024};
}

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

/// Brings the folder in by the window, in a process of its own; milliseconds by name, empty on failure.
std::map<std::string, double> openInWindow(const fs::path& folder) {
    const std::string command = std::string("QT_QPA_PLATFORM=offscreen ") + KETTLE_WINDOW_BENCH + " --open " +
                                folder.string() + " 2>/dev/null";
    std::string text;
    if (FILE* pipe = ::popen(command.c_str(), "r"); pipe != nullptr) {
        char part[256];
        while (std::fgets(part, sizeof part, pipe) != nullptr) text += part;
        ::pclose(pipe);
    }
    std::map<std::string, double> times;
    const auto json = nlohmann::json::parse(text, nullptr, false);
    if (json.is_object())
        for (const auto& [name, value] : json.items()) times[name] = value.get<double>();
    return times;
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
    for (const MapFile& map : kMaps) isReady = isReady && writeMap(set, map);
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
                for (const auto& [name, ms] : openInWindow(set)) {
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
