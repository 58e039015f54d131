#include "core/document/json.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/files.h"

namespace kettle {
namespace {

using Json = nlohmann::ordered_json;
constexpr const char* kStepsFormat = "pale-kettle-steps";

/// Thrown inside this file only: a sentence's middle, "what is wrong at path".
struct Wrong {
    std::string path, what;
};

[[noreturn]] void wrong(const std::string& path, const std::string& what) {
    throw Wrong{path, what};
}

const char* typeName(const Json& j) {
    if (j.is_boolean()) return "true or false";
    return j.is_number()   ? "a number"
           : j.is_string() ? "a text"
           : j.is_array()  ? "a list"
           : j.is_object() ? "an object"
                           : "null";
}

/// An object while it is read: hands out fields with their paths and remembers which were known.
class Reader {
public:
    Reader(const Json& json, std::string path) : m_json(json), m_path(std::move(path)) {
        if (!json.is_object()) wrong(m_path, fmt::format("should be an object but is {}", typeName(json)));
    }
    std::string at(const std::string& key) const { return m_path.empty() ? key : m_path + "." + key; }
    const Json* find(const std::string& key) {
        m_known.insert(key);
        const auto it = m_json.find(key);
        return it == m_json.end() ? nullptr : &*it;
    }
    std::string text(const std::string& key, const std::string& otherwise = {}) {
        const Json* j = find(key);
        if (j == nullptr) return otherwise;
        if (!j->is_string()) wrong(at(key), fmt::format("should be a text but is {}", typeName(*j)));
        return j->get<std::string>();
    }
    std::string needText(const std::string& key) {
        if (find(key) == nullptr) wrong(at(key), "is missing");
        std::string value = text(key);
        if (value.empty()) wrong(at(key), "is empty");
        return value;
    }
    double number(const std::string& key, double otherwise) {
        const Json* j = find(key);
        if (j == nullptr) return otherwise;
        if (!j->is_number()) wrong(at(key), fmt::format("should be a number but is {}", typeName(*j)));
        return j->get<double>();
    }
    bool flag(const std::string& key) {
        const Json* j = find(key);
        if (j == nullptr) return false;
        if (!j->is_boolean()) wrong(at(key), fmt::format("should be true or false but is {}", typeName(*j)));
        return j->get<bool>();
    }
    template <class F>
    void each(const std::string& key, F&& f) {
        const Json* j = find(key);
        if (j == nullptr) return;
        if (!j->is_array()) wrong(at(key), fmt::format("should be a list but is {}", typeName(*j)));
        for (std::size_t i = 0; i < j->size(); ++i) f((*j)[i], fmt::format("{}[{}]", at(key), i));
    }
    template <class F>
    void fields(const std::string& key, F&& f) {
        const Json* j = find(key);
        if (j == nullptr) return;
        if (!j->is_object()) wrong(at(key), fmt::format("should be an object but is {}", typeName(*j)));
        for (const auto& [name, value] : j->items()) f(name, value, at(key) + "." + name);
    }
    /// The unknown fields as text, empty if there are none.
    std::string extra() const {
        Json rest = Json::object();
        for (const auto& [key, value] : m_json.items())
            if (!m_known.contains(key)) rest[key] = value;
        return rest.empty() ? std::string{} : rest.dump();
    }

private:
    const Json& m_json;
    std::string m_path;
    std::set<std::string> m_known;
};

void putExtra(Json& j, const std::string& extra) {
    if (!extra.empty()) j.update(Json::parse(extra));
}

float component(const Json& j, const std::string& path) {
    if (!j.is_number()) wrong(path, fmt::format("should be a number but is {}", typeName(j)));
    return j.get<float>();
}

Vec3 readTriple(const Json& j, const std::string& path) {
    if (!j.is_array() || j.size() != 3) wrong(path, "should be three numbers: red, green and blue, linear");
    return {component(j[0], path), component(j[1], path), component(j[2], path)};
}

Ramp readRamp(const Json& j, const std::string& path) {
    Reader r(j, path);
    Ramp ramp;
    ramp.stops.clear();
    r.each("stops", [&](const Json& s, const std::string& p) {
        Reader stop(s, p);
        if (stop.find("at") == nullptr) wrong(p + ".at", "is missing");
        RampStop made;
        made.position = static_cast<float>(stop.number("at", 0));
        if (const Json* grey = stop.find("grey"); grey != nullptr) {
            const float g = component(*grey, p + ".grey");
            made.colour = {g, g, g};
        } else if (const Json* colour = stop.find("colour"); colour != nullptr) {
            made.colour = readTriple(*colour, p + ".colour");
        } else {
            wrong(p, "needs a grey or a colour");
        }
        ramp.stops.push_back(made);
    });
    const std::string interpolation = r.text("interpolation", "linear"), mixing = r.text("mixing", "linear");
    if (!interpolationOf(interpolation, ramp.interpolation))
        wrong(path + ".interpolation",
              fmt::format("is \"{}\", which is none of hold, linear, smooth, spline, soft-spline",
                          interpolation));
    if (!mixingOf(mixing, ramp.mixing))
        wrong(path + ".mixing",
              fmt::format("is \"{}\", which is none of linear, encoded, hsv-short, hsv-long, oklab", mixing));
    return ramp;
}

ControlValue readControl(const Json& j, const std::string& path) {
    if (j.is_boolean()) return j.get<bool>();
    if (j.is_number()) return j.get<double>();
    if (j.is_string()) return j.get<std::string>();
    if (j.is_object()) return readRamp(j, path);
    if (j.is_array()) {
        const Vec3 c = readTriple(j, path);
        return Colour{c.x, c.y, c.z};
    }
    wrong(path, "is empty; give it a value or leave it out");
}

Json triple(float r, float g, float b) {
    return Json::array({r, g, b});
}

Json write(const ControlValue& value) {
    struct Writer {
        Json operator()(double v) const { return v; }
        Json operator()(bool v) const { return v; }
        Json operator()(const std::string& v) const { return v; }
        Json operator()(const Colour& c) const { return triple(c.r, c.g, c.b); }
        Json operator()(const Ramp& ramp) const {
            Json stops = Json::array();
            for (const RampStop& s : ramp.stops) {
                Json stop{{"at", s.position}};
                if (s.colour.x == s.colour.y && s.colour.y == s.colour.z)
                    stop["grey"] = s.colour.x;
                else
                    stop["colour"] = triple(s.colour.x, s.colour.y, s.colour.z);
                stops.push_back(std::move(stop));
            }
            return {{"interpolation", nameOf(ramp.interpolation)},
                    {"mixing", nameOf(ramp.mixing)},
                    {"stops", stops}};
        }
    };
    return std::visit(Writer{}, value);
}

Feed readFeed(const Json& j, const std::string& path) {
    Reader r(j, path);
    Feed feed;
    if (const Json* constant = r.find("constant"); constant != nullptr) {
        feed.constant = readControl(*constant, path + ".constant");
        return feed;
    }
    feed.line = r.needText("line");
    feed.after = r.text("after");
    feed.component = r.text("component");
    return feed;
}

Json write(const Feed& feed) {
    if (feed.constant) return {{"constant", write(*feed.constant)}};
    Json j{{"line", feed.line}};
    if (!feed.after.empty()) j["after"] = feed.after;
    if (!feed.component.empty()) j["component"] = feed.component;
    return j;
}

Step readStep(const Json& j, const std::string& path) {
    Reader r(j, path);
    Step step;
    step.id = r.needText("id");
    step.type = r.needText("type");
    step.set = r.text("set");
    step.role = r.text("role");
    step.bypass = r.flag("bypass");
    r.fields("controls", [&](const std::string& name, const Json& v, const std::string& p) {
        step.controls[name] = readControl(v, p);
    });
    r.fields("feeds", [&](const std::string& name, const Json& v, const std::string& p) {
        step.feeds[name] = readFeed(v, p);
    });
    step.extra = r.extra();
    return step;
}

Json write(const Step& step) {
    Json j{{"id", step.id}, {"type", step.type}};
    if (!step.set.empty()) j["set"] = step.set;
    if (!step.role.empty()) j["role"] = step.role;
    if (step.bypass) j["bypass"] = true;
    for (const auto& [name, value] : step.controls) j["controls"][name] = write(value);
    for (const auto& [name, feed] : step.feeds) j["feeds"][name] = write(feed);
    putExtra(j, step.extra);
    return j;
}

Kind readKind(Reader& r) {
    const std::string kind = r.text("kind", "colour");
    for (const Kind k : {Kind::Colour, Kind::Scalar, Kind::Normal})
        if (kind == nameOf(k)) return k;
    wrong(r.at("kind"), fmt::format("is \"{}\", which is none of colour, scalar, normal", kind));
}

Line readLine(const Json& j, const std::string& path) {
    Reader r(j, path);
    Line line;
    line.id = r.needText("id");
    line.name = r.text("name", line.id);
    line.kind = readKind(r);
    line.channel = r.text("channel");
    r.each("steps", [&](const Json& s, const std::string& p) { line.steps.emplace_back(readStep(s, p)); });
    line.extra = r.extra();
    return line;
}

Json write(const Line& line) {
    Json j{{"id", line.id}, {"name", line.name}, {"kind", nameOf(line.kind)}};
    if (!line.channel.empty()) j["channel"] = line.channel;
    j["steps"] = Json::array();
    for (const Shared<Step>& step : line.steps) j["steps"].push_back(write(*step));
    putExtra(j, line.extra);
    return j;
}

TextureSet readSet(const Json& j, const std::string& path) {
    Reader r(j, path);
    TextureSet set;
    set.id = r.needText("id");
    set.name = r.text("name", set.id);
    set.folder = r.text("folder");
    r.each("maps", [&](const Json& m, const std::string& p) {
        Reader map(m, p);
        Map made;
        made.role = map.needText("role");
        made.file = map.needText("file");
        made.encoding = map.text("encoding", "auto");
        made.extra = map.extra();
        set.maps.push_back(std::move(made));
    });
    set.extra = r.extra();
    return set;
}

Json write(const TextureSet& set) {
    Json j{{"id", set.id}, {"name", set.name}, {"folder", set.folder}, {"maps", Json::array()}};
    for (const Map& map : set.maps) {
        Json m{{"role", map.role}, {"file", map.file}, {"encoding", map.encoding}};
        putExtra(m, map.extra);
        j["maps"].push_back(std::move(m));
    }
    putExtra(j, set.extra);
    return j;
}

Look readLook(const Json& j, const std::string& path) {
    Reader r(j, path);
    Look look;
    look.id = r.needText("id");
    look.name = r.text("name", look.id);
    r.fields("changes", [&](const std::string& n, const Json& v, const std::string& p) {
        look.changes[n] = readControl(v, p);
    });
    look.extra = r.extra();
    return look;
}

Json write(const Look& look) {
    Json j{{"id", look.id}, {"name", look.name}, {"changes", Json::object()}};
    for (const auto& [name, value] : look.changes) j["changes"][name] = write(value);
    putExtra(j, look.extra);
    return j;
}

ViewSettings readView(const Json& j, const std::string& path) {
    Reader r(j, path);
    ViewSettings v;
    v.model = r.text("model", v.model);
    v.environment = r.text("environment", v.environment);
    v.exposure = r.number("exposure", v.exposure);
    v.environmentTurn = r.number("environmentTurn", v.environmentTurn);
    v.surround = r.text("surround", v.surround);
    v.transform = r.text("transform", v.transform);
    return v;
}

Json write(const ViewSettings& v) {
    return {{"model", v.model},       {"environment", v.environment},
            {"exposure", v.exposure}, {"environmentTurn", v.environmentTurn},
            {"surround", v.surround}, {"transform", v.transform}};
}

ColourSettings readColour(const Json& j, const std::string& path) {
    Reader r(j, path);
    ColourSettings c;
    c.workingSpace = r.text("workingSpace", c.workingSpace);
    c.configuration = r.text("configuration");
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

Project readProject(const Json& j) {
    Reader r(j, "");
    r.text("format");
    r.number("version", 0);
    Project p;
    r.each("sets", [&](const Json& s, const std::string& path) { p.sets.emplace_back(readSet(s, path)); });
    r.each("lines", [&](const Json& l, const std::string& path) { p.lines.emplace_back(readLine(l, path)); });
    r.each("looks", [&](const Json& l, const std::string& path) { p.looks.emplace_back(readLook(l, path)); });
    if (const Json* view = r.find("view"); view != nullptr) p.view = readView(*view, "view");
    if (const Json* colour = r.find("colour"); colour != nullptr) p.colour = readColour(*colour, "colour");
    p.extra = r.extra();
    needUnique(p.sets, "sets");
    needUnique(p.lines, "lines");
    needUnique(p.looks, "looks");
    std::set<std::string> steps;
    for (const Shared<Line>& line : p.lines)
        for (const Shared<Step>& step : line->steps)
            if (!steps.insert(step->id).second)
                wrong(fmt::format("lines.{}.steps", line->id),
                      fmt::format("uses the step id \"{}\" twice", step->id));
    return p;
}

}  // namespace

Result<Project> projectFromJson(const std::string& text, const std::string& name) {
    try {
        const Json j = Json::parse(text);
        if (!j.is_object() || j.value("format", "") != kProjectFormat)
            return fail(ErrorKind::Invalid,
                        fmt::format("{} is not a Pale Kettle project. Choose a .palekettle file.", name));
        const auto version = j.find("version");
        if (version == j.end() || !version->is_number_integer() || version->get<int>() < 1)
            wrong("version", "should be a whole number from 1");
        if (version->get<int>() > kProjectVersion)
            return fail(
                ErrorKind::Newer,
                fmt::format(
                    "{} was saved by a newer Pale Kettle (project version {}; this one reads up to {}). Open "
                    "it with the newer program; the file was not changed.",
                    name, version->get<int>(), kProjectVersion));
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
    for (const char* part : {"sets", "lines", "looks"}) j[part] = Json::array();
    for (const auto& set : project.sets) j["sets"].push_back(write(*set));
    for (const auto& line : project.lines) j["lines"].push_back(write(*line));
    for (const auto& look : project.looks) j["looks"].push_back(write(*look));
    j["view"] = write(project.view);
    if (!(project.colour == ColourSettings{})) {
        j["colour"] = {{"workingSpace", project.colour.workingSpace}};
        if (!project.colour.configuration.empty())
            j["colour"]["configuration"] = project.colour.configuration;
    }
    putExtra(j, project.extra);
    return j.dump(2) + "\n";
}

std::string stepsToText(const std::vector<Step>& steps) {
    Json j{{"format", kStepsFormat}, {"version", kProjectVersion}, {"steps", Json::array()}};
    for (const Step& step : steps) j["steps"].push_back(write(step));
    return j.dump(2) + "\n";
}

Result<std::vector<Step>> stepsFromText(const std::string& text) {
    const auto notOurs = [] {
        return fail(ErrorKind::Invalid, "The clipboard holds no steps. Copy some on the board first.");
    };
    try {
        const Json j = Json::parse(text);
        if (!j.is_object() || j.value("format", "") != kStepsFormat) return notOurs();
        std::vector<Step> steps;
        Reader(j, "").each(
            "steps", [&](const Json& s, const std::string& path) { steps.push_back(readStep(s, path)); });
        return steps;
    } catch (const Wrong& w) {
        return fail(ErrorKind::Invalid,
                    fmt::format("Cannot paste the steps: {} {}. Copy them again.", w.path, w.what));
    } catch (const Json::exception&) {
        return notOurs();
    }
}

Result<Project> loadProject(const std::filesystem::path& file) {
    auto text = readFile(file);
    if (!text) return fail(text.error());
    return projectFromJson(*text, file.filename().string());
}

Result<void> saveProject(const Project& project, const std::filesystem::path& file) {
    return writeFileAtomically(file, projectToJson(project));
}

}  // namespace kettle
