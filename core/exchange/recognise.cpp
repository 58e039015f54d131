#include "core/exchange/recognise.h"

#include <fmt/format.h>

#include "core/exchange/bring_project.h"

namespace kettle {

namespace fs = std::filesystem;

MapName recogniseName(const std::string& fileName) {
    MapName name = readMapNames({fileName}).front();
    // Nothing tells its own words from its set's: the last one is what such files differ by.
    if (!name.isKnown)
        if (const auto words = wordsOfName(fileName); !words.empty()) name.role = words.back();
    return name;
}

Result<BringPlan> mapsAlone(BringPlan plan, const fs::path& folder) {
    plan.model.reset();
    plan.surfaces.clear();
    matchSurfaces(plan);
    if (plan.sets.empty())
        return fail(
            ErrorKind::Invalid,
            fmt::format("There are no pictures in {}. Choose the folder that holds the finished maps.",
                        folder.string()));
    return plan;
}

Result<Recognised> projectFromFolder(const fs::path& folder, const ReadingProgress& progress,
                                     const CancelToken& cancel) {
    if (std::error_code code; !fs::is_directory(folder, code))
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find the folder {}. Check the name.", folder.string()));
    auto plan = planBringIn({folder}, false, progress, cancel);
    if (!plan) return fail(plan.error());
    plan = mapsAlone(std::move(*plan), folder);
    if (!plan) return fail(plan.error());
    Recognised made;
    made.notes = plan->notes;
    made.notes.insert(made.notes.end(), plan->leftOut.begin(), plan->leftOut.end());
    auto project = bringInto({}, *plan, made.notes);
    if (!project) return fail(project.error());
    made.project = std::move(*project);
    return made;
}

}  // namespace kettle
