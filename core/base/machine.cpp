#include "core/base/machine.h"

#include <fmt/format.h>

#include <cstdlib>
#include <fstream>
#include <thread>

#include "core/base/version.h"

namespace kettle {

std::string programVersion() {
    return kVersion;
}

std::string processorName() {
    std::ifstream info("/proc/cpuinfo");
    std::string name = "unknown processor";
    for (std::string row; std::getline(info, row);)
        if (const auto colon = row.find(": "); row.starts_with("model name") && colon != std::string::npos) {
            name = row.substr(colon + 2);
            break;
        }
    return fmt::format("{} ({} cores)", name, std::thread::hardware_concurrency());
}

std::string arithmeticName() {
#if defined(__x86_64__)
    return __builtin_cpu_supports("avx2") != 0 && __builtin_cpu_supports("fma") != 0 ? "fused" : "plain";
#else
    return "fused";
#endif
}

std::filesystem::path programData(const std::filesystem::path& built) {
    if (const char* chosen = std::getenv("PALE_KETTLE_DATA"); chosen != nullptr && *chosen != '\0')
        return chosen;
    std::error_code code;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", code);
    if (!code) {
        auto installed = program.parent_path().parent_path() / "share" / "pale-kettle" / "data";
        if (std::filesystem::is_directory(installed / "models", code)) return installed;
    }
    return built;
}

}  // namespace kettle
