#include "core/document/json.h"

#include <algorithm>
#include <cstdint>

#include "core/base/files.h"
#include "core/document/json_reader.h"

namespace kettle {
namespace {

using namespace json;
using json::write;

Surface readSurface(const Json& j, const std::string& path) {
    Reader r(j, path);
    Surface surface;
    surface.id = r.needText("id");
    surface.name = r.text("name", surface.id);
    surface.coversAll = r.flag("coversAll");
    r.each("parts", [&](const Json& part, const std::string& p) {
        if (!part.is_string()) wrong(p, fmt::format("should be a text but is {}", typeName(part)));
        surface.parts.push_back(part.get<std::string>());
    });
    surface.extra = r.extra();
    return surface;
}

Json write(const Surface& surface) {
    Json j{{"id", surface.id}, {"name", surface.name}};
    if (surface.coversAll) j["coversAll"] = true;
    j["parts"] = surface.parts;
    putExtra(j, surface.extra);
    return j;
}

TextureSet readSet(const Json& j, const std::string& path) {
    Reader r(j, path);
    TextureSet set;
    set.id = r.needText("id");
    set.name = r.text("name", set.id);
    set.folder = r.path("folder");
    r.each("maps", [&](const Json& m, const std::string& p) {
        Reader map(m, p);
        Map made;
        made.role = map.needText("role");
        map.needText("file");
        made.file = map.path("file");
        made.encoding = map.text("encoding", "auto");
        made.channels = map.text("channels", "");
        made.extra = map.extra();
        set.maps.push_back(std::move(made));
    });
    set.extra = r.extra();
    return set;
}

Json write(const TextureSet& set) {
    Json j{{"id", set.id}, {"name", set.name}, {"folder", textOfPath(set.folder)}, {"maps", Json::array()}};
    for (const Map& map : set.maps) {
        Json m{{"role", map.role}, {"file", textOfPath(map.file)}, {"encoding", map.encoding}};
        if (!map.channels.empty()) m["channels"] = map.channels;
        putExtra(m, map.extra);
        j["maps"].push_back(std::move(m));
    }
    putExtra(j, set.extra);
    return j;
}

/// Changes whose values have a shape that this version does not know go into `unreadable`.
Changes readChanges(Reader& r, const std::string& field, std::map<std::string, std::string>& unreadable) {
    Changes changes;
    r.fields(field, [&](const std::string& n, const Json& v, const std::string& p) {
        if (isKnownShape(v))
            changes[n] = readControl(v, p);
        else
            unreadable[n] = textOf(v);
    });
    return changes;
}

Json write(const Changes& changes, const std::map<std::string, std::string>& unreadable) {
    Json j = Json::object();
    for (const auto& [name, value] : changes) j[name] = write(value);
    for (const auto& [name, value] : unreadable)
        if (!changes.contains(name)) j[name] = Json::parse(value);
    return j;
}

Look readLook(const Json& j, const std::string& path) {
    Reader r(j, path);
    Look look;
    look.id = r.needText("id");
    look.name = r.text("name", look.id);
    look.changes = readChanges(r, "changes", look.unreadable);
    look.note = r.text("note");
    look.extra = r.extra();
    return look;
}

Json write(const Look& look) {
    Json j{{"id", look.id}, {"name", look.name}, {"changes", write(look.changes, look.unreadable)}};
    if (!look.note.empty()) j["note"] = look.note;
    putExtra(j, look.extra);
    return j;
}

KeptView readKeptView(const Json& j, const std::string& path) {
    Reader r(j, path);
    KeptView v;
    v.name = r.needText("name");
    v.turn = r.computable("turn", v.turn);
    v.tilt = r.computable("tilt", v.tilt);
    v.distance = r.computable("distance", v.distance);
    v.target = {static_cast<float>(r.computable("x", 0)), static_cast<float>(r.computable("y", 0)),
                static_cast<float>(r.computable("z", 0))};
    v.extra = r.extra();
    return v;
}

Json write(const KeptView& v) {
    Json j{{"name", v.name},
           {"turn", v.turn},
           {"tilt", v.tilt},
           {"distance", v.distance},
           {"x", shortest(v.target.x)},
           {"y", shortest(v.target.y)},
           {"z", shortest(v.target.z)}};
    putExtra(j, v.extra);
    return j;
}

ViewSettings readView(const Json& j, const std::string& path) {
    Reader r(j, path);
    ViewSettings v;
    v.model = pathOfText(r.text("model", v.model));
    v.environment = pathOfText(r.text("environment", v.environment));
    v.unit = r.text("unit", v.unit);
    v.exposure = r.computable("exposure", v.exposure);
    v.environmentTurn = r.computable("environmentTurn", v.environmentTurn);
    v.surround = r.text("surround", v.surround);
    v.transform = r.text("transform", v.transform);
    v.keyStrength = r.computable("keyStrength", v.keyStrength);
    v.keySoftness = r.computable("keySoftness", v.keySoftness);
    v.groundShadow = r.flag("groundShadow", v.groundShadow);
    v.fieldOfView = r.computable("fieldOfView", v.fieldOfView);
    v.displacement = r.computable("displacement", v.displacement);
    v.displacementMiddle = r.computable("displacementMiddle", v.displacementMiddle);
    v.object = r.text("object");
    r.each("views", [&](const Json& k, const std::string& at) { v.views.push_back(readKeptView(k, at)); });
    v.extra = r.extra();
    return v;
}

Json write(const ViewSettings& v) {
    Json j{{"model", textOfPath(v.model)}, {"environment", textOfPath(v.environment)},
           {"exposure", v.exposure},       {"environmentTurn", v.environmentTurn},
           {"surround", v.surround},       {"transform", v.transform}};
    const ViewSettings plain;
    if (v.unit != plain.unit) j["unit"] = v.unit;
    if (v.keyStrength != plain.keyStrength) j["keyStrength"] = v.keyStrength;
    if (v.keySoftness != plain.keySoftness) j["keySoftness"] = v.keySoftness;
    if (v.groundShadow != plain.groundShadow) j["groundShadow"] = v.groundShadow;
    if (v.fieldOfView != plain.fieldOfView) j["fieldOfView"] = v.fieldOfView;
    if (v.displacement != plain.displacement) j["displacement"] = v.displacement;
    if (v.displacementMiddle != plain.displacementMiddle) j["displacementMiddle"] = v.displacementMiddle;
    if (!v.object.empty()) j["object"] = v.object;
    for (const KeptView& kept : v.views) j["views"].push_back(write(kept));
    putExtra(j, v.extra);
    return j;
}

ColourSettings readColour(const Json& j, const std::string& path) {
    Reader r(j, path);
    ColourSettings c;
    c.workingSpace = r.text("workingSpace", c.workingSpace);
    c.configuration = r.path("configuration");
    c.extra = r.extra();
    return c;
}

template <class T>
void needUnique(const std::vector<Shared<T>>& list, const char* what) {
    std::set<std::string> seen;
    for (std::size_t i = 0; i < list.size(); ++i)
        if (!seen.insert(list[i]->id).second)
            wrong(fmt::format("{}[{}].id", what, i),
                  fmt::format("is \"{}\", which was used before", list[i]->id));
}

/// Two branches that each add a step give it the same id, and their files merge without a conflict. The later
/// one gets an id of its own; what names the id means the first.
void renewDoubledSteps(Project& p) {
    std::set<std::string> known, seen;
    for (const Shared<Line>& line : p.lines)
        for (const Shared<Step>& step : line->steps) known.insert(step->id);
    for (Shared<Line>& line : p.lines)
        for (std::size_t i = 0; i < line->steps.size(); ++i) {
            std::string id = line->steps[i]->id;
            if (seen.insert(id).second) continue;
            for (int n = 2; !known.insert(id).second; ++n) id = fmt::format("{}-{}", line->steps[i]->id, n);
            seen.insert(id);
            line.edit().steps[i].edit().id = id;
        }
}

Project readProject(const Json& j) {
    Reader r(j, "");
    r.text("format");
    r.number("version", 0);
    Project p;
    r.each("sets", [&](const Json& s, const std::string& path) { p.sets.emplace_back(readSet(s, path)); });
    r.each("surfaces",
           [&](const Json& s, const std::string& path) { p.surfaces.emplace_back(readSurface(s, path)); });
    r.each("lines", [&](const Json& l, const std::string& path) { p.lines.emplace_back(readLine(l, path)); });
    r.each("looks", [&](const Json& l, const std::string& path) { p.looks.emplace_back(readLook(l, path)); });
    p.allLooks = readChanges(r, "allLooks", p.unreadable);
    r.each("recipes",
           [&](const Json& l, const std::string& path) { p.recipes.emplace_back(readRecipe(l, path)); });
    if (ObjectNumbers numbers = readObjects(r, "objects"); !numbers.empty()) p.objects = std::move(numbers);
    if (const Json* view = r.find("view"); view != nullptr) p.view = readView(*view, "view");
    if (const Json* colour = r.find("colour"); colour != nullptr) p.colour = readColour(*colour, "colour");
    p.extra = r.extra();
    needUnique(p.sets, "sets");
    needUnique(p.surfaces, "surfaces");
    needUnique(p.lines, "lines");
    needUnique(p.looks, "looks");
    needUnique(p.recipes, "recipes");
    renewDoubledSteps(p);
    return p;
}

}  // namespace

Result<Project> projectFromJson(const std::string& text, const std::string& name) {
    try {
        const Json j = parsed(text);
        if (!j.is_object() || j.value("format", "") != kProjectFormat)
            return fail(ErrorKind::Invalid,
                        fmt::format("{} is not a Pale Kettle project. Choose a .palekettle file.", name));
        const auto version = j.find("version");
        if (version == j.end() || !version->is_number_integer() || version->get<std::int64_t>() < 1)
            wrong("version", "should be a whole number from 1");
        if (version->get<std::int64_t>() > kProjectVersion)
            return fail(
                ErrorKind::Newer,
                fmt::format(
                    "{} was saved by a newer Pale Kettle (project version {}; this one reads up to {}). Open "
                    "it with the newer program; the file was not changed.",
                    name, version->get<std::int64_t>(), kProjectVersion));
        return readProject(j);
    } catch (const Wrong& w) {
        return fail(
            ErrorKind::Invalid,
            fmt::format(
                "Cannot open {}: {} {}. Correct it there, or open an earlier copy; the file was not changed.",
                name, w.path.empty() ? "the file" : w.path, w.what));
    } catch (const Json::parse_error& e) {
        return fail(
            ErrorKind::Invalid,
            fmt::format(
                "Cannot open {}: it is not complete JSON (near byte {}). Open an earlier copy; the file was "
                "not changed.",
                name, e.byte),
            e.what());
    } catch (const Json::exception& e) {
        return fail(
            ErrorKind::Invalid,
            fmt::format(
                "Cannot open {}: a value has the wrong type. Open an earlier copy; the file was not changed.",
                name),
            e.what());
    }
}

std::string projectToJson(const Project& project) {
    Json j{{"format", kProjectFormat}, {"version", kProjectVersion}};
    j["sets"] = Json::array();
    for (const auto& set : project.sets) j["sets"].push_back(write(*set));
    for (const auto& surface : project.surfaces) j["surfaces"].push_back(write(*surface));
    for (const char* part : {"lines", "looks"}) j[part] = Json::array();
    for (const auto& line : project.lines) j["lines"].push_back(write(*line));
    for (const auto& look : project.looks) j["looks"].push_back(write(*look));
    if (!project.allLooks.empty() || !project.unreadable.empty())
        j["allLooks"] = write(project.allLooks, project.unreadable);
    for (const auto& recipe : project.recipes) j["recipes"].push_back(write(*recipe));
    if (!project.objects->empty()) j["objects"] = write(*project.objects);
    j["view"] = write(project.view);
    if (!(project.colour == ColourSettings{})) {
        j["colour"] = {{"workingSpace", project.colour.workingSpace}};
        if (!project.colour.configuration.empty())
            j["colour"]["configuration"] = textOfPath(project.colour.configuration);
        putExtra(j["colour"], project.colour.extra);
    }
    putExtra(j, project.extra);
    return textOf(j, 2) + "\n";
}

namespace {

namespace fs = std::filesystem;

fs::path folderOf(const fs::path& file) {
    std::error_code code;
    return fs::absolute(file, code).lexically_normal().parent_path();
}

/// Relative to the folder, unless nothing but the root is common to both: on another disk a path that leads
/// out and in again would break as soon as either moves.
std::string relativeTo(const fs::path& folder, const std::string& path) {
    const fs::path there = path;
    if (!there.is_absolute()) return path;
    const fs::path relative = there.lexically_relative(folder);
    auto a = there.begin(), b = folder.begin();
    const bool isNear =
        a != there.end() && b != folder.end() && ++a != there.end() && ++b != folder.end() && *a == *b;
    return relative.empty() || (!isNear && folder != folder.root_path()) ? path : relative.string();
}

/// The project with its paths changed by `change`.
template <class F>
Project withPaths(Project project, F&& change) {
    for (Shared<TextureSet>& set : project.sets)
        if (std::string folder = change(set->folder); folder != set->folder)
            set.edit().folder = std::move(folder);
    if (!project.colour.configuration.empty())
        project.colour.configuration = change(project.colour.configuration);
    for (std::string* file : {&project.view.model, &project.view.environment})
        if (isFile(*file)) *file = change(*file);
    return project;
}

}  // namespace

int versionOnDisk(const fs::path& file) {
    const auto text = readFile(file);
    if (!text) return 0;
    try {
        const Json j = parsed(*text);
        return j.is_object() && j.value("format", "") == kProjectFormat ? j.value("version", 0) : 0;
    } catch (const Wrong&) {
        return 0;
    } catch (const Json::exception&) {
        return 0;
    }
}

Project withAbsolutePaths(const Project& project, const fs::path& folder) {
    return withPaths(project,
                     [&](const std::string& path) { return (folder / path).lexically_normal().string(); });
}

Result<Project> loadProject(const fs::path& file) {
    return guarded("open " + file.string(), [&]() -> Result<Project> {
        auto text = readFile(file);
        if (!text) return fail(text.error());
        auto project = projectFromJson(*text, file.filename().string());
        if (!project) return project;
        return withAbsolutePaths(*project, folderOf(file));
    });
}

Result<void> saveProject(const Project& project, const fs::path& file) {
    return guarded("save " + file.string(), [&] {
        const fs::path folder = folderOf(file);
        return writeFileAtomically(file, projectToJson(withPaths(project, [&](const std::string& path) {
                                       return relativeTo(folder, path);
                                   })));
    });
}

}  // namespace kettle
