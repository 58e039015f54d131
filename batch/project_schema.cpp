// The JSON Schema of the project file, from the same declarations that check it when it is opened.
#include <nlohmann/json.hpp>

#include "batch/step_reference.h"
#include "core/document/json.h"
#include "core/steps/step.h"

namespace kettle::batch {
namespace {

using Json = nlohmann::ordered_json;

Json schemaOf(const ControlSpec& control) {
    Json j;
    switch (control.type) {
        case ControlType::Number:
            j = {{"type", "number"}, {"default", std::get<double>(control.standard)}};
            break;
        case ControlType::Toggle:
            j = {{"type", "boolean"}, {"default", std::get<bool>(control.standard)}};
            break;
        case ControlType::Choice:
            j = {{"enum", Json::array()}, {"default", std::get<std::string>(control.standard)}};
            for (const Choice& c : control.choices) j["enum"].push_back(c.id);
            break;
        case ControlType::Space:
        case ControlType::Part:
        case ControlType::Text:
            j = {{"type", "string"}, {"default", std::get<std::string>(control.standard)}};
            break;
        case ControlType::Colour:
        case ControlType::Triple:
            j = {{"$ref", "#/$defs/triple"}};
            break;
        case ControlType::Ramp:
        case ControlType::Curve:
            j = {{"$ref", "#/$defs/ramp"}};
            break;
    }
    j["description"] = control.tip;
    return j;
}

Json object(Json properties, const std::vector<std::string>& required = {}) {
    Json j{{"type", "object"}, {"properties", std::move(properties)}};
    if (!required.empty()) j["required"] = required;
    return j;
}

Json arrayOf(const char* definition) {
    return {{"type", "array"}, {"items", {{"$ref", std::string("#/$defs/") + definition}}}};
}

/// Controls and feeds hang on the type: one condition for each step.
Json stepSchema() {
    const Json text{{"type", "string"}};
    Json step =
        object({{"id", text},
                {"type", text},
                {"set", text},
                {"role", text},
                {"bypass", {{"type", "boolean"}}},
                {"note", text},
                {"version", {{"type", "integer"}, {"minimum", 1}, {"maximum", kNewestStepVersion}}},
                {"controls", {{"type", "object"}}},
                {"feeds", {{"type", "object"}, {"additionalProperties", {{"$ref", "#/$defs/feed"}}}}}},
               {"id", "type"});
    step["allOf"] = Json::array();
    for (const StepSpec& spec : shippedSteps()) {
        Json controls = Json::object(), feeds = Json::object();
        for (const ControlSpec& c : spec.controls) controls[c.id] = schemaOf(c);
        for (const FeedSpec& f : spec.feeds) feeds[f.id] = {{"$ref", "#/$defs/feed"}, {"description", f.tip}};
        step["allOf"].push_back(
            {{"if", {{"properties", {{"type", {{"const", spec.type}}}}}}},
             {"then",
              {{"title", spec.name},
               {"description", spec.purpose},
               {"properties",
                {{"controls", {{"properties", controls}}}, {"feeds", {{"properties", feeds}}}}}}}});
    }
    return step;
}

Json rampSchema() {
    const Json number{{"type", "number"}};
    Json stop = object({{"at", number}, {"grey", number}, {"colour", {{"$ref", "#/$defs/triple"}}}}, {"at"});
    return object({{"interpolation", {{"enum", {"hold", "linear", "smooth", "spline", "soft-spline"}}}},
                   {"mixing", {{"enum", {"linear", "encoded", "hsv-short", "hsv-long", "oklab"}}}},
                   {"stops", {{"type", "array"}, {"items", stop}}}},
                  {"stops"});
}

/// What values, steps, lines and the rest are.
Json definitions() {
    const Json text{{"type", "string"}}, number{{"type", "number"}};
    Json defs;
    defs["triple"] = {{"type", "array"},
                      {"items", number},
                      {"minItems", 3},
                      {"maxItems", 3},
                      {"description", "red, green, blue, linear Rec.709"}};
    defs["ramp"] = rampSchema();
    defs["control"] = {
        {"anyOf",
         {number, {{"type", "boolean"}}, text, {{"$ref", "#/$defs/triple"}}, {{"$ref", "#/$defs/ramp"}}}}};
    defs["feed"] = object(
        {{"constant", {{"$ref", "#/$defs/control"}}}, {"line", text}, {"after", text}, {"component", text}});
    defs["step"] = stepSchema();
    defs["line"] = object({{"id", text},
                           {"name", text},
                           {"kind", {{"enum", {"colour", "scalar", "normal"}}}},
                           {"channel", text},
                           {"surface", text},
                           {"note", text},
                           {"steps", arrayOf("step")}},
                          {"id"});
    defs["map"] =
        object({{"role", text}, {"file", text}, {"encoding", text}, {"channels", text}}, {"role", "file"});
    defs["set"] = object({{"id", text}, {"name", text}, {"folder", text}, {"maps", arrayOf("map")}}, {"id"});
    const Json changes{{"type", "object"}, {"additionalProperties", {{"$ref", "#/$defs/control"}}}};
    defs["look"] = object({{"id", text}, {"name", text}, {"note", text}, {"changes", changes}}, {"id"});
    defs["keptView"] = object({{"name", text},
                               {"turn", number},
                               {"tilt", number},
                               {"distance", number},
                               {"x", number},
                               {"y", number},
                               {"z", number}},
                              {"name"});
    defs["surface"] = object({{"id", text},
                              {"name", text},
                              {"coversAll", {{"type", "boolean"}}},
                              {"parts", {{"type", "array"}, {"items", text}}}},
                             {"id"});
    const Json texts{{"type", "array"}, {"items", text}};
    defs["recipeControl"] = object({{"id", text},
                                    {"name", text},
                                    {"section", text},
                                    {"means", texts},
                                    {"low", number},
                                    {"high", number},
                                    {"unit", text},
                                    {"tip", text}},
                                   {"id", "means"});
    defs["recipeInput"] =
        object({{"id", text}, {"name", text}, {"means", texts}, {"tip", text}}, {"id", "means"});
    defs["recipe"] =
        object({{"id", text},
                {"name", text},
                {"purpose", text},
                {"edition", {{"type", "integer"}, {"minimum", 1}}},
                {"author", text},
                {"note", text},
                {"kinds", {{"type", "array"}, {"items", {{"enum", {"colour", "scalar", "normal"}}}}}},
                {"steps", arrayOf("step")},
                {"lines", arrayOf("line")},
                {"controls", arrayOf("recipeControl")},
                {"inputs", arrayOf("recipeInput")}},
               {"id", "kinds", "steps"});
    defs["objectNumber"] =
        object({{"object", text},
                {"part", text},
                {"number", {{"type", "integer"}, {"minimum", 0}, {"maximum", kMostNumber}}}},
               {"number"});
    return defs;
}

/// A whole project, without the definitions.
Json projectBody() {
    const Json text{{"type", "string"}}, number{{"type", "number"}};
    const Json changes{{"type", "object"}, {"additionalProperties", {{"$ref", "#/$defs/control"}}}};
    Json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                {"title", "Pale Kettle project"},
                {"description", "Written by ./kettle docs. Unknown fields are kept."},
                {"type", "object"},
                {"required", {"format", "version"}}};
    schema["properties"] = {
        {"format", {{"const", kProjectFormat}}},
        {"version", {{"type", "integer"}, {"minimum", 1}, {"maximum", kProjectVersion}}},
        {"sets", arrayOf("set")},
        {"surfaces", arrayOf("surface")},
        {"lines", arrayOf("line")},
        {"looks", arrayOf("look")},
        {"allLooks", changes},
        {"recipes", arrayOf("recipe")},
        {"objects", arrayOf("objectNumber")},
        {"view", object({{"model", text},
                         {"environment", text},
                         {"unit", {{"enum", {"auto", "mm", "cm", "m", "inch"}}}},
                         {"object", text},
                         {"exposure", number},
                         {"environmentTurn", number},
                         {"surround", {{"enum", {"pale", "middle", "dark"}}}},
                         {"transform", text},
                         {"keyStrength", number},
                         {"keySoftness", number},
                         {"groundShadow", {{"type", "boolean"}}},
                         {"fieldOfView", number},
                         {"displacement", number},
                         {"displacementMiddle", number},
                         {"views", arrayOf("keptView")}})},
        {"colour", object({{"workingSpace", {{"enum", workingSpaceNames()}}}, {"configuration", text}})}};
    return schema;
}

/// A file of a library: its format, the version, and its own fields.
Json entry(const char* format, const Json& fields, const std::vector<const char*>& required) {
    Json file{{"format", {{"const", format}}}, {"version", {{"type", "integer"}, {"minimum", 1}}}};
    file.update(fields);
    Json needed{"format", "version"};
    for (const char* one : required) needed.push_back(one);
    return {{"type", "object"}, {"properties", std::move(file)}, {"required", std::move(needed)}};
}

}  // namespace

