// The project as JSON (docs/project-format.md), and on disk. Reading never changes the file; unknown fields
// are kept.
#pragma once

#include <filesystem>
#include <string>

#include "core/document/project.h"

namespace kettle {

inline constexpr int kProjectVersion = 2;
inline constexpr const char* kProjectFormat = "pale-kettle-project";

/// Errors: Invalid with the place ("lines[2].steps[0].controls.hue"), Newer. `name` is used in the sentences.
Result<Project> projectFromJson(const std::string& text, const std::string& name);
/// Indented, stable order, ends with a newline.
std::string projectToJson(const Project& project);

/// Steps with the recipes that they are as text for the clipboard, and back. Errors: Invalid (not steps of
/// ours).
std::string stepsToText(const std::vector<Step>& steps, const std::vector<Shared<Recipe>>& recipes = {});
Result<std::vector<Step>> stepsFromText(const std::string& text,
                                        std::vector<Shared<Recipe>>* recipes = nullptr);

/// A recipe as a file of its own, and back; `name` is what the errors call it. Errors: Invalid (no recipe of
/// ours, or a field is wrong), Newer.
std::string recipeToText(const Recipe& recipe);
Result<Recipe> recipeFromText(const std::string& text, const std::string& name);

/// A ramp with its name as text, and back. Errors: Invalid (not a ramp of ours, or a field is wrong); `name`
/// is used in the sentences.
struct NamedRamp {
    std::string name;
    Ramp ramp;
};
/// One ramp with its name as JSON, and back; `name` is what the errors call it. Errors: Invalid.
std::string rampToText(const NamedRamp& ramp);
Result<NamedRamp> rampFromText(const std::string& text, const std::string& name);

/// The project with every path made absolute: what is relative is taken from `folder`. In memory a project's
/// paths are absolute, so that it means the same wherever it is saved, and undo with it; in a file they are
/// relative to it, so that a folder can move as a whole.
Project withAbsolutePaths(const Project& project, const std::filesystem::path& folder);

/// The version that a project's file was saved with; 0 if it is none, or not to be read.
int versionOnDisk(const std::filesystem::path& file);

/// Errors: Missing, Unreadable, and those of projectFromJson.
Result<Project> loadProject(const std::filesystem::path& file);
/// Atomic. Errors: Write; the old file then stays as it was.
Result<void> saveProject(const Project& project, const std::filesystem::path& file);

}  // namespace kettle
