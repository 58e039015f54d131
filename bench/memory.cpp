// Peak memory of an export, measured on the batch tool as a process of its own.
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

#include <cstdio>
#include <filesystem>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "core/image/image.h"

extern char** environ;

namespace kettle::bench {
namespace {

constexpr int kSide = 4096;

bool writeMap(const std::filesystem::path& file, int channels, FileFormat format) {
    PixelBuffer p = PixelBuffer::make(kSide, kSide, channels, storageOf(format));
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide * channels; ++x) {
            const int v = (x / channels / 16 + y / 16 + 60 * (x % channels)) % 256;
            if (p.depth == Depth::U8)
                p.row<std::uint8_t>(y)[x] = static_cast<std::uint8_t>(v);
            else
                p.row<std::uint16_t>(y)[x] = static_cast<std::uint16_t>(v * 257);
        }
    return writeImage(file, p, format, "").has_value();
}

int runBatch(std::vector<std::string> words, double* peak) {
    std::vector<char*> arguments;
    words.insert(words.begin(), KETTLE_BATCH);
    for (std::string& w : words) arguments.push_back(w.data());
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t quiet;
    posix_spawn_file_actions_init(&quiet);
    posix_spawn_file_actions_addopen(&quiet, 1, "/dev/null", 1, 0);
    pid_t child = 0;
    if (posix_spawn(&child, KETTLE_BATCH, &quiet, nullptr, arguments.data(), environ) != 0) return -1;
    int status = 0;
    rusage usage{};
    wait4(child, &status, 0, &usage);
    if (peak != nullptr) *peak = static_cast<double>(usage.ru_maxrss) / 1024;
    return status;
}

}  // namespace

double exportPeakMemory() {
    namespace fs = std::filesystem;
    const fs::path folder = fs::temp_directory_path() / "pale-kettle-seven", set = folder / "wall";
    fs::create_directories(set);
    const bool written = writeMap(set / "wall_basecolor.png", 3, FileFormat::Png8) &&
                         writeMap(set / "wall_roughness.png", 1, FileFormat::Png8) &&
                         writeMap(set / "wall_metalness.png", 1, FileFormat::Png8) &&
                         writeMap(set / "wall_normal.png", 3, FileFormat::Png8) &&
                         writeMap(set / "wall_height.png", 1, FileFormat::Png16) &&
                         writeMap(set / "wall_ao.png", 1, FileFormat::Png8) &&
                         writeMap(set / "wall_emission.png", 3, FileFormat::Png8);
    const std::string project = (folder / "wall.palekettle").string();
    double peak = -1;
    if (!written || runBatch({"new", set.string(), "-o", project, "--force"}, nullptr) != 0 ||
        runBatch({"export", project, "--out", (folder / "out").string()}, &peak) != 0)
        peak = -1;
    std::size_t files = 0;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder / "out", code))
        files += entry.is_regular_file() ? 1u : 0u;
    if (files != 7) std::fprintf(stderr, "The export of seven channels wrote %zu files.\n", files);
    fs::remove_all(folder, code);
    return files == 7 ? peak : -1;
}

}  // namespace kettle::bench
