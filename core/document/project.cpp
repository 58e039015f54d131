#include "core/document/project.h"

#include <algorithm>
#include <cmath>
#include <limits>

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

const TextureSet* Project::findSet(const std::string& id) const {
    return findById(sets, id);
}
const Line* Project::findLine(const std::string& id) const {
    return findById(lines, id);
}
const Look* Project::findLook(const std::string& id) const {
    return findById(looks, id);
}

const Line* Project::lineOfChannel(const std::string& channel) const {
    for (const Shared<Line>& line : lines)
        if (!channel.empty() && line->channel == channel) return &*line;
    return nullptr;
}

std::optional<Project::Place> Project::findStep(const std::string& id) const {
    for (std::size_t l = 0; l < lines.size(); ++l)
        for (std::size_t s = 0; s < lines[l]->steps.size(); ++s)
            if (lines[l]->steps[s]->id == id) return Place{l, s};
    return std::nullopt;
}

const Map* findMap(const TextureSet& set, const std::string& role) {
    const auto at =
        std::find_if(set.maps.begin(), set.maps.end(), [&](const Map& m) { return m.role == role; });
    return at == set.maps.end() ? nullptr : &*at;
}

Step withLook(const Step& step, const Look* look) {
    Step shown = step;
    if (look == nullptr) return shown;
    const std::string prefix = step.id + ".";
    for (auto it = look->changes.lower_bound(prefix);
         it != look->changes.end() && it->first.starts_with(prefix); ++it) {
        const std::string control = it->first.substr(prefix.size());
        if (control != "bypass")
            shown.controls[control] = it->second;
        else if (const bool* off = std::get_if<bool>(&it->second))
            shown.bypass = *off;
    }
    return shown;
}

const std::vector<ChannelInfo>& channels() {
    static const std::vector<ChannelInfo> list{
        {"base-colour", "Base colour", Kind::Colour, {0.5f, 0.5f, 0.5f}},
        {"metalness", "Metalness", Kind::Scalar, {0.0f, 0.0f, 0.0f}},
        {"roughness", "Roughness", Kind::Scalar, {0.5f, 0.5f, 0.5f}},
        {"specular-level", "Specular level", Kind::Scalar, {0.5f, 0.5f, 0.5f}},
        {"normal", "Normal", Kind::Normal, {0, 0, 1}},
        {"height", "Height", Kind::Scalar, {0.5f, 0.5f, 0.5f}},
        {"occlusion", "Occlusion", Kind::Scalar, {1.0f, 1.0f, 1.0f}},
        {"emission", "Emission", Kind::Colour, {0.0f, 0.0f, 0.0f}},
        {"opacity", "Opacity", Kind::Scalar, {1.0f, 1.0f, 1.0f}},
    };
    return list;
}

const ChannelInfo* findChannel(const std::string& id) {
    for (const ChannelInfo& c : channels())
        if (id == c.id) return &c;
    return nullptr;
}

}  // namespace kettle
