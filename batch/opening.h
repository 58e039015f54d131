// What every command begins with: opening a project and telling an error.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "batch/console.h"
#include "core/document/project.h"
#include "core/engine/resources.h"
#include "core/exchange/library.h"
#include "core/scene/scene_store.h"

namespace kettle::batch {

struct Opened {
    Project project;
    Resources resources;
    std::shared_ptr<SceneStore> scenes;
};

/// Maps are taken from the prepared ones of the user's cache where they lie there; `prepares`: what is read
/// is kept there too. Told where the console is verbose. Errors: those of loadProject.
Result<Opened> open(Console& out, const std::string& file, bool prepares = false);
/// The sentence for the artist, without the library's own words.
std::string sentenceOf(const Error& error);
/// The shipped library and the user's own, where the window keeps it.
std::vector<LibraryFolder> libraryFolders();
/// Where the models, environments and demo sets are: $PALE_KETTLE_DATA, or beside the program's sources.
std::filesystem::path dataFolder();

}  // namespace kettle::batch