std::string projectSchema() {
    Json schema = projectBody();
    schema["$defs"] = definitions();
    return schema.dump(2) + "\n";
}

std::string librarySchema() {
    const Json text{{"type", "string"}}, number{{"type", "number"}};
    Json defs = definitions();
    defs["project"] = projectBody();
    const Json recipe = defs["recipe"]["properties"];
    Json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                {"title", "Files of a Pale Kettle library"},
                {"description", "Written by ./kettle docs. Unknown fields are kept."}};
    const Json named{{"name", text}, {"purpose", text}};
    Json layer = named, palette = named;
    layer.update({{"note", text}, {"layers", {{"$ref", "#/$defs/project"}}}});
    palette.update({{"colours", {{"type", "array"}, {"items", text}, {"minItems", 1}}},
                    {"weights", {{"type", "array"}, {"items", number}}}});
    const Json component{{"type", "object"},
                         {"properties",
                          {{"channel", text},
                           {"component", text},
                           {"otherwise", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}},
                           {"inverted", {{"type", "boolean"}}}}}};
    const Json file{
        {"type", "object"},
        {"properties",
         {{"name", text},
          {"components", {{"type", "array"}, {"items", component}, {"minItems", 1}, {"maxItems", 4}}}}},
        {"required", {"name", "components"}}};
    Json arrangement = named;
    arrangement["files"] = {{"type", "array"}, {"items", file}, {"minItems", 1}};
    schema["oneOf"] = {
        entry("pale-kettle-arrangement", arrangement, {"name", "files"}),
        entry("pale-kettle-recipe", recipe, {"id", "kinds", "steps"}),
        entry("pale-kettle-layer", layer, {"name", "layers"}),
        entry("pale-kettle-palette", palette, {"name", "colours"}),
        entry("pale-kettle-ramp", {{"name", text}, {"ramp", {{"$ref", "#/$defs/ramp"}}}}, {"name", "ramp"})};
    schema["$defs"] = std::move(defs);
    return schema.dump(2) + "\n";
}

}  // namespace kettle::batch
