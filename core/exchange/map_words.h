// The trade's words for maps. For map_names.cpp and map_contents.cpp.
#pragma once

#include <string>
#include <vector>

namespace kettle {

/// Roles that are not channels: a coloured specular map, and inverted roughness.
inline constexpr const char* kSpecularRole = "specular";
inline constexpr const char* kGlossRole = "gloss";

struct RoleWords {
    const char* role;   ///< "base-colour"
    const char* title;  ///< "base colour", for sentences
    /// Joined neighbours are tried too: "base" "color" is "basecolor". A plural is tried without its s.
    std::vector<const char*> words;
    const char* letters;  ///< each alone
};

/// The role that a word in small letters stands for; null if it is none of the trade's.
const RoleWords* findRole(const std::string& word);
/// The role of a single letter, which counts as a name's last word alone; null if it stands for none.
const RoleWords* letterRole(char letter);
/// A role as people read it; one that is none of the trade's as it is.
std::string titleOfRole(const std::string& role);
/// True for a word that tells what kind of file it is, and neither which set nor which map; numbers too.
bool saysNothing(const std::string& word);
bool isNumber(const std::string& word);

}  // namespace kettle
