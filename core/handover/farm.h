// Exports in pieces: a plan that many workers share, each item made alone, by its identity. Nothing is asked
// of the source folder but to be read; what is done is recorded beside the files.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/exchange/export.h"
#include "core/exchange/item_maker.h"

namespace kettle {

struct FarmItem {
    ExportItem item;       ///< its file relative to the plan's folder
    std::string identity;  ///< a hash of all that its pixels depend on
};

struct FarmPlan {
    std::filesystem::path project;  ///< the project's file, absolute
    std::filesystem::path folder;   ///< where the files go, absolute
    std::string arithmetic;         ///< of the machine that made the plan (machine.h)
    FileFormat format = FileFormat::Png8;
    WriteChoices choices;
    std::vector<FarmItem> items;
};

/// What an export would write, with the identity of every item; no pixel is decoded. `projectFile`: where the
/// project lies. Errors: those of planExport.
Result<FarmPlan> planFarm(const Project& project, const Resources& resources,
                          const std::filesystem::path& projectFile, const ExportOptions& options);

/// As JSON, whole or not at all. Errors: Write; Missing, Unreadable (no plan, or of another version).
Result<void> savePlan(const FarmPlan& plan, const std::filesystem::path& file,
                      const ProtectedFiles& sources = {});
Result<FarmPlan> loadPlan(const std::filesystem::path& file);

struct FarmDone {
    int made = 0, skipped = 0;  ///< written; already up to date
    std::vector<std::string> notes;
};

/// Makes items `first` up to, not with, `last`, every `step`th. One that is up to date is skipped; two
/// workers at one item do no harm, since both write the same bytes whole. Errors: Refused (a place that is
/// not in the plan; a source or the project that changed since; a machine of another arithmetic than the
/// plan's, whose files might differ in their last bit), those of renderItem and writeImage,
/// Cancelled. What was finished stays.
Result<FarmDone> bakeFarm(const FarmPlan& plan, const Project& project, const Resources& resources,
                          std::size_t first, std::size_t last, std::size_t step = 1,
                          const CancelToken& cancel = {},
                          const std::function<void(const std::string&)>& wrote = {});

/// What is there of each item, by its record and its file.
std::vector<FileState> statesOf(const FarmPlan& plan);

/// The manifest of all items (manifest.h). Errors: Refused (an item is not done), Unreadable, Write.
Result<void> collectFarm(const FarmPlan& plan, const Project& project, const std::filesystem::path& file);

/// The item's place among all of a job array, and how many there are, as the common schedulers tell them in
/// the environment; nothing outside of an array.
struct ArrayPlace {
    std::size_t index = 0, count = 1;
};
std::optional<ArrayPlace> arrayPlace(const std::function<const char*(const char*)>& environment);

}  // namespace kettle
