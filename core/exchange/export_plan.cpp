// Which files an export will write: their lines, sizes, tiles, objects and names, without a pixel decoded.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "core/document/channels.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/export.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::string replaced(std::string text, const std::string& what, const std::string& with) {
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size()))
        text.replace(at, what.size(), with);
    return text;
}

/// File names hold letters, digits and - _ . only, so that they survive every disk and archive.
std::string fileSafe(std::string text) {
    for (char& c : text)
        if (std::isalnum(static_cast<unsigned char>(c)) == 0 && c != '-' && c != '_' && c != '.') c = '-';
    return text;
}

struct LineSize {
    int width = 1024, height = 1024;
    std::vector<int> tiles{1001};
};

/// Size and tiles from the headers of the maps that the line's program reads. A map that cannot be read is an
/// error here: an export with a hole in it would be taken for good.
Result<LineSize> sizeOfLine(const Project& project, const Resources& resources, const std::string& look,
                            const Line& line) {
    const Compiled compiled =
        compile(project, project.findLook(look), {{line.id, "", 4, false}}, resources.rules());
    LineSize size;
    bool first = true;
    std::set<int> tiles;
    for (const SourceKey& key : compiled.program.sources) {
        const MapSource* read = key.map();
        if (read == nullptr) continue;
        const TextureSet* set = project.findSet(read->set);
        const Map* map = set != nullptr ? findMap(*set, read->role) : nullptr;
        if (map == nullptr)
            return fail(
                ErrorKind::Missing,
                fmt::format("The project has no map {} in the set {}. Bring the set in again, or choose "
                            "another map.",
                            read->role, read->set));
        const auto info = resources.infoOf(*set, *map);
        if (!info) return fail(info.error());
        if (first || info->width > size.width) size.width = info->width, size.height = info->height;
        first = false;
        if (isTilePattern(map->file))
            for (const int tile : tilesOnDisk(resources.fileOf(*set, *map))) tiles.insert(tile);
    }
    if (!tiles.empty()) size.tiles.assign(tiles.begin(), tiles.end());
    return size;
}

/// The lines of one name: a channel, of every surface that is asked for, or any line by its id.
std::vector<const Line*> linesCalled(const Project& project, const std::string& name,
                                     const std::vector<std::string>& surfaces) {
    std::vector<const Line*> lines;
    for (const std::string& surface : surfaces)
        if (const Line* line = project.lineOfChannel(name, surface)) lines.push_back(line);
    if (lines.empty())
        if (const Line* line = project.findLine(name)) lines.push_back(line);
    return lines;
}

Result<std::vector<const Line*>> linesToExport(const Project& project, const ExportOptions& options) {
    std::vector<std::string> surfaces = options.surfaces;
    if (surfaces.empty()) surfaces = surfaceIds(project);
    for (const std::string& surface : options.surfaces)
        if (project.findSurface(surface) == nullptr)
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no surface {}. Choose another.", surface));
    std::vector<const Line*> lines;
    if (options.channels.empty()) {
        for (const auto& line : project.lines)
            if (!line->channel.empty() &&
                std::find(surfaces.begin(), surfaces.end(), line->surface) != surfaces.end())
                lines.push_back(&*line);
        if (lines.empty())
            return fail(ErrorKind::Refused,
                        "The project drives no channel, so there is nothing to export. Add a line first.");
        return lines;
    }
    for (const std::string& name : options.channels) {
        const auto called = linesCalled(project, name, surfaces);
        if (called.empty()) {
            std::string known;
            for (const auto& l : project.lines)
                known += (known.empty() ? "" : ", ") + (l->channel.empty() ? l->id : l->channel);
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no channel {}. It has {}.", name, known));
        }
        lines.insert(lines.end(), called.begin(), called.end());
    }
    return lines;
}

/// The set that a surface's line begins with; else the project's first.
std::string setOfLine(const Project& project, const Line& line) {
    const bool isOfSet = !line.steps.empty() && !line.steps.front()->set.empty();
    if (!project.surfaces.empty() && isOfSet) return line.steps.front()->set;
    return project.sets.empty() ? "project" : project.sets.front()->id;
}

