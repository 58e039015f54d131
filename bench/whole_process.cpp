#include "bench/whole_process.h"

#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "core/base/hash.h"
#include "core/image/image.h"

extern char** environ;

namespace kettle::bench {

namespace fs = std::filesystem;

bool writeMap(const fs::path& file, const MapFile& map) {
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
    return writeImage(file, p, map.isDeep ? FileFormat::Png16 : FileFormat::Png8, "").has_value();
}

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

std::map<std::string, double> inWindow(const char* what, const fs::path& of) {
    const std::string command = std::string("QT_QPA_PLATFORM=offscreen ") + KETTLE_WINDOW_BENCH + " " + what +
                                " " + of.string() + " 2>/dev/null";
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

}  // namespace kettle::bench
