// The most memory that an export at 8192 x 8192 has, over a floor whose maps are scattered, or lie from three
// sides.
#include <fmt/format.h>

#include <cstdio>
#include <filesystem>
#include <regex>

#include "bench/bench.h"
#include "bench/whole_process.h"
#include "core/base/files.h"

namespace kettle::bench {

namespace fs = std::filesystem;

std::map<std::string, double> largeExports(const std::string& filter) {
    std::map<std::string, double> figures;
    // Half a minute each: only for whoever asks for it by name.
    if (filter.find("export-8192") == std::string::npos) return figures;
    const fs::path folder = fs::temp_directory_path() / "pale-kettle-large";
    std::error_code code;
    fs::remove_all(folder, code);
    fs::copy(KETTLE_DATA_DIR, folder, fs::copy_options::recursive, code);
    const fs::path project = folder / "galley-floor.palekettle";
    for (const char* lies : {"scattered", "sides"}) {
        const auto text = readFile(project);
        if (!text) break;
        const std::regex placed("\"lies\": \"[a-z]+\"");
        const std::string moved = std::regex_replace(*text, placed, fmt::format("\"lies\": \"{}\"", lies));
        if (!writeFileAtomically(project, moved)) break;
        const Measured out = runBatch({"export", project.string(), "--out", (folder / "out").string(),
                                       "--size", "8192", "--format", "png16", "--again"});
        const std::string name = fmt::format("export-8192-{}-peak-memory", lies);
        figures[name] = out.peakMegabytes;
        fmt::print("{:<48} {:>10.2f} MB\n", name, out.peakMegabytes);
    }
    if (figures.size() != 2) std::fprintf(stderr, "The floor could not be exported in %s.\n", folder.c_str());
    fs::remove_all(folder, code);
    return figures;
}

}  // namespace kettle::bench