/// The objects that a line is written for, one by one: those of its surface, if it differs between them.
std::vector<std::string> objectsOf(const Project& project, const Resources& resources,
                                   const std::string& look, const Line& line, bool each) {
    if (!each) return {""};
    const Program program =
        compile(project, project.findLook(look), {wantOfLine(line)}, resources.rules()).program;
    const auto facts = readsCopies(program) ? resources.facts(project) : nullptr;
    if (facts == nullptr) return {""};
    const std::vector<std::string> surfaces = surfaceIds(project);
    std::vector<std::string> names;
    for (const ModelThing& thing : facts->things()) {
        const std::vector<int> of = surfacesOfParts(project, thing.parts);
        if (std::any_of(of.begin(), of.end(), [&](int s) {
                return s >= 0 && surfaces[static_cast<std::size_t>(s)] == line.surface;
            }))
            names.push_back(thing.name);
    }
    if (names.empty()) names.emplace_back();
    return names;
}

/// `what`: the channel, the line, or the packed file.
std::string nameOfFile(const Project& project, std::string pattern, const Line& line, const std::string& what,
                       const std::string& look, const std::string& object) {
    if (object.empty())
        pattern = replaced(replaced(pattern, "_{object}", ""), "{object}", "");
    else if (pattern.find("{object}") == std::string::npos)
        pattern += "_{object}";
    pattern = replaced(pattern, "{object}", object);
    std::string name = replaced(pattern, "{set}", setOfLine(project, line));
    name = replaced(name, "{surface}", line.surface.empty() ? "surface" : line.surface);
    name = replaced(name, "{look}", look.empty() ? "as-received" : look);
    return fileSafe(replaced(name, "{channel}", what));
}

/// One surface's lines in one look, tile by tile, without names yet.
Result<std::vector<ExportItem>> itemsOfLook(const Project& project, const Resources& resources,
                                            const ExportOptions& options, const std::string& lookId,
                                            const std::vector<const Line*>& lines) {
    std::vector<ExportItem> items;
    for (const Line* line : lines) {
        auto size = sizeOfLine(project, resources, lookId, *line);
        if (!size) return fail(size.error());
        if (options.size > 0) {
            const double scale = static_cast<double>(options.size) / std::max(size->width, size->height);
            size->width = std::max(1, static_cast<int>(std::lround(size->width * scale)));
            size->height = std::max(1, static_cast<int>(std::lround(size->height * scale)));
        }
        for (const std::string& object : objectsOf(project, resources, lookId, *line, options.eachObject))
            for (const int tile : size->tiles)
                items.push_back({lookId,
                                 line->id,
                                 tile,
                                 size->width,
                                 size->height,
                                 {},
                                 object,
                                 {},
                                 size->tiles.size() > 1 || tile != 1001});
    }
    return items;
}

/// Lines of channels that go into one file become its components.
std::vector<ExportItem> packed(const Project& project, const std::vector<ExportItem>& items,
                               const PackedFile& file, std::vector<char>& isTaken) {
    std::vector<ExportItem> packed;
    const auto holds = [&](const ExportItem& item) {
        const std::string& channel = project.findLine(item.line)->channel;
        return !channel.empty() && std::any_of(file.components.begin(), file.components.end(),
                                               [&](const PackedComponent& c) { return c.line == channel; });
    };
    for (std::size_t i = 0; i < items.size(); ++i) {
        const ExportItem& item = items[i];
        const Line& line = *project.findLine(item.line);
        if (!holds(item)) continue;
        isTaken[i] = true;
        const auto same = std::find_if(packed.begin(), packed.end(), [&](const ExportItem& other) {
            return other.object == item.object && other.tile == item.tile &&
                   project.findLine(other.line)->surface == line.surface;
        });
        if (same != packed.end()) {
            same->width = std::max(same->width, item.width),
            same->height = std::max(same->height, item.height);
            continue;
        }
        ExportItem one = item;
        one.file = file.name;  // until it has its own
        for (PackedComponent component : file.components) {
            const Line* read = project.lineOfChannel(component.line, line.surface);
            component.line = read != nullptr ? read->id : std::string();
            one.components.push_back(std::move(component));
        }
        // An alpha that nothing drives need not be written.
        if (one.components.size() == 4 && one.components.back().line.empty() &&
            !file.components.back().line.empty())
            one.components.pop_back();
        packed.push_back(std::move(one));
    }
    return packed;
}

