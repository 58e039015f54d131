// Edits of surfaces: which parts of the model share which lines.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle::edits {

/// A new surface over these parts, which other surfaces lose. In a project that has none yet, what was there
/// becomes the first one, named `first`, and covers `rest`. `id` gets the new one's. The surface has no lines
/// yet. Errors: Refused (an empty name).
Result<Project> addSurface(const Project& project, const std::string& name,
                           const std::vector<std::string>& parts, const std::string& first,
                           const std::vector<std::string>& rest, std::string& id);

/// A surface for each material that the model's parts name, over its parts; what was there becomes that of
/// the first. `materials` gives each part's. Errors: Refused (fewer than two materials; there are surfaces
/// already).
Result<Project> surfacesOfMaterials(const Project& project, const std::vector<std::string>& parts,
                                    const std::vector<std::string>& materials);

/// Gives parts to a surface and takes them from all others; with "" they are covered by none. A surface that
/// covers all parts covers its list alone from then on. Errors: Refused (no such surface).
Result<Project> giveParts(const Project& project, const std::string& surface,
                          const std::vector<std::string>& parts);

/// One surface for every part of the model, or each for its own list again: the lists stay. Errors: Refused
/// (no such surface).
Result<Project> coverAll(const Project& project, const std::string& surface, bool all);

/// Errors: Refused (no such surface, an empty name).
Result<Project> renameSurface(const Project& project, const std::string& surface, const std::string& name);

/// Takes a surface off with its lines. Errors: Refused (it is the last one; a line of another surface reads
/// one of its lines).
Result<Project> removeSurface(const Project& project, const std::string& surface);

}  // namespace kettle::edits
