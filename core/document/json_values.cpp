// The values that a step holds, from JSON and back.
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <limits>

#include "core/document/json_reader.h"

namespace kettle::json {
namespace {

/// Nothing of ours nests deeper than a dozen; what does would end in a stack that overflows.
constexpr int kDeepest = 100;

float component(const Json& j, const std::string& path) {
    if (!j.is_number()) wrong(path, fmt::format("should be a number but is {}", typeName(j)));
    return real(j.get<double>(), path);
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
        made.position = real(stop.number("at", 0), p + ".at");
        if (const Json* grey = stop.find("grey"); grey != nullptr) {
            const float g = component(*grey, p + ".grey");
            made.colour = {g, g, g};
        } else if (const Json* colour = stop.find("colour"); colour != nullptr) {
            made.colour = readTriple(*colour, p + ".colour");
        } else {
            wrong(p, "needs a grey or a colour");
        }
        made.extra = stop.extra();
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
    ramp.extra = r.extra();
    return ramp;
}

/// No number is written that is not read: JSON has none for an infinite one.
double written(double v) {
    constexpr double kMost = static_cast<double>(std::numeric_limits<float>::max());
    return std::isnan(v) ? 0.0 : std::clamp(v, -kMost, kMost);
}

Json triple(float r, float g, float b) {
    return Json::array({shortest(r), shortest(g), shortest(b)});
}

}  // namespace

float real(double v, const std::string& path) {
    constexpr double kMost = static_cast<double>(std::numeric_limits<float>::max());
    if (!(std::fabs(v) <= kMost))
        wrong(path, fmt::format("is {}, which is more than can be computed with", v));
    return static_cast<float>(v);
}

double shortest(float v) {
    const auto bounded = static_cast<float>(written(static_cast<double>(v)));
    std::array<char, 32> text{};
    const auto end = std::to_chars(text.data(), text.data() + text.size(), bounded).ptr;
    double read = 0;
    std::from_chars(text.data(), end, read);
    // The shortest text of the largest float is a little more than it.
    const double most = static_cast<double>(std::numeric_limits<float>::max());
    return std::clamp(read, -most, most);
}

bool isKnownShape(const Json& j) {
    return j.is_boolean() || j.is_number() || j.is_string() || (j.is_object() && j.contains("stops")) ||
           (j.is_array() && j.size() == 3);
}

ControlValue readControl(const Json& j, const std::string& path) {
    if (j.is_boolean()) return j.get<bool>();
    if (j.is_number()) return real(j.get<double>(), path), j.get<double>();
    if (j.is_string()) return j.get<std::string>();
    if (j.is_object()) return readRamp(j, path);
    if (j.is_array()) {
        const Vec3 c = readTriple(j, path);
        return Colour{c.x, c.y, c.z};
    }
    wrong(path, "is empty; give it a value or leave it out");
}

Json write(const ControlValue& value) {
    struct Writer {
        Json operator()(double v) const { return written(v); }
        Json operator()(bool v) const { return v; }
        Json operator()(const std::string& v) const { return v; }
        Json operator()(const Colour& c) const { return triple(c.r, c.g, c.b); }
        Json operator()(const Ramp& ramp) const {
            Json stops = Json::array();
            for (const RampStop& s : ramp.stops) {
                Json stop{{"at", shortest(s.position)}};
                if (s.colour.x == s.colour.y && s.colour.y == s.colour.z)
                    stop["grey"] = shortest(s.colour.x);
                else
                    stop["colour"] = triple(s.colour.x, s.colour.y, s.colour.z);
                putExtra(stop, s.extra);
                stops.push_back(std::move(stop));
            }
            Json j{{"interpolation", nameOf(ramp.interpolation)},
                   {"mixing", nameOf(ramp.mixing)},
                   {"stops", stops}};
            putExtra(j, ramp.extra);
            return j;
        }
    };
    return std::visit(Writer{}, value);
}

Feed readFeed(const Json& j, const std::string& path) {
    Reader r(j, path);
    Feed feed;
    if (const Json* constant = r.find("constant"); constant != nullptr) {
        feed.constant = readControl(*constant, path + ".constant");
        feed.extra = r.extra();
        return feed;
    }
    feed.line = r.needText("line");
    feed.after = r.text("after");
    feed.component = r.text("component");
    feed.extra = r.extra();
    return feed;
}

Json write(const Feed& feed) {
    Json j = Json::object();
    if (feed.constant) {
        j["constant"] = write(*feed.constant);
    } else {
        j["line"] = feed.line;
        if (!feed.after.empty()) j["after"] = feed.after;
        if (!feed.component.empty()) j["component"] = feed.component;
    }
    putExtra(j, feed.extra);
    return j;
}

Json parsed(const std::string& text) {
    int depth = 0, deepest = 0;
    bool inText = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inText && c == '\\') ++i;
        if (c == '"') inText = !inText;
        if (inText) continue;
        if (c == '[' || c == '{') deepest = std::max(deepest, ++depth);
        if (c == ']' || c == '}') --depth;
    }
    if (deepest > kDeepest)
        wrong("", fmt::format("nests {} levels deep, and {} are the most", deepest, kDeepest));
    return Json::parse(text);
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
        if (isKnownShape(v))
            step.controls[name] = readControl(v, p);
        else
            step.unreadable[name] = textOf(v);
    });
    r.fields("feeds", [&](const std::string& name, const Json& v, const std::string& p) {
        step.feeds[name] = readFeed(v, p);
    });
    step.note = r.text("note");
    const double version = r.number("version", 1);
    if (!(version >= 1 && version == std::floor(version)))
        wrong(r.at("version"), "should be a whole number from 1");
    if (version > kNewestStepVersion)
        wrong(r.at("version"),
              fmt::format("is {}, and this program knows steps up to {}; a newer one made it", version,
                          kNewestStepVersion));
    step.version = static_cast<int>(version);
    step.extra = r.extra();
    return step;
}

Json write(const Step& step) {
    Json j{{"id", step.id}, {"type", step.type}};
    if (!step.set.empty()) j["set"] = step.set;
    if (step.version != 1) j["version"] = step.version;
    if (!step.role.empty()) j["role"] = step.role;
    if (step.bypass) j["bypass"] = true;
    for (const auto& [name, value] : step.controls) j["controls"][name] = write(value);
    for (const auto& [name, value] : step.unreadable)
        if (!step.controls.contains(name)) j["controls"][name] = Json::parse(value);
    for (const auto& [name, feed] : step.feeds) j["feeds"][name] = write(feed);
    if (!step.note.empty()) j["note"] = step.note;
    putExtra(j, step.extra);
    return j;
}

}  // namespace kettle::json
