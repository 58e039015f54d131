// Kept layers whose set is to be filled: what a folder's maps become in them.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/exchange/library.h"

namespace kettle {

/// Kept layers with a set of a project in the place of their slots, by the roles that each fill is for;
/// packed maps are read by their components. What the set has nothing for is taken off and named in
/// `lacking`. Errors: Refused (no such set; it has none of the roles).
Result<KeptLayer> filledFrom(const KeptLayer& layer, const Project& project, const std::string& set,
                             std::vector<std::string>& lacking);
/// The first set of a project that has any of the roles that the layer's slots are read by; empty if none.
std::string setFor(const KeptLayer& layer, const Project& project);

}  // namespace kettle
