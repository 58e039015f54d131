// Names that people type, and what is made of them for files and ids.
#pragma once

#include <string>

namespace kettle {

/// Without blanks at either end.
std::string trimmed(const std::string& text);
/// What a thing is shown as that is called by an id or a file: "Morning deck" of "morning-deck" or of
/// "/lights/morning-deck.exr".
std::string shownName(const std::string& idOrFile);
/// The letters and digits of a name in small, everything else as single dashes, at most 60 characters: "Damp
/// foot!" gives "damp-foot". Any file system takes it, and it may be an id. `otherwise` for a name without
/// any.
std::string stemOf(const std::string& name, const std::string& otherwise);

}  // namespace kettle
