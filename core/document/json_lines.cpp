// Lines, recipes and the numbers of objects, from JSON and back.
#include <algorithm>
#include <cmath>

#include "core/document/json.h"
#include "core/document/json_reader.h"
#include "core/document/recipes.h"

namespace kettle {
namespace json {
namespace {

Kind kindOf(const std::string& kind, const std::string& path) {
    for (const Kind k : {Kind::Colour, Kind::Scalar, Kind::Normal})
        if (kind == nameOf(k)) return k;
    wrong(path, fmt::format("is \"{}\", which is none of colour, scalar, normal", kind));
}

std::string textAt(const Json& j, const std::string& path) {
    if (!j.is_string()) wrong(path, fmt::format("should be a text but is {}", typeName(j)));
    return j.get<std::string>();
}

std::optional<double> limit(Reader& r, const char* key) {
    if (r.find(key) == nullptr) return std::nullopt;
    return r.computable(key, 0);
}

std::vector<std::string> readTargets(Reader& r) {
    std::vector<std::string> targets;
    r.each("means", [&](const Json& t, const std::string& p) { targets.push_back(textAt(t, p)); });
    return targets;
}

RecipeControl readRecipeControl(const Json& j, const std::string& path) {
    Reader r(j, path);
    RecipeControl c;
    c.id = r.needText("id");
    c.name = r.text("name", c.id);
    c.section = r.text("section");
    c.targets = readTargets(r);
    c.low = limit(r, "low");
    c.high = limit(r, "high");
    c.unit = r.text("unit");
    c.tip = r.text("tip");
    c.extra = r.extra();
    return c;
}

Json write(const RecipeControl& c) {
    Json j{{"id", c.id}, {"name", c.name}};
    if (!c.section.empty()) j["section"] = c.section;
    j["means"] = c.targets;
    if (c.low) j["low"] = *c.low;
    if (c.high) j["high"] = *c.high;
    if (!c.unit.empty()) j["unit"] = c.unit;
    if (!c.tip.empty()) j["tip"] = c.tip;
    putExtra(j, c.extra);
    return j;
}

RecipeFeed readRecipeFeed(const Json& j, const std::string& path) {
    Reader r(j, path);
    RecipeFeed f;
    f.id = r.needText("id");
    f.name = r.text("name", f.id);
    f.targets = readTargets(r);
    f.tip = r.text("tip");
    f.extra = r.extra();
    return f;
}

Json write(const RecipeFeed& f) {
    Json j{{"id", f.id}, {"name", f.name}, {"means", f.targets}};
    if (!f.tip.empty()) j["tip"] = f.tip;
    putExtra(j, f.extra);
    return j;
}

}  // namespace

Line readLine(const Json& j, const std::string& path) {
    Reader r(j, path);
    Line line;
    line.id = r.needText("id");
    line.name = r.text("name", line.id);
    line.kind = kindOf(r.text("kind", "colour"), r.at("kind"));
    line.channel = r.text("channel");
    line.surface = r.text("surface");
    line.note = r.text("note");
    r.each("steps", [&](const Json& s, const std::string& p) { line.steps.emplace_back(readStep(s, p)); });
    line.extra = r.extra();
    return line;
}

Json write(const Line& line) {
    Json j{{"id", line.id}, {"name", line.name}, {"kind", nameOf(line.kind)}};
    if (!line.channel.empty()) j["channel"] = line.channel;
    if (!line.surface.empty()) j["surface"] = line.surface;
    if (!line.note.empty()) j["note"] = line.note;
    j["steps"] = Json::array();
    for (const Shared<Step>& step : line.steps) j["steps"].push_back(write(*step));
    putExtra(j, line.extra);
    return j;
}

Recipe readRecipe(const Json& j, const std::string& path) {
    Reader r(j, path);
    Recipe recipe;
    r.text("format");
    r.number("version", 0);
    recipe.id = r.needText("id");
    recipe.name = r.text("name", recipe.id);
    recipe.purpose = r.text("purpose");
    const double edition = r.number("edition", 1);
    if (!(edition >= 1 && edition <= kMostNumber && edition == std::floor(edition)))
        wrong(r.at("edition"), "should be a whole number from 1");
    recipe.edition = static_cast<int>(edition);
    recipe.author = r.text("author");
    recipe.note = r.text("note");
    r.each("kinds",
           [&](const Json& k, const std::string& p) { recipe.kinds.push_back(kindOf(textAt(k, p), p)); });
    r.each("steps", [&](const Json& s, const std::string& p) { recipe.steps.emplace_back(readStep(s, p)); });
    r.each("lines", [&](const Json& l, const std::string& p) { recipe.lines.emplace_back(readLine(l, p)); });
    r.each("controls",
           [&](const Json& c, const std::string& p) { recipe.controls.push_back(readRecipeControl(c, p)); });
    r.each("inputs",
           [&](const Json& f, const std::string& p) { recipe.feeds.push_back(readRecipeFeed(f, p)); });
    recipe.extra = r.extra();
    if (const std::string fault = faultOf(recipe); !fault.empty()) wrong(path, "is no recipe: " + fault);
    return recipe;
}

Json write(const Recipe& recipe) {
    Json j{
        {"id", recipe.id}, {"name", recipe.name}, {"purpose", recipe.purpose}, {"edition", recipe.edition}};
    if (!recipe.author.empty()) j["author"] = recipe.author;
    if (!recipe.note.empty()) j["note"] = recipe.note;
    for (const Kind kind : recipe.kinds) j["kinds"].push_back(nameOf(kind));
    for (const auto& step : recipe.steps) j["steps"].push_back(write(*step));
    for (const auto& line : recipe.lines) j["lines"].push_back(write(*line));
    for (const RecipeControl& control : recipe.controls) j["controls"].push_back(write(control));
    for (const RecipeFeed& feed : recipe.feeds) j["inputs"].push_back(write(feed));
    putExtra(j, recipe.extra);
    return j;
}

ObjectNumbers readObjects(Reader& r, const std::string& key) {
    ObjectNumbers numbers;
    r.each(key, [&](const Json& j, const std::string& path) {
        Reader one(j, path);
        const double number = one.number("number", -1);
        if (!(number >= 0 && number <= kMostNumber && number == std::floor(number)))
            wrong(path + ".number", fmt::format("should be a whole number from 0 to {}", kMostNumber));
        const std::string part = one.text("part");
        const std::string name = part.empty() ? one.needText("object") : part;
        (part.empty() ? numbers.objects : numbers.parts)[name] = static_cast<int>(number);
        if (std::string extra = one.extra(); !extra.empty())
            (part.empty() ? numbers.objectExtras : numbers.partExtras)[name] = std::move(extra);
    });
    return numbers;
}

Json write(const ObjectNumbers& numbers) {
    Json j = Json::array();
    const auto add = [&](const char* what, const std::map<std::string, int>& list,
                         const std::map<std::string, std::string>& extras) {
        for (const auto& [name, number] : list) {
            Json one{{what, name}, {"number", number}};
            if (const auto extra = extras.find(name); extra != extras.end()) putExtra(one, extra->second);
            j.push_back(std::move(one));
        }
    };
    add("object", numbers.objects, numbers.objectExtras);
    add("part", numbers.parts, numbers.partExtras);
    return j;
}

}  // namespace json

namespace {
constexpr const char* kRecipeFormat = "pale-kettle-recipe";
constexpr int kRecipeVersion = 1;
}  // namespace

std::string recipeToText(const Recipe& recipe) {
    json::Json j{{"format", kRecipeFormat}, {"version", kRecipeVersion}};
    j.update(json::write(recipe));
    return json::textOf(j, 2) + "\n";
}

Result<Recipe> recipeFromText(const std::string& text, const std::string& name) {
    const auto wrongRecipe = [&](const std::string& what) {
        return fail(
            ErrorKind::Invalid,
            fmt::format("Cannot read the recipe {}: {}. Correct the file, or remove it.", name, what));
    };
    try {
        const json::Json j = json::parsed(text);
        json::Reader r(j, "");
        if (r.text("format") != kRecipeFormat) return wrongRecipe("it is not a recipe that was kept here");
        if (r.number("version", kRecipeVersion) > kRecipeVersion)
            return fail(
                ErrorKind::Newer,
                fmt::format("The recipe {} was kept by a newer Pale Kettle. Take it with the newer program; "
                            "the file was not changed.",
                            name));
        return json::readRecipe(j, "");
    } catch (const json::Wrong& w) {
        return wrongRecipe(fmt::format("{} {}", w.path.empty() ? "it" : w.path, w.what));
    } catch (const json::Json::exception&) {
        return wrongRecipe("it is not complete JSON");
    }
}

}  // namespace kettle
