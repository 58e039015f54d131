#include "core/document/project.h"
#include "core/document/handles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <string_view>
#include <unordered_map>

namespace kettle {
namespace {

template <class T>
const T* findById(const std::vector<Shared<T>>& list, const std::string& id) {
    for (const Shared<T>& item : list)
        if (item->id == id) return &*item;
    return nullptr;
}

}  // namespace

const char* nameOf(Kind kind) {
    switch (kind) {
        case Kind::Colour:
            return "colour";
        case Kind::Scalar:
            return "scalar";
        case Kind::Normal:
            return "normal";
    }
    return "colour";
}

bool isStorable(const ControlValue& value) {
    constexpr double kMost = static_cast<double>(std::numeric_limits<float>::max());
    const auto fine = [](double v) { return std::isfinite(v) && std::fabs(v) <= kMost; };
    if (const double* number = std::get_if<double>(&value)) return fine(*number);
    if (const Colour* c = std::get_if<Colour>(&value))
        return std::isfinite(c->r) && std::isfinite(c->g) && std::isfinite(c->b);
    if (const Ramp* ramp = std::get_if<Ramp>(&value))
        return std::all_of(ramp->stops.begin(), ramp->stops.end(), [](const RampStop& s) {
            return std::isfinite(s.position) && std::isfinite(s.colour.x) && std::isfinite(s.colour.y) &&
                   std::isfinite(s.colour.z);
        });
    return true;
}

bool isFile(const std::string& modelOrEnvironment) {
    return modelOrEnvironment.find_first_of("./") != std::string::npos;
}

const TextureSet* Project::findSet(const std::string& id) const {
    return findById(sets, id);
}
const Line* Project::findLine(const std::string& id) const {
    return findById(lines, id);
}
const Look* Project::findLook(const std::string& id) const {
    return findById(looks, id);
}

const Recipe* Project::findRecipe(const std::string& id) const {
    return findById(recipes, id);
}

std::string recipeOf(const std::string& type) {
    const std::string_view prefix = kRecipe;
    return type.starts_with(prefix) ? type.substr(prefix.size()) : std::string();
}

const Surface* Project::findSurface(const std::string& id) const {
    return findById(surfaces, id);
}

const Line* Project::lineOfChannel(const std::string& channel) const {
    for (const Shared<Line>& line : lines)
        if (!channel.empty() && line->channel == channel) return &*line;
    return nullptr;
}

const Line* Project::lineOfChannel(const std::string& channel, const std::string& surface) const {
    for (const Shared<Line>& line : lines)
        if (!channel.empty() && line->channel == channel && line->surface == surface) return &*line;
    return nullptr;
}

std::optional<Project::Place> Project::findStep(const std::string& id) const {
    // An edit asks dozens of times for the same step or two, in one edition after the other: where they stood
    // is looked at first.
    thread_local std::array<Place, 4> known{};
    thread_local std::size_t oldest = 0;
    for (const Place& p : known)
        if (p.line < lines.size() && p.step < lines[p.line]->steps.size() && stepAt(p).id == id) return p;
    for (std::size_t l = 0; l < lines.size(); ++l)
        for (std::size_t s = 0; s < lines[l]->steps.size(); ++s)
            if (lines[l]->steps[s]->id == id) return known[oldest++ % known.size()] = Place{l, s};
    return std::nullopt;
}

const Map* findMap(const TextureSet& set, const std::string& role) {
    const auto at =
        std::find_if(set.maps.begin(), set.maps.end(), [&](const Map& m) { return m.role == role; });
    return at == set.maps.end() ? nullptr : &*at;
}

Step withLook(const Project& project, const Step& step, const Look* look) {
    Step shown = step;
    if (look == nullptr) return shown;
    const std::string prefix = step.id + ".";
    for (const Changes* changes : {&project.allLooks, &look->changes})
        for (auto it = changes->lower_bound(prefix); it != changes->end() && it->first.starts_with(prefix);
             ++it) {
            const std::string control = it->first.substr(prefix.size());
            if (control != kBypass.id)
                shown.controls[control] = it->second;
            else if (const bool* off = std::get_if<bool>(&it->second))
                shown.bypass = *off;
        }
    return shown;
}

const ControlValue* changeIn(const Project& project, const Look* look, const std::string& key) {
    if (look == nullptr) return nullptr;
    for (const Changes* changes : {&look->changes, &project.allLooks})
        if (const auto at = changes->find(key); at != changes->end()) return &at->second;
    return nullptr;
}

std::vector<std::string> surfaceIds(const Project& project) {
    if (project.surfaces.empty()) return {""};
    std::vector<std::string> ids;
    for (const auto& surface : project.surfaces) ids.push_back(surface->id);
    return ids;
}

std::string surfaceName(const Project& project, const std::string& surface) {
    const Surface* found = project.findSurface(surface);
    return found != nullptr ? found->name : std::string();
}

std::vector<int> surfacesOfParts(const Project& project, const std::vector<std::string>& parts) {
    if (project.surfaces.empty()) return std::vector<int>(parts.size(), 0);
    std::unordered_map<std::string_view, int> ofPart;
    for (std::size_t s = 0; s < project.surfaces.size(); ++s) {
        const Surface& surface = *project.surfaces[s];
        if (surface.coversAll) return std::vector<int>(parts.size(), static_cast<int>(s));
        for (const std::string& part : surface.parts) ofPart.try_emplace(part, static_cast<int>(s));
    }
    std::vector<int> found;
    for (const std::string& part : parts) {
        const auto at = ofPart.find(part);
        found.push_back(at == ofPart.end() ? -1 : at->second);
    }
    return found;
}

}  // namespace kettle
