#include "core/exchange/map_words.h"

#include <algorithm>
#include <map>
#include <set>

namespace kettle {
namespace {

const std::vector<RoleWords>& roleWords() {
    static const std::vector<RoleWords> list{
        {"base-colour",
         "base colour",
         {"basecolor", "basecolour", "basecol", "bascolor", "bc", "albedo", "albd", "alb", "diffuse", "diff",
          "dif", "diffusecolor", "diffusecolour", "color", "colour", "colr", "col", "clr", "base"}},
        {"roughness", "roughness", {"roughness", "rough", "rgh", "rghn", "rogh", "roug", "rou", "rg", "rn"}},
        {"gloss", "gloss", {"gloss", "glossiness", "glossy", "glos", "gls", "smoothness", "smooth", "smth"}},
        {"metalness",
         "metalness",
         {"metalness", "metallic", "metallicity", "metalic", "metal", "metl", "mtl", "mtlc", "met", "mt"}},
        {"normal",
         "normals",
         {"normal", "normalmap", "nrm", "nor", "norm", "nrml", "nml", "nm", "nmap", "nmp", "nrmap",
          "tangentnormal"}},
        {"height",
         "height",
         {"height", "heightmap", "displacement", "displace", "displ", "disp", "dsp", "hgt", "hght", "hm",
          "bump", "parallax", "elevation"}},
        {"occlusion",
         "occlusion",
         {"occlusion", "ambientocclusion", "ambient", "occl", "occ", "ao", "aomap"}},
        {"emission",
         "emission",
         {"emission", "emissive", "emit", "emis", "emiss", "ems", "em", "glow", "selfillumination",
          "illumination"}},
        {"opacity",
         "opacity",
         {"opacity", "opac", "opc", "alpha", "transparency", "transparent", "transp", "cutout", "op"}},
        {"coat-roughness",
         "coat roughness",
         {"coatroughness", "clearcoatroughness", "coatrough", "clearcoatrough", "coatrgh", "ccroughness"}},
        {"coat", "coat", {"coat", "clearcoat", "clrcoat", "clearct", "lacquer", "varnish"}},
        {"sheen-roughness", "sheen roughness", {"sheenroughness", "sheenrough", "fuzzroughness"}},
        {"sheen-colour", "sheen colour", {"sheencolour", "sheencolor", "sheen", "sheencol", "fuzz"}},
        {"specular-level", "specular level", {"specularlevel", "speclevel", "speclvl"}},
        {"specular",
         "specular",
         {"specular", "specularcolor", "specularcolour", "speccolor", "spec", "spc", "sp"}},
    };
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
    static const std::map<char, const char*> kRoles{
        {'d', "base-colour"}, {'c', "base-colour"}, {'b', "base-colour"}, {'a', "occlusion"},
        {'n', "normal"},      {'r', "roughness"},   {'m', "metalness"},   {'h', "height"},
        {'g', "gloss"},       {'s', "specular"},    {'e', "emission"},    {'o', "occlusion"}};
    const auto at = kRoles.find(letter);
    return at == kRoles.end() ? nullptr : withRole(at->second);
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
