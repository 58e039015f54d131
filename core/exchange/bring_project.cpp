#include "core/exchange/bring_project.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <set>

#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/path_text.h"
#include "core/document/surface_edits.h"
#include "core/exchange/map_words.h"
#include "core/steps/invert.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

using MapControls = std::vector<std::pair<std::string, std::string>>;

/// Builds the lines of a set; ids follow the channels, so that projects read well.
class LineMaker {
public:
    LineMaker(Project& project, const TextureSet& set, std::string surface)
        : m_project(project), m_set(set), m_surface(std::move(surface)) {
        for (const auto& line : project.lines) m_steps += static_cast<int>(line->steps.size());
    }

    void channel(const std::string& id, const std::string& role, const MapControls& controls, bool isGloss) {
        const ChannelSpec* info = findChannel(id);
        if (info == nullptr || m_project.lineOfChannel(id, m_surface) != nullptr) return;
        Line line;
        line.id = m_project.findLine(id) == nullptr ? id : edits::freshId(m_project, m_surface + "-" + id);
        line.name = info->name;
        line.kind = info->kind;
        line.channel = id;
        line.surface = m_surface;
        line.steps.emplace_back(mapStep(role, controls));
        if (isGloss) {
            Step step;
            step.id = freshStep();
            step.type = invert::kType;
            step.controls = {invert::kFrom(invert::Reason::Gloss)};
            line.steps.emplace_back(std::move(step));
        }
        m_project.lines.emplace_back(std::move(line));
    }
    void shared(const std::string& role, Kind kind, const MapControls& controls) {
        Line line;
        line.id = edits::freshId(m_project, role);
        line.name = titleOfName(role);
        line.kind = kind;
        line.steps.emplace_back(mapStep(role, controls));
        m_project.lines.emplace_back(std::move(line));
    }

private:
    std::string freshStep() {
        std::string id;
        do {
            id = "s" + std::to_string(++m_steps);
        } while (m_project.findStep(id));
        return id;
    }
    Step mapStep(const std::string& role, const MapControls& controls) {
        Step step;
        step.id = freshStep();
        step.type = "map";
        step.set = m_set.id;
        step.role = role;
        for (const auto& [name, value] : controls) step.controls[name] = value;
        return step;
    }
    Project& m_project;
    const TextureSet& m_set;
    std::string m_surface;
    int m_steps = 0;
};

constexpr std::array kComponentNames{"red", "green", "blue", "alpha"};

/// Where a channel is packed into another map: that map and the component.
struct Packed {
    const PlannedMap* map = nullptr;
    std::size_t component = 0;
};
Packed packedIn(const std::map<std::string, PlannedMap>& maps, const std::string& role) {
    for (const auto& [own, f] : maps)
        for (std::size_t c = 0; c < 4; ++c)
            if (f.name.components[c] == role) return {&f, c};
    return {};
}

/// The line of a channel, from its own map, from its opposite, or from a packed one.
void makeChannel(LineMaker& lines, const std::map<std::string, PlannedMap>& maps, const std::string& channel,
                 std::vector<std::string>& notes) {
    if (const auto own = maps.find(channel); own != maps.end() && !own->second.name.isPacked()) {
        const bool isDown = channel == channel::kNormal && own->second.name.greenDown;
        return lines.channel(channel, channel, isDown ? MapControls{{"green", "down"}} : MapControls{},
                             false);
    }
    if (channel == channel::kSpecularLevel)
        if (const auto grey = maps.find("specular"); grey != maps.end() && grey->second.contents.isGrey) {
            notes.push_back(fmt::format("{} was taken as the specular level of what is no metal.",
                                        grey->second.name.pattern));
            return lines.channel(channel, "specular", {}, false);
        }
    for (const bool isGloss : {false, true}) {
        if (isGloss && channel != channel::kRoughness) continue;
        const std::string role = isGloss ? "gloss" : channel;
        const auto alone = maps.find(role);
        const Packed packed = packedIn(maps, role);
        if (isGloss && (alone != maps.end() || packed.map != nullptr))
            notes.push_back(
                "The gloss map was inverted to make roughness of it: see the Invert step on the line "
                "Roughness.");
        if (isGloss && alone != maps.end()) return lines.channel(channel, "gloss", {}, true);
        if (packed.map != nullptr)
            return lines.channel(channel, packed.map->name.role,
                                 {{"component", kComponentNames[packed.component]}}, isGloss);
    }
}

