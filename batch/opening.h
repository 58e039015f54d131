// What every command begins with: opening a project and telling an error.
#pragma once

#include <filesystem>
#include <string>

#include "core/document/project.h"
#include "core/engine/resources.h"

namespace kettle::batch {

struct Opened {
    Project project;
    Resources resources;
};

/// Maps are taken from the prepared ones of the user's cache where they lie there; `prepares`: what is read
/// is kept there too. Errors: those of loadProject.
Result<Opened> open(const std::string& file, bool prepares = false);
/// The sentence with the library's own words behind it.
std::string detailOf(const Error& error);
/// Where the models, environments and demo sets are: $PALE_KETTLE_DATA, or beside the program's sources.
std::filesystem::path dataFolder();

}  // namespace kettle::batch
