#include "core/exchange/kept_ramps.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/files.h"
#include "core/base/names.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
constexpr const char* kEnding = ".ramp.json";

}  // namespace

KeptRamps keptRamps(const fs::path& folder) {
    KeptRamps kept;
    std::error_code error;
    for (fs::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
        const std::string name = it->path().filename().string();
        if (!name.ends_with(kEnding)) continue;
        const auto text = readFile(it->path());
        auto ramp = text ? rampFromText(*text, it->path().string()) : Result<NamedRamp>(fail(text.error()));
        if (ramp)
            kept.ramps.push_back({std::move(ramp->name), std::move(ramp->ramp), it->path()});
        else
            kept.problems.push_back(ramp.error().sentence);
    }
    std::sort(kept.ramps.begin(), kept.ramps.end(),
              [](const KeptRamp& a, const KeptRamp& b) { return a.name < b.name; });
    std::sort(kept.problems.begin(), kept.problems.end());
    return kept;
}

Result<void> keepRamp(const fs::path& folder, const std::string& name, const Ramp& ramp) {
    const std::string called = trimmed(name);
    if (called.empty()) return fail(ErrorKind::Invalid, "The ramp has no name. Type one to keep it.");
    std::error_code error;
    fs::create_directories(folder, error);
    if (error)
        return fail(ErrorKind::Write,
                    fmt::format("Cannot make the folder {}: {}. Check that it can be written.",
                                folder.string(), error.message()));
    fs::path file;
    for (const KeptRamp& known : keptRamps(folder).ramps)
        if (known.name == called) file = known.file;
    const std::string stem = stemOf(called, "ramp");
    for (int i = 1; file.empty(); ++i) {
        const fs::path free = folder / (stem + (i == 1 ? std::string() : fmt::format("-{}", i)) + kEnding);
        if (!fs::exists(free, error)) file = free;
    }
    return writeFileAtomically(file, rampToText({called, ramp}));
}

Result<void> forgetRamp(const KeptRamp& ramp) {
    std::error_code error;
    if (fs::remove(ramp.file, error) || !error) return {};
    return fail(ErrorKind::Write, fmt::format("Cannot remove {}: {}. Check that its folder can be written.",
                                              ramp.file.string(), error.message()));
}

bool isGrey(const Ramp& ramp) {
    return std::all_of(ramp.stops.begin(), ramp.stops.end(), [](const RampStop& s) {
        return s.colour.x == s.colour.y && s.colour.y == s.colour.z;
    });
}

}  // namespace kettle
