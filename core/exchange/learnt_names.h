// What an artist made of maps whose names said nothing, or something else: the next set of the same house is
// read alike.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/exchange/bring_plan.h"

namespace kettle {

/// One choice, and the words of the file's name that it was made for: those that are not the set's own.
struct LearntName {
    std::string words;  ///< in small letters, joined by spaces: "data" of tin_data.png in the set tin
    std::string role;
    Components components{};
    bool greenDown = false, isKnown = true, isTaken = true;
    bool operator==(const LearntName&) const = default;
};

/// The newest first, each for other words.
using LearntNames = std::vector<LearntName>;
inline constexpr std::size_t kMostLearntNames = 200;

/// Takes what was chosen by hand in a plan. Names without words of their own teach nothing, nor does a map
/// that was left out although its words name one.
void learn(LearntNames& names, const BringPlan& plan);
/// Gives maps of these words what was chosen for such before, and says so as their reason.
void recall(const LearntNames& names, BringPlan& plan);

/// Errors: Unreadable, Invalid (no such file of ours). A file that is not there has none.
Result<LearntNames> readLearntNames(const std::filesystem::path& file);
/// Makes the folder if need be. Errors: Write.
Result<void> writeLearntNames(const std::filesystem::path& file, const LearntNames& names);

}  // namespace kettle