void makeLines(Project& project, const TextureSet& set, const std::map<std::string, PlannedMap>& maps,
               const std::string& surface, std::vector<std::string>& notes) {
    LineMaker lines(project, set, surface);
    for (const ChannelSpec& c : channels()) makeChannel(lines, maps, c.id, notes);
    for (const auto& [role, f] : maps) {
        if (role == kSpecularRole && !f.contents.isGrey) {
            lines.shared(role, Kind::Colour, {});
            notes.push_back(
                fmt::format("{} is a coloured specular map, which no channel here takes; it waits as a "
                            "shared line. Metals of such a set need a metalness of their own.",
                            f.name.pattern));
        }
        if (f.name.isKnown) continue;
        const bool alpha = f.contents.alphaSays;
        lines.shared(role, Kind::Scalar, alpha ? MapControls{{"component", "alpha"}} : MapControls{});
        if (alpha)
            notes.push_back(
                fmt::format("{} is read from its alpha, where its soft edges are.", f.name.pattern));
    }
}

/// The maps that are taken, by role; a second one of a role gets a number behind it.
std::map<std::string, PlannedMap> takenOf(const PlannedSet& set) {
    std::map<std::string, PlannedMap> maps;
    for (const PlannedMap& map : set.maps) {
        if (!map.isTaken) continue;
        PlannedMap taken = map;
        for (int n = 2; maps.contains(taken.name.role); ++n) {
            taken.name.role = fmt::format("{}-{}", map.name.role, n);
            taken.name.isKnown = false;
            taken.name.components = {};
        }
        maps.emplace(taken.name.role, std::move(taken));
    }
    return maps;
}

/// A name as an id: small letters, and nothing that is not UTF-8.
std::string idOf(const std::string& name) {
    std::string id = name;
    const bool isText = isUtf8(name);
    for (char& c : id) {
        const auto byte = static_cast<unsigned char>(c);
        c = !isText && byte >= 0x80 ? '-' : static_cast<char>(std::tolower(byte));
    }
    return id;
}

std::string fileFrom(const fs::path& folder, const PlannedMap& map) {
    const fs::path file = map.folder / map.name.pattern;
    const fs::path relative = file.lexically_relative(folder);
    return relative.empty() ? file.string() : relative.string();
}

TextureSet setOf(const std::map<std::string, PlannedMap>& maps, const PlannedSet& planned) {
    TextureSet set;
    set.id = idOf(planned.name);
    set.name = titleOfName(planned.name);
    set.folder = planned.folder.string();
    for (const auto& [role, map] : maps) {
        Map made;
        made.role = role;
        made.file = fileFrom(planned.folder, map);
        made.encoding = map.encoding;
        made.channels = map.channels;
        set.maps.push_back(std::move(made));
    }
    return set;
}

/// The plan's surfaces that are needed: one for all leaves out those that no set is for.
std::vector<std::string> neededSurfaces(const Project& project, const BringPlan& plan) {
    if (!plan.isOneForAll || !project.surfaces.empty()) return plan.surfaces;
    std::vector<std::string> needed;
    for (const std::string& name : plan.surfaces)
        if (needed.empty() || std::any_of(plan.sets.begin(), plan.sets.end(), [&](const PlannedSet& set) {
                return set.drives && set.surface == name;
            }))
            needed.push_back(name);
    return needed;
}

/// The surfaces of the plan with the parts of their material; their ids by name. Without several it is the
/// one of a project without surfaces.
std::map<std::string, std::string> makeSurfaces(Project& project, const BringPlan& plan) {
    std::map<std::string, std::string> ids;
    const std::vector<std::string> needed = neededSurfaces(project, plan);
    if (needed.size() < 2) return ids;
    for (const std::string& name : needed) {
        const auto there = std::find_if(project.surfaces.begin(), project.surfaces.end(),
                                        [&](const Shared<Surface>& s) { return s->name == name; });
        if (there != project.surfaces.end()) {
            ids[name] = (*there)->id;
            continue;
        }
        std::vector<std::string> parts;
        if (plan.model)
            for (std::size_t i = 0; i < plan.model->parts.size(); ++i)
                if (plan.model->partMaterials[i] == name) parts.push_back(plan.model->parts[i]);
        std::string id;
        // What the project had before goes on being shown on what no new surface covers.
        if (auto next = edits::addSurface(project, name, parts, "", {}, id)) project = std::move(*next);
        ids[name] = id;
    }
    if (plan.isOneForAll || !plan.model)
        if (auto next = edits::coverAll(project, ids[needed.front()], true)) project = std::move(*next);
    return ids;
}

