#include "core/base/machine.h"

#include <fmt/format.h>

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

}  // namespace kettle
