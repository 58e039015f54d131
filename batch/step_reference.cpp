#include "batch/step_reference.h"

#include <fmt/format.h>

#include "core/analysis/checks.h"
#include "core/document/blend_modes.h"
#include "core/steps/formula_parser.h"
#include "core/steps/step.h"

namespace kettle::batch {
namespace {

std::string standardOf(const ControlSpec& control) {
    switch (control.type) {
        case ControlType::Number:
            return fmt::format("{}{}", std::get<double>(control.standard), control.unit);
        case ControlType::Toggle:
            return std::get<bool>(control.standard) ? "on" : "off";
        case ControlType::Colour:
            return "a colour";
        case ControlType::Triple:
            return "measured";
        case ControlType::Ramp:
            return "black to white";
        case ControlType::Curve:
            return "straight";
        case ControlType::Space:
        case ControlType::Part:
        case ControlType::Text:
            return fmt::format("`{}`", std::get<std::string>(control.standard));
        case ControlType::Choice:
            break;
    }
    for (const Choice& choice : control.choices)
        if (choice.id == std::get<std::string>(control.standard)) return choice.name;
    return "";
}

std::string rangeOf(const ControlSpec& control) {
    if (control.type == ControlType::Number)
        return fmt::format("{} to {}{}", control.low, control.high, control.unit);
    if (control.type == ControlType::Space) return "a space of the colour configuration";
    std::string text;
    for (const Choice& choice : control.choices)
        text += (text.empty() ? "" : ", ") + fmt::format("{} (`{}`)", choice.name, choice.id);
    return text;
}

std::string tablesOf(const StepSpec& spec) {
    std::string text;
    if (!spec.controls.empty())
        text += "\n| control | id | default | range or choices | |\n|---|---|---|---|---|\n";
    for (const ControlSpec& c : spec.controls)
        text += fmt::format("| {} | `{}` | {} | {} | {}{} |\n", c.name, c.id, standardOf(c), rangeOf(c),
                            c.tip, c.colourOnly ? " Colour lines only." : "");
    if (!spec.feeds.empty()) text += "\n| feed | id | kind | |\n|---|---|---|---|\n";
    for (const FeedSpec& f : spec.feeds)
        text += fmt::format("| {} | `{}` | {} | {} |\n", f.name, f.id,
                            f.kind ? nameOf(*f.kind) : "like the line", f.tip);
    return text;
}

std::string modesTable() {
    std::string text =
        "\nThe modes, each with the grain over the kettle:\n\n| | mode | id | group |\n|---|---|---|---|\n";
    for (const BlendModeInfo& m : kBlendModes)
        text += fmt::format("| ![{}](steps/blend-{}.png) | {} | `{}` | {} |\n", m.name, m.id, m.name, m.id,
                            nameOf(m.group));
    return text;
}

std::string formulaTable() {
    std::string text =
        "\nA formula knows numbers, `+ - * / % ^`, comparisons, `&& || !`, `? :`, the names `in a b c d u v "
        "pi`, the "
        "components `.r .g .b .a .h .s .v` of a colour, and:\n\n";
    std::string list;
    for (const std::string& form : formula::functionList())
        list += (list.empty() ? "" : ", ") + fmt::format("`{}`", form);
    return text + list + ".\n";
}

}  // namespace

std::string stepReference() {
    std::string text =
        "# The steps\n\nWritten by `./kettle docs` from the steps' own declarations; the pictures are made "
        "by the engine "
        "from the demo set. A range is the slider's; a typed number may exceed it.\n";
    for (const StepSpec& spec : shippedSteps()) {
        std::string kinds;
        for (const Kind kind : spec.kinds) kinds += (kinds.empty() ? "" : ", ") + std::string(nameOf(kind));
        text += fmt::format("\n## {0}\n\n![{0}](steps/{1}.png)\n\n{2} Type `{1}`; {3} lines: {4}.\n",
                            spec.name, spec.type, spec.purpose, spec.source ? "starts" : "fits", kinds);
        text += tablesOf(spec);
        if (spec.editor == StepEditor::BlendModes) text += modesTable();
        if (spec.editor == StepEditor::Formula) text += formulaTable();
    }
    text += "\n# The checks\n\nWhat the Checks and `pale-kettle-batch check` look for:\n\n";
    for (const CheckInfo& check : checkList()) text += fmt::format("- `{}`: {}\n", check.id, check.purpose);
    return text;
}

nlohmann::ordered_json stepsAsJson() {
    using Json = nlohmann::ordered_json;
    Json steps = Json::array();
    for (const StepSpec& spec : shippedSteps()) {
        Json j{{"type", spec.type},      {"name", spec.name},         {"purpose", spec.purpose},
               {"kinds", Json::array()}, {"controls", Json::array()}, {"feeds", Json::array()}};
        for (const Kind kind : spec.kinds) j["kinds"].push_back(nameOf(kind));
        for (const ControlSpec& c : spec.controls) {
            Json control{{"id", c.id}, {"name", c.name}, {"default", standardOf(c)}};
            if (c.type == ControlType::Number) control["from"] = c.low, control["to"] = c.high;
            if (!c.unit.empty()) control["unit"] = c.unit;
            for (const Choice& choice : c.choices) control["choices"].push_back(choice.id);
            j["controls"].push_back(std::move(control));
        }
        for (const FeedSpec& f : spec.feeds)
            j["feeds"].push_back(
                {{"id", f.id}, {"name", f.name}, {"kind", f.kind ? nameOf(*f.kind) : "like the line"}});
        steps.push_back(std::move(j));
    }
    return steps;
}

}  // namespace kettle::batch
