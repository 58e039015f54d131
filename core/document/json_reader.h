// Reading JSON with sentences: an object hands out its fields by name, and what is wrong is told with its
// path. For files that read JSON, and no header.
#pragma once

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>
#include <string>

#include "core/document/path_text.h"
#include "core/document/project.h"

namespace kettle::json {

using Json = nlohmann::ordered_json;

/// Thrown inside this folder only: a sentence's middle, "what is wrong at path".
struct Wrong {
    std::string path, what;
};

/// Ends reading with a sentence: the place in the file, and what it should be.
[[noreturn]] inline void wrong(const std::string& path, const std::string& what) {
    throw Wrong{path, what};
}

/// What stands there, in the words of the errors.
inline const char* typeName(const Json& j) {
    if (j.is_boolean()) return "true or false";
    return j.is_number()   ? "a number"
           : j.is_string() ? "a text"
           : j.is_array()  ? "a list"
           : j.is_object() ? "an object"
                           : "null";
}

/// As text; what is not UTF-8 (a name from a disk) is replaced there, since JSON cannot hold it.
inline std::string textOf(const Json& json, int indent = -1) {
    return json.dump(indent, ' ', false, Json::error_handler_t::replace);
}

/// An object while it is read: hands out fields with their paths and remembers which were known.
class Reader {
public:
    /// Reads an object at a place of the file. Throws Wrong if it is none.
    Reader(const Json& json, std::string path) : m_json(json), m_path(std::move(path)) {
        if (!json.is_object()) wrong(m_path, fmt::format("should be an object but is {}", typeName(json)));
    }
    /// The place of a field, for errors: "lines[2].steps[0].type".
    std::string at(const std::string& key) const { return m_path.empty() ? key : m_path + "." + key; }
    /// The field, or null; it counts as known from now on.
    const Json* find(const std::string& key) {
        m_known.insert(key);
        const auto it = m_json.find(key);
        return it == m_json.end() ? nullptr : &*it;
    }
    /// A text, or `otherwise` where there is none. Throws Wrong for anything else.
    std::string text(const std::string& key, const std::string& otherwise = {}) {
        const Json* j = find(key);
        if (j == nullptr) return otherwise;
        if (!j->is_string()) wrong(at(key), fmt::format("should be a text but is {}", typeName(*j)));
        return j->get<std::string>();
    }
    /// A text that must be there and not be empty. Throws Wrong.
    std::string needText(const std::string& key) {
        if (find(key) == nullptr) wrong(at(key), "is missing");
        std::string value = text(key);
        if (value.empty()) wrong(at(key), "is empty");
        return value;
    }
    /// A finite number, or `otherwise` where there is none. Throws Wrong for anything else.
    double number(const std::string& key, double otherwise) {
        const Json* j = find(key);
        if (j == nullptr) return otherwise;
        if (!j->is_number()) wrong(at(key), fmt::format("should be a number but is {}", typeName(*j)));
        return j->get<double>();
    }
    /// The same, no larger than a float holds: what is computed with.
    double computable(const std::string& key, double otherwise);
    /// A path as the system has it (path_text.h).
    std::string path(const std::string& key) { return pathOfText(text(key)); }
    bool flag(const std::string& key, bool otherwise = false) {
        const Json* j = find(key);
        if (j == nullptr) return otherwise;
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
        return rest.empty() ? std::string{} : textOf(rest);
    }

private:
    const Json& m_json;
    std::string m_path;
    std::set<std::string> m_known;
};

/// Writes the fields back that this version did not know when it read them.
inline void putExtra(Json& j, const std::string& extra) {
    if (!extra.empty()) j.update(Json::parse(extra));
}

/// A number as a float. Throws Wrong if it is more than one holds, or none.
float real(double v, const std::string& path);

inline double Reader::computable(const std::string& key, double otherwise) {
    const double v = number(key, otherwise);
    real(v, at(key));
    return v;
}

/// A float as the shortest decimal that reads back as the same float.
double shortest(float v);

/// A text as JSON. Throws Wrong if it nests deeper than anything of ours, and the library's own for what is
/// no JSON.
Json parsed(const std::string& text);

// Lines, recipes and numbers of objects (json_lines.cpp). They throw Wrong.
Line readLine(const Json& j, const std::string& path);
Json write(const Line& line);
Recipe readRecipe(const Json& j, const std::string& path);
Json write(const Recipe& recipe);
ObjectNumbers readObjects(Reader& r, const std::string& key);
Json write(const ObjectNumbers& numbers);

// Values (json_values.cpp): each throws Wrong with its path.
/// Each from its JSON at a place of the file. They throw Wrong.
/// True if a control's value has a shape that this version knows; what it holds may still be wrong.
bool isKnownShape(const Json& j);
ControlValue readControl(const Json& j, const std::string& path);
Feed readFeed(const Json& j, const std::string& path);
Step readStep(const Json& j, const std::string& path);
/// Each as its JSON; what reads it gives the same value.
Json write(const ControlValue& value);
Json write(const Feed& feed);
Json write(const Step& step);

}  // namespace kettle::json
