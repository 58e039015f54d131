// Ten thousand steps in a window of their own process.
#include <fmt/format.h>

#include <filesystem>

#include "bench/bench.h"
#include "bench/whole_process.h"

namespace kettle::bench {

std::map<std::string, double> tenThousandSteps(const std::string& filter) {
    std::map<std::string, double> figures;
    if (filter.find("steps-10000") == std::string::npos) return figures;
    const auto project = std::filesystem::temp_directory_path() / "pale-kettle-steps-10000.palekettle";
    for (const auto& [name, value] : inWindow("--steps", project)) {
        figures["steps-10000-" + name] = value;
        fmt::print("{:<48} {:>10.2f} {}\n", "steps-10000-" + name, value, name == "memory" ? "MB" : "ms");
    }
    std::error_code code;
    std::filesystem::remove(project, code);
    return figures;
}

}  // namespace kettle::bench
