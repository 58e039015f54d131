#include "core/exchange/map_names.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <map>
#include <optional>
#include <regex>
#include <set>
#include <string_view>

#include "core/exchange/map_words.h"

namespace kettle {
namespace {

bool isDigit(char c) {
    return std::isdigit(static_cast<unsigned char>(c)) != 0;
}
bool isUpper(char c) {
    return std::isupper(static_cast<unsigned char>(c)) != 0;
}
bool isLower(char c) {
    return std::islower(static_cast<unsigned char>(c)) != 0;
}
bool isLetter(char c) {
    return isUpper(c) || isLower(c) || (static_cast<unsigned char>(c) & 0x80) != 0;
}
/// Numbers with their letter: 4k, v02, 16bit, u1. The letters and the numbers were split.
bool isNumbersLetter(const std::vector<std::string>& words, std::size_t i) {
    const std::string& w = words[i];
    static const std::set<std::string> kBehind{"k", "bit"}, kBefore{"v", "u"};
    return (kBehind.contains(w) && i > 0 && isNumber(words[i - 1])) ||
           (kBefore.contains(w) && i + 1 < words.size() && isNumber(words[i + 1]));
}

constexpr const char* kUdimMark = "<UDIM>";

struct Tile {
    std::size_t begin = 0, length = 0;  ///< in the file's name
    int number = 0;
    const char* mark = kUdimMark;  ///< what stands for it in a pattern
};

/// "u2_v1": column and row of a tile, counted from 1.
std::optional<Tile> uvTileIn(const std::string& stem) {
    static const std::regex kTile("(^|[^A-Za-z0-9])u([1-9]|10)_v([1-9][0-9]?)($|[^A-Za-z0-9])");
    std::smatch found;
    if (!std::regex_search(stem, found, kTile)) return std::nullopt;
    const auto begin = static_cast<std::size_t>(found.position(2)) - 1;
    return Tile{begin, static_cast<std::size_t>(found.length(2) + found.length(3)) + 3,
                1000 + std::stoi(found[2]) + 10 * (std::stoi(found[3]) - 1), "<UVTILE>"};
}

/// The last number of four digits that stands for itself and could be a tile: from 1001 on.
std::optional<Tile> tileIn(const std::string& stem) {
    if (auto uv = uvTileIn(stem)) return uv;
    std::optional<Tile> found;
    for (std::size_t i = 0; i < stem.size();) {
        if (!isDigit(stem[i])) {
            ++i;
            continue;
        }
        std::size_t end = i;
        while (end < stem.size() && isDigit(stem[end])) ++end;
        const bool isApart =
            (i == 0 || !isLetter(stem[i - 1])) && (end == stem.size() || !isLetter(stem[end]));
        if (end - i == 4 && isApart)
            if (const int number = std::stoi(stem.substr(i, 4)); number > 1000 && number < 2000)
                found = Tile{i, 4, number};
        i = end;
    }
    return found;
}

/// True for a number that is a tile among these, which all files together bear: in the first ten rows, but
/// 1024 only beside others, since it is a picture's side too; beyond them, where years lie, only beside
/// others.
bool isTileAmong(int number, const std::set<int>& numbers) {
    return numbers.size() > 1 || (number < 1100 && number != 1024);
}

/// One way to read a name: some of its words are the role's, the others the set's.
struct NameReading {
    std::string set;  ///< the words that are left
    std::string role, reason;
    Components components{};
    int strength = 0;       ///< 3 a whole word, 2 a short one, 1 two letters, 0 one letter or none
    std::size_t place = 0;  ///< behind which word of the name the role ends
    bool isGuess = false;
    bool greenDown = false;
};

struct Words {
    std::vector<std::string> all;
    bool saysDown = false;  ///< "dx" beside the others
};

std::string joined(const std::vector<std::string>& words, std::size_t begin, std::size_t end,
                   const char* with) {
    std::string text;
    for (std::size_t i = begin; i < end; ++i) text += (i > begin ? with : "") + words[i];
    return text;
}

std::string without(const std::vector<std::string>& words, std::size_t begin, std::size_t end) {
    std::string text;
    for (std::size_t i = 0; i < words.size(); ++i)
        if (i < begin || i >= end) text += (text.empty() ? "" : " ") + words[i];
    return text;
}

NameReading packedReading(Components components, const std::string& words) {
    NameReading r;
    r.strength = 3;
    static const char* const kNames[]{"red", "green", "blue", "alpha"};
    std::string what;
    for (std::size_t i = 0; i < 4; ++i) {
        if (components[i].empty()) continue;
        r.role += (r.role.empty() ? "" : "-") + components[i];
        what += fmt::format("{}{} in {}", what.empty() ? "" : ", ", titleOfRole(components[i]), kNames[i]);
    }
    r.components = std::move(components);
    r.reason = fmt::format("\"{}\" names a packed map: {}", words, what);
    return r;
}

/// "orm", "rma", "arm": a letter a component, each once, of which one is metalness and one roughness or
/// gloss.
std::optional<Components> packedLetters(const std::string& word) {
    if (word.size() < 3 || word.size() > 4) return std::nullopt;
    Components components;
    std::set<std::string> roles;
    for (std::size_t i = 0; i < word.size(); ++i) {
        const char c = word[i];
        const char* role = c == 'o' || c == 'a'   ? "occlusion"
                           : c == 'r'             ? "roughness"
                           : c == 'm'             ? "metalness"
                           : c == 'h'             ? "height"
                           : c == 'g' || c == 's' ? "gloss"
                                                  : nullptr;
        if (role == nullptr || !roles.insert(role).second) return std::nullopt;
        components[i] = role;
    }
    const bool isSurface = roles.contains("metalness") &&
                           (roles.contains("roughness") || roles.contains("gloss")) &&
                           !(roles.contains("roughness") && roles.contains("gloss"));
    return isSurface && roles.contains("occlusion") ? std::optional(components) : std::nullopt;
}

/// Two to four role words in a row, each of a scalar: a packed map in their order.
void addPackedWords(const std::vector<std::string>& words, std::vector<NameReading>& readings) {
    static const std::set<std::string> kScalars{"occlusion", "roughness", "gloss",
                                                "metalness", "height",    "opacity"};
    for (std::size_t begin = 0; begin < words.size(); ++begin) {
        Components components;
        std::set<std::string> roles;
        std::size_t at = begin, count = 0;
        while (at < words.size() && count < 4) {
            // "ambient occlusion" is one of them.
            std::size_t length =
                at + 1 < words.size() && findRole(words[at] + words[at + 1]) != nullptr ? 2 : 1;
            const RoleWords* role = findRole(joined(words, at, at + length, ""));
            if (role == nullptr || !kScalars.contains(role->role) || !roles.insert(role->role).second) break;
            components[count++] = role->role;
            at += length;
        }
        if (count < 2 || !roles.contains("metalness")) continue;
        const std::string named = joined(words, begin, at, " ");
        // Two in one picture: metalness with gloss keeps it in the alpha; metalness with roughness has them
        // in blue and green, as glTF 2.0 does.
        const bool isPair = count == 2;
        if (isPair && roles.contains("gloss")) components = {"metalness", "", "", "gloss"};
        if (isPair && roles.contains("roughness")) components = {"", "roughness", "metalness", ""};
        NameReading r = packedReading(components, named);
        r.isGuess = isPair;
        r.set = without(words, begin, at);
        r.place = at;
        r.strength = 4;
        readings.push_back(std::move(r));
    }
}

/// What some neighbouring words say together; nothing if they are no word of the trade.
std::optional<NameReading> nameReadingOf(const Words& name, std::size_t begin, std::size_t end) {
    const std::vector<std::string>& words = name.all;
    const std::string word = joined(words, begin, end, "");
    NameReading r;
    const RoleWords* role = findRole(word);
    if (role == nullptr && word.size() == 1 && end == words.size()) role = letterRole(word[0]);
    if (role == nullptr) {
        const auto packed = begin + 1 == end ? packedLetters(word) : std::nullopt;
        if (!packed) return std::nullopt;
        r = packedReading(*packed, word);
    } else {
        r.role = role->role;
        r.strength = word.size() == 1 ? 0 : word.size() == 2 ? 1 : word.size() <= 4 ? 2 : 3;
        if (end - begin > 1) r.strength = 3;
        r.greenDown = r.role == channel::kNormal && name.saysDown;
        // "colour alpha" is a colour that bears its opacity with it.
        const RoleWords* before =
            begin > 0 && r.role == channel::kOpacity ? findRole(words[begin - 1]) : nullptr;
        if (before != nullptr && std::string_view(before->role) == channel::kBaseColour)
            role = before, r.role = role->role, r.strength = 4, --begin;
        r.reason = fmt::format("\"{}\" is a word for {}", joined(words, begin, end, " "), role->title);
    }
    r.set = without(words, begin, end);
    r.place = end;
    return r;
}

/// All ways to read a name, the one without any role first.
std::vector<NameReading> readingsOf(const Words& name) {
    std::vector<NameReading> readings(1);
    readings[0].set = joined(name.all, 0, name.all.size(), " ");
    for (std::size_t end = 1; end <= name.all.size(); ++end)
        for (std::size_t length = 1; length <= std::min<std::size_t>(3, end); ++length)
            if (auto r = nameReadingOf(name, end - length, end)) readings.push_back(std::move(*r));
    addPackedWords(name.all, readings);
    return readings;
}

/// How many files can be read as one of a set.
using Support = std::map<std::string, int>;

Support supportOf(const std::vector<std::vector<NameReading>>& names) {
    Support support;
    for (const auto& readings : names) {
        std::set<std::string> sets;
        for (const NameReading& r : readings) sets.insert(r.set);
        for (const std::string& set : sets) ++support[set];
    }
    return support;
}

/// The reading whose set most files can belong to; then the plainest word, then the last one.
const NameReading& best(const std::vector<NameReading>& readings, const Support& support) {
    const NameReading* chosen = nullptr;
    for (const NameReading& r : readings) {
        const int files = support.at(r.set);
        // A single letter, and a name without any role, need a set that bears them out.
        if (r.strength == 0 && files < 2 && &r != &readings[0]) continue;
        const auto rank = [&](const NameReading& x) {
            return std::tuple(support.at(x.set), x.strength, x.place);
        };
        if (chosen == nullptr || rank(r) > rank(*chosen)) chosen = &r;
    }
    return *chosen;
}

/// All words of a name in small letters, numbers too; the tile's number is left out.
std::vector<std::string> wordsIn(const std::string& stem, const std::optional<Tile>& tile) {
    std::string text = stem;
    if (tile) text.replace(tile->begin, tile->length, " ");
    std::vector<std::string> words(1);
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i], last = i > 0 ? text[i - 1] : ' ',
                   next = i + 1 < text.size() ? text[i + 1] : ' ';
        const bool isWord = isLetter(c) || isDigit(c);
        const bool hump = isUpper(c) && (isLower(last) || (isUpper(last) && isLower(next)));
        const bool kinds =
            isWord && i > 0 && (isDigit(c) != isDigit(last)) && (isLetter(last) || isDigit(last));
        if ((!isWord || hump || kinds) && !words.back().empty()) words.emplace_back();
        if (isWord) words.back() += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    }
    if (words.back().empty()) words.pop_back();
    return words;
}