/// A channel may go into several files; those in none keep a file of their own.
std::vector<ExportItem> arranged(const Project& project, const std::vector<ExportItem>& items,
                                 const std::vector<PackedFile>& files) {
    std::vector<char> isTaken(items.size(), false);
    std::vector<ExportItem> all, joined;
    for (const PackedFile& file : files) {
        auto made = packed(project, items, file, isTaken);
        joined.insert(joined.end(), made.begin(), made.end());
    }
    for (std::size_t i = 0; i < items.size(); ++i)
        if (isTaken[i] == 0) all.push_back(items[i]);
    all.insert(all.end(), joined.begin(), joined.end());
    return all;
}

}  // namespace

std::string defaultPattern(const Project& project) {
    return project.surfaces.size() > 1 ? "{surface}_{look}_{channel}" : "{set}_{look}_{channel}";
}

std::vector<PackedFile> packedFiles() {
    const auto file = [](const char* name, BakedTexture texture) {
        PackedFile packed{name, {}};
        for (const PackedPart& part : partsOf(texture))
            packed.components.push_back({part.channel, part.component, part.stored});
        return packed;
    };
    return {file(channel::kBaseColour, BakedTexture::Base), file("surface", BakedTexture::Surface)};
}

Result<std::vector<ExportItem>> planExport(const Project& project, const Resources& resources,
                                           const ExportOptions& options) {
    auto lines = linesToExport(project, options);
    if (!lines) return fail(lines.error());
    if (!options.packed.empty() && isFloat(options.format))
        return fail(ErrorKind::Refused,
                    "Packed files hold numbers of 8 or 16 bits. Choose PNG, TIFF or JPEG for them.");
    const auto& spaces = exportSpaces();
    if (!options.space.empty() && std::find(spaces.begin(), spaces.end(), options.space) == spaces.end())
        return fail(ErrorKind::Refused, fmt::format("Files cannot be written in {}. Choose {}.",
                                                    options.space, fmt::join(spaces, ", ")));
    const std::string pattern = options.pattern.empty() ? defaultPattern(project) : options.pattern;
    if (pattern.find('/') != std::string::npos)
        return fail(
            ErrorKind::Refused,
            fmt::format(
                "\"{}\" holds a \"/\", which no name of a file can have. Choose a folder for the files, and "
                "a name without it.",
                pattern));
    std::vector<ExportItem> all;
    std::set<fs::path> names;
    const SourceFiles sources(project, resources);
    for (const std::string& look : options.looks) {
        if (!look.empty() && project.findLook(look) == nullptr)
            return fail(ErrorKind::Refused, fmt::format("The project has no look {}. Choose another.", look));
        auto items = itemsOfLook(project, resources, options, look, *lines);
        if (!items) return items;
        *items = arranged(project, *items, options.packed);
        all.insert(all.end(), items->begin(), items->end());
    }
    for (ExportItem& item : all) {
        item.dither = options.dither;
        item.space = options.space;
        const Line& line = *project.findLine(item.line);
        const std::string what = !item.components.empty() ? item.file.string()
                                 : line.channel.empty()   ? line.id
                                                          : line.channel;
        const std::string name = nameOfFile(project, pattern, line, what, item.look, item.object);
        item.file = options.folder / (name + (item.isTiled ? fmt::format(".{}", item.tile) : "") +
                                      extensionOf(options.format));
        if (auto free = sources.mayWrite(item.file); !free) return fail(free.error());
        std::error_code code;
        if (!names.insert(fs::weakly_canonical(item.file, code)).second)
            return fail(
                ErrorKind::Refused,
                fmt::format("Two results would be written to {}. Put {} into the name.", item.file.string(),
                            project.surfaces.size() > 1 ? "{surface}, {look} and {channel}"
                                                        : "{look} and {channel}"));
    }
    return all;
}

}  // namespace kettle
