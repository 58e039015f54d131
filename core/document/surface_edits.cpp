#include "core/document/surface_edits.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits.h"
#include "core/document/layers.h"

namespace kettle::edits {
namespace {

tl::unexpected<Error> noSurface(const std::string& id) {
    return fail(ErrorKind::Refused,
                fmt::format("There is no surface {} in the project. Choose another.", id));
}

Surface* surfaceForWriting(Project& p, const std::string& id) {
    for (Shared<Surface>& surface : p.surfaces)
        if (surface->id == id) return &surface.edit();
    return nullptr;
}

/// Takes parts off every surface.
void takeParts(Project& p, const std::vector<std::string>& parts) {
    for (Shared<Surface>& surface : p.surfaces) {
        const auto isTaken = [&](const std::string& part) {
            return std::find(parts.begin(), parts.end(), part) != parts.end();
        };
        if (std::any_of(surface->parts.begin(), surface->parts.end(), isTaken))
            std::erase_if(surface.edit().parts, isTaken);
    }
}

}  // namespace

Result<Project> addSurface(const Project& project, const std::string& name,
                           const std::vector<std::string>& parts, const std::string& first,
                           const std::vector<std::string>& rest, std::string& id) {
    if (name.empty()) return fail(ErrorKind::Refused, "A surface needs a name. Type one.");
    Project p = project;
    if (p.surfaces.empty() && !p.lines.empty()) {
        Surface was;
        was.id = freshIdOf(p, first, "surface");
        was.name = first.empty() ? "Surface" : first;
        was.parts = rest;
        const auto layers = layersOfLines(p);
        for (Shared<Line>& line : p.lines)
            if (!line->channel.empty() || layers.contains(line->id)) line.edit().surface = was.id;
        p.surfaces.emplace_back(std::move(was));
    }
    takeParts(p, parts);
    Surface made;
    id = made.id = freshIdOf(p, name, "surface");
    made.name = name;
    made.parts = parts;
    p.surfaces.emplace_back(std::move(made));
    return p;
}

Result<Project> surfacesOfMaterials(const Project& project, const std::vector<std::string>& parts,
                                    const std::vector<std::string>& materials) {
    std::vector<std::string> names;
    for (const std::string& material : materials)
        if (!material.empty() && std::find(names.begin(), names.end(), material) == names.end())
            names.push_back(material);
    if (names.size() < 2)
        return fail(ErrorKind::Refused,
                    "The model names fewer than two materials, so one surface is enough.");
    if (!project.surfaces.empty())
        return fail(ErrorKind::Refused, "The project has surfaces already. Give them parts in their menus.");
    const auto partsOf = [&](const std::string& name) {
        std::vector<std::string> own;
        for (std::size_t i = 0; i < parts.size() && i < materials.size(); ++i)
            if (materials[i] == name) own.push_back(parts[i]);
        return own;
    };
    Result<Project> next = project;
    std::string id;
    for (std::size_t n = project.lines.empty() ? 0 : 1; n < names.size() && next; ++n)
        next = addSurface(*next, names[n], partsOf(names[n]), names.front(), partsOf(names.front()), id);
    return next;
}

Result<Project> giveParts(const Project& project, const std::string& surface,
                          const std::vector<std::string>& parts) {
    Project p = project;
    takeParts(p, parts);
    for (Shared<Surface>& other : p.surfaces)
        if (other->coversAll) other.edit().coversAll = false;
    if (surface.empty()) return p;
    Surface* taking = surfaceForWriting(p, surface);
    if (taking == nullptr) return noSurface(surface);
    taking->parts.insert(taking->parts.end(), parts.begin(), parts.end());
    return p;
}

Result<Project> coverAll(const Project& project, const std::string& surface, bool all) {
    if (project.findSurface(surface) == nullptr) return noSurface(surface);
    Project p = project;
    for (Shared<Surface>& other : p.surfaces) {
        const bool covers = all && other->id == surface;
        if (other->coversAll != covers) other.edit().coversAll = covers;
    }
    return p;
}

Result<Project> renameSurface(const Project& project, const std::string& surface, const std::string& name) {
    if (name.empty())
        return fail(ErrorKind::Refused, "A surface needs a name. Type one, or keep the old one.");
    Project p = project;
    Surface* renamed = surfaceForWriting(p, surface);
    if (renamed == nullptr) return noSurface(surface);
    renamed->name = name;
    return p;
}

Result<Project> removeSurface(const Project& project, const std::string& surface) {
    const Surface* found = project.findSurface(surface);
    if (found == nullptr) return noSurface(surface);
    if (project.surfaces.size() == 1)
        return fail(ErrorKind::Refused,
                    fmt::format("{} is the only surface. Bring another in first.", found->name));
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            for (const auto& [name, feed] : step->feeds) {
                const Line* read = feed.constant ? nullptr : project.findLine(feed.line);
                if (read == nullptr || read->surface != surface || line->surface == surface) continue;
                return fail(
                    ErrorKind::Refused,
                    fmt::format("{} on {} reads {} of this surface as its {}. Take that feed off first.",
                                step->id, line->name, read->name, name));
            }
    Project p = project;
    for (const auto& line : project.lines) {
        if (line->surface != surface) continue;
        auto without = removeLine(p, line->id);
        // Lines of one surface may read each other: such a one goes with the rest.
        if (without) p = std::move(*without);
    }
    std::erase_if(p.lines, [&](const Shared<Line>& line) { return line->surface == surface; });
    std::erase_if(p.surfaces, [&](const Shared<Surface>& s) { return s->id == surface; });
    return p;
}

}  // namespace kettle::edits