/// The id of the surface that a set goes to, by the name that the plan gives it.
std::string surfaceOf(const Project& project, const std::map<std::string, std::string>& made,
                      const std::string& name) {
    if (const auto at = made.find(name); at != made.end()) return at->second;
    for (const auto& surface : project.surfaces)
        if (surface->name == name) return surface->id;
    return project.surfaces.empty() ? std::string() : project.surfaces.front()->id;
}

/// A model without maps is plain and matt grey, to be coloured from there.
void makePlainLines(Project& project) {
    for (const std::string& surface : surfaceIds(project)) {
        const auto add = [&](const char* channel, const char* type) {
            Line line;
            line.id = edits::freshId(project, surface.empty() ? channel : surface + "-" + channel);
            line.name = findChannel(channel)->name;
            line.kind = findChannel(channel)->kind;
            line.channel = channel;
            line.surface = surface;
            Step source;
            source.id = edits::freshId(project, "s");
            source.type = type;
            line.steps.emplace_back(std::move(source));
            project.lines.emplace_back(std::move(line));
        };
        add("base-colour", "colour");
        add("roughness", "value");
    }
}

}  // namespace

Result<Project> bringInto(const Project& before, const BringPlan& plan, std::vector<std::string>& notes) {
    Project project = before;
    bool isTaken = plan.model.has_value();
    for (const PlannedSet& set : plan.sets)
        for (const PlannedMap& map : set.maps) isTaken = isTaken || map.isTaken;
    if (!isTaken)
        return fail(ErrorKind::Refused, "Nothing is chosen to be brought in. Choose a map or a model.");
    if (plan.model) {
        project.view.model = plan.model->file.string();
        project.view.unit = plan.model->unit;
    }
    const auto surfaces = makeSurfaces(project, plan);
    int driving = 0;
    for (const PlannedSet& planned : plan.sets) {
        const auto maps = takenOf(planned);
        if (maps.empty()) continue;
        TextureSet set = setOf(maps, planned);
        while (project.findSet(set.id) != nullptr) set.id += "-2";
        if (planned.drives) {
            const std::string surface = surfaceOf(project, surfaces, planned.surface);
            const std::size_t lines = project.lines.size();
            makeLines(project, set, maps, surface, notes);
            if (project.lines.size() == lines)
                notes.push_back(
                    fmt::format("The channels of {} have lines already: its maps wait in the project "
                                "and can be joined to any step.",
                                set.name));
            ++driving;
        }
        project.sets.emplace_back(std::move(set));
    }
    if (project.lines.empty()) makePlainLines(project);
    if (plan.sets.size() > 1 && driving == 1)
        notes.insert(
            notes.begin(),
            fmt::format("There are {} sets in the folder; the channels are driven by {}. The maps of "
                        "the others can be joined to any step.",
                        plan.sets.size(), project.sets.front()->name));
    return project;
}

Result<Project> replaceSet(const Project& before, const std::string& id, const BringPlan& plan,
                           std::vector<std::string>& notes) {
    Project project = before;
    const auto at = std::find_if(project.sets.begin(), project.sets.end(),
                                 [&](const Shared<TextureSet>& set) { return set->id == id; });
    if (at == project.sets.end())
        return fail(ErrorKind::Refused,
                    fmt::format("There is no set {} in the project. Choose another.", id));
    if (plan.sets.empty())
        return fail(ErrorKind::Refused, "There is no set of maps to take. Choose another folder.");
    auto fresh = takenOf(plan.sets.front());
    TextureSet& set = at->edit();
    const fs::path was = set.folder, folder = plan.sets.front().folder;
    for (Map& map : set.maps) {
        const auto found = fresh.find(map.role);
        if (found == fresh.end()) {
            map.file = (was / map.file).lexically_normal().lexically_relative(folder).string();
            notes.push_back(fmt::format("The new set has no {}: {} stays.", map.role,
                                        fs::path(map.file).filename().string()));
            continue;
        }
        map.file = fileFrom(folder, found->second);
        map.encoding = found->second.encoding;
        map.channels = found->second.channels;
        fresh.erase(found);
    }
    for (const auto& [role, map] : fresh) {
        Map made;
        made.role = role;
        made.file = fileFrom(folder, map);
        made.channels = map.channels;
        set.maps.push_back(std::move(made));
        notes.push_back(fmt::format("{} is new as {}: it waits in the set and can be joined to any step.",
                                    map.name.pattern, role));
    }
    set.folder = folder.string();
    return project;
}

}  // namespace kettle