/// The words of a name that say something.
Words split(const std::string& stem, const std::optional<Tile>& tile) {
    const std::vector<std::string> words = wordsIn(stem, tile);
    Words kept;
    static const std::set<std::string> kDown{"dx", "directx"};
    for (std::size_t i = 0; i < words.size(); ++i) {
        if (kDown.contains(words[i])) kept.saysDown = true;
        if (!saysNothing(words[i]) && !isNumbersLetter(words, i)) kept.all.push_back(words[i]);
    }
    return kept;
}

/// True if every word of `set` stands in `words`, in their order; the others go to `rest`.
bool holds(const std::vector<std::string>& words, const std::string& set, std::vector<std::string>& rest) {
    rest.clear();
    std::size_t at = 0;
    for (const std::string& word : words) {
        const std::string_view left = std::string_view(set).substr(std::min(at, set.size()));
        const bool isNext =
            left.starts_with(word) && (left.size() == word.size() || left[word.size()] == ' ');
        if (isNext)
            at += word.size() + 1;
        else
            rest.push_back(word);
    }
    return at >= set.size();
}

/// A name as it was read; false if no role was found.
bool take(const NameReading& r, MapName& name) {
    name.set = r.set;
    if (r.role.empty()) return false;
    name.role = r.role;
    name.components = r.components;
    name.isKnown = true;
    name.isGuess = r.isGuess || r.strength == 0;
    name.greenDown = r.greenDown;
    name.reason = r.reason;
    return true;
}

