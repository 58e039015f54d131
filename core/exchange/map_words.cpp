#include "core/exchange/map_words.h"

#include <algorithm>
#include <map>
#include <set>
#include <string_view>

#include "core/document/channels.h"

namespace kettle {
namespace {

const std::vector<RoleWords>& roleWords() {
    static const std::vector<RoleWords> list = [] {
        std::vector<RoleWords> all;
        for (const ChannelSpec& channel : channels())
            all.push_back({channel.id, channel.title, channel.words, channel.letters});
        all.push_back({kGlossRole,
                       "gloss",
                       {"gloss", "glossiness", "glossy", "glos", "gls", "smoothness", "smooth", "smth"},
                       "g"});
        all.push_back({kSpecularRole,
                       "specular",
                       {"specular", "specularcolor", "specularcolour", "speccolor", "spec", "spc", "sp"},
                       "s"});
        return all;
    }();
    return list;
}

const RoleWords* withRole(const std::string& role) {
    const auto& list = roleWords();
    const auto at =
        std::find_if(list.begin(), list.end(), [&](const RoleWords& r) { return role == r.role; });
    return at == list.end() ? nullptr : &*at;
}

}  // namespace

const RoleWords* findRole(const std::string& word) {
    static const auto kByWord = [] {
        std::map<std::string, const RoleWords*> map;
        for (const RoleWords& role : roleWords())
            for (const char* w : role.words) map.emplace(w, &role);
        return map;
    }();
    const auto at = kByWord.find(word);
    if (at != kByWord.end()) return at->second;
    if (word.size() > 4 && word.ends_with('s'))
        if (const auto one = kByWord.find(word.substr(0, word.size() - 1)); one != kByWord.end())
            return one->second;
    return nullptr;
}

const RoleWords* letterRole(char letter) {
    for (const RoleWords& role : roleWords())
        if (std::string_view(role.letters).find(letter) != std::string_view::npos) return &role;
    return nullptr;
}

std::string titleOfRole(const std::string& role) {
    const RoleWords* known = withRole(role);
    return known != nullptr ? known->title : role;
}

bool isNumber(const std::string& word) {
    return !word.empty() &&
           std::all_of(word.begin(), word.end(), [](char c) { return c >= '0' && c <= '9'; });
}

bool saysNothing(const std::string& word) {
    static const std::set<std::string> kWords{
        "map",     "maps",  "tex",    "texture",  "textures", "texmap",  "img",  "image",  "file", "bitmap",
        "copy",    "final", "export", "exported", "baked",    "bake",    "srgb", "linear", "raw",  "noncolor",
        "data",    "bit",   "bits",   "bpc",      "dx",       "directx", "gl",   "opengl", "ogl",  "ver",
        "version", "rev",   "lod",    "tile",     "udim",     "x",       "px",   "res"};
    return kWords.contains(word) || isNumber(word);
}

}  // namespace kettle
