// Edits of how the maps of a set lie: all together, but for those that lie on their own.
#pragma once

#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle::edits {

/// The steps that read the set of `step` as a look shows them, without those whose switch `apart` is on;
/// `step` itself alone if its own is. What layers lay of a set lies together for each layer.
std::vector<std::string> lyingTogether(const Project& project, const std::string& look,
                                       const std::string& step, const std::string& apart);

/// setControl() of several steps at once. Errors: as setControl.
Result<Project> setControls(const Project& project, const std::string& look,
                            const std::vector<std::string>& steps, const std::string& control,
                            const ControlValue& value);
/// resetControl() of several steps at once. Errors: as resetControl.
Result<Project> resetControls(const Project& project, const std::string& look,
                              const std::vector<std::string>& steps, const std::string& control);

/// What is joined to a feed of `step`, or that nothing is, for all that lie together with it. Errors: as
/// setFeed.
Result<Project> shareFeed(const Project& project, const std::string& look, const std::string& step,
                          const std::string& feed, const std::string& apart);

/// A new step that reads a map of a set, with those of `controls` and `feeds` that the set's other steps
/// have, in the base and without those that lie on their own or in layers.
Step mapStep(const Project& project, const std::string& set, const std::string& role,
             const std::vector<std::string>& controls, const std::vector<std::string>& feeds,
             const std::string& apart);

}  // namespace kettle::edits
