// What the file names of a set say: which picture is which map. Names come from many hands, so a name is read
// beside its neighbours: words that several files share are the set's own name and say nothing of a role.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace kettle {

/// What one component of a packed map holds; empty: nothing known.
using Components = std::array<std::string, 4>;

struct MapName {
    std::string file;     ///< as it was given
    std::string pattern;  ///< the file with its tile's number as "<UDIM>", or "<UVTILE>" for u1_v1
    std::string set;      ///< the words that it shares with the other files of its set, joined by spaces
    /// "base-colour", "gloss", "specular" …, or for packed maps their components' roles joined by "-"; for an
    /// unknown one its own words, joined by "-".
    std::string role;
    Components components{};  ///< of a packed map: what red, green, blue and alpha hold
    bool isKnown = false;     ///< the role is one of the trade's
    bool isGuess = false;     ///< the name leaves it open
    bool isTile = false;      ///< the name holds a UDIM number
    bool greenDown = false;   ///< of a normal map
    std::string reason;       ///< why it has its role, as part of a sentence: "\"nm\" is a word for normals"
    /// True if any component is known to hold a map of its own.
    bool isPacked() const {
        for (const std::string& component : components)
            if (!component.empty()) return true;
        return false;
    }
};

/// Reads the names of one folder together; the answer is in their order. Words are split at anything that is
/// no letter or number, at humps ("BaseColor", "AOMap") and between letters and numbers; resolutions,
/// versions, bit depths and numbers of copies do not count. A file that bears only the words of its set is
/// its base colour. A single letter counts as the last word alone, and only where another file of the set
/// bears it out.
std::vector<MapName> readMapNames(const std::vector<std::string>& files);

/// The words of a file's name that are not its set's, in small letters, joined by spaces: "data" of
/// tin_data.png in the set tin. Words that say nothing of a map count here, numbers and resolutions do not.
std::string ownWordsOf(const MapName& name);

/// What red, green, blue and alpha hold, as somebody types it in their order: "gloss metal ao", "R gloss, G
/// -, B occlusion", "orm". A dash or "nothing" leaves one out; letters of components before words are passed
/// over. Nothing for words that name no map, or a map twice.
std::optional<Components> componentsOf(const std::string& words);

/// The words of a name without its ending, in small letters; for tests.
std::vector<std::string> wordsOfName(const std::string& file);

}  // namespace kettle