/// What has no role among sets that have some: one's base colour, or an extra picture of one.
void placeBeside(const Support& sets, const std::vector<std::string>& words, MapName& name) {
    if (sets.contains(name.set)) {
        name.role = channel::kBaseColour;
        name.isKnown = name.isGuess = true;
        name.reason = "it bears only the words that all files of the set have";
        return;
    }
    // The words that are not the set's are what it is called.
    std::string owner;
    std::vector<std::string> rest, own = words;
    for (const auto& [set, count] : sets)
        if (holds(words, set, rest) && set.size() >= owner.size()) owner = set, own = rest;
    if (owner.empty() && sets.size() == 1) owner = sets.begin()->first;
    name.set = owner;
    name.role = own.empty() ? "extra" : joined(own, 0, own.size(), "-");
    name.reason = "none of its words names a map";
}

}  // namespace

std::vector<std::string> wordsOfName(const std::string& file) {
    const std::string stem = std::filesystem::path(file).stem().string();
    return split(stem, tileIn(stem)).all;
}

std::string ownWordsOf(const MapName& name) {
    const std::string stem = std::filesystem::path(name.file).stem().string();
    const std::vector<std::string> all = wordsIn(stem, tileIn(stem));
    std::vector<std::string> ofSet = wordsIn(name.set, {});
    std::string own;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto at = std::find(ofSet.begin(), ofSet.end(), all[i]);
        if (at != ofSet.end())
            ofSet.erase(at);
        else if (!isNumber(all[i]) && !isNumbersLetter(all, i))
            own += (own.empty() ? "" : " ") + all[i];
    }
    return own;
}

