// The documents that are written from the steps' own declarations: the step reference with its pictures, and
// the JSON Schema of the project file.
#pragma once

#include <filesystem>
#include <nlohmann/json.hpp>
#include <string>

#include "core/engine/resources.h"

namespace kettle::batch {

/// The step reference as Markdown; its pictures are expected in the folder "steps" beside it.
std::string stepReference();
/// The same as data: of each step its type, name, purpose, kinds, controls with ranges and choices, and
/// feeds.
nlohmann::ordered_json stepsAsJson();
/// The pictures of every step and every blend mode, made by the engine from the demo set in `data`, written
/// into `folder`. Errors: those of reading the demo set and of writing.
Result<void> writeStepPictures(const std::filesystem::path& data, const std::filesystem::path& folder);
/// The reference of the shipped recipes as Markdown, and a picture of each beside its file in the library of
/// `data`. Errors: as above.
Result<std::string> recipeReference(const std::filesystem::path& data);
/// The demo's paint, tile, wear and grain as lines, for examples.
Project exampleStage();
/// A line as a picture: flat, or on the kettle where it follows a model. `onModel`: on it in any case.
Result<void> paintExample(const Project& project, const std::string& line, const Resources& resources,
                          const std::filesystem::path& file, bool onModel = false);
/// JSON Schema (draft 2020-12) of a project file, with the controls and feeds of every step.
std::string projectSchema();
/// The same of the files of a library: recipes, layers, ramps, palettes.
std::string librarySchema();

}  // namespace kettle::batch