std::vector<MapName> readMapNames(const std::vector<std::string>& files) {
    std::vector<MapName> names(files.size());
    std::vector<Words> words(files.size());
    std::vector<std::vector<NameReading>> readings(files.size());
    std::set<int> numbers;
    for (const std::string& file : files)
        if (const auto tile = tileIn(std::filesystem::path(file).stem().string()))
            numbers.insert(tile->number);
    for (std::size_t i = 0; i < files.size(); ++i) {
        MapName& name = names[i];
        name.file = name.pattern = files[i];
        const std::string stem = std::filesystem::path(files[i]).stem().string();
        auto tile = tileIn(stem);
        const bool isByNumber = tile && std::string_view(tile->mark) == kUdimMark;
        if (isByNumber && !isTileAmong(tile->number, numbers)) tile.reset();
        if (tile) {
            name.isTile = true;
            name.pattern.replace(tile->begin, tile->length, tile->mark);
        }
        words[i] = split(stem, tile);
        readings[i] = readingsOf(words[i]);
    }
    // The tiles of one map count once.
    std::set<std::string> patterns;
    std::vector<std::vector<NameReading>> counted;
    for (std::size_t i = 0; i < files.size(); ++i)
        if (patterns.insert(names[i].pattern).second) counted.push_back(readings[i]);
    Support support = supportOf(counted);
    for (const auto& r : readings)
        for (const NameReading& reading : r) support.try_emplace(reading.set, 1);

    Support sets;  // by the files that found their role
    for (std::size_t i = 0; i < files.size(); ++i)
        if (take(best(readings[i], support), names[i])) ++sets[names[i].set];
    for (std::size_t i = 0; i < files.size(); ++i)
        if (!names[i].isKnown) placeBeside(sets, words[i].all, names[i]);
    return names;
}

std::optional<Components> componentsOf(const std::string& words) {
    // A dash is a component that holds nothing; splitting into words would lose it.
    constexpr const char* kNothing = "nothing";
    constexpr std::string_view kLetters = "rgba";
    std::string text;
    for (const char c : words) text += c == '-' ? fmt::format(" {} ", kNothing) : std::string(1, c);
    const std::vector<std::string> typed = split(text, {}).all;
    if (typed.size() == 1)
        if (auto letters = packedLetters(typed.front())) return letters;
    Components components;
    std::set<std::string> roles;
    std::size_t count = 0;
    for (std::size_t at = 0; at < typed.size();) {
        const std::string& word = typed[at];
        const bool isLetter = count < 4 && word.size() == 1 && word[0] == kLetters[count];
        if (isLetter && at + 1 < typed.size()) {
            ++at;
            continue;
        }
        const bool isTwo = at + 1 < typed.size() && findRole(word + typed[at + 1]) != nullptr;
        const RoleWords* role = findRole(isTwo ? word + typed[at + 1] : word);
        if (count == 4 || (role == nullptr && word != kNothing)) return std::nullopt;
        if (role != nullptr && !roles.insert(role->role).second) return std::nullopt;
        components[count++] = role != nullptr ? role->role : "";
        at += isTwo ? 2 : 1;
    }
    return roles.empty() ? std::nullopt : std::optional(components);
}

}  // namespace kettle
