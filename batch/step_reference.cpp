// The step reference (docs/steps.md), written from the catalogue's own declarations.
#include <fmt/format.h>

#include "batch/commands.h"
#include "core/steps/step.h"

namespace kettle::batch {
namespace {

std::string standardOf(const ControlSpec& control) {
    switch (control.type) {
        case ControlType::Number: return fmt::format("{}{}", std::get<double>(control.standard), control.unit);
        case ControlType::Toggle: return std::get<bool>(control.standard) ? "on" : "off";
        case ControlType::Colour: return "mid grey";
        case ControlType::Ramp: return "black to white";
        case ControlType::Choice: break;
    }
    for (const Choice& choice : control.choices)
        if (choice.id == std::get<std::string>(control.standard)) return choice.name;
    return "";
}

std::string rangeOf(const ControlSpec& control) {
    if (control.type == ControlType::Number) return fmt::format("{} to {}{}", control.low, control.high, control.unit);
    std::string text;
    for (const Choice& choice : control.choices)
        text += (text.empty() ? "" : ", ") + fmt::format("{} (`{}`)", choice.name, choice.id);
    return text;
}

}  // namespace

std::string stepReference() {
    std::string text =
        "# The steps\n\nWritten by `pale-kettle-batch steps` from the steps' own declarations. The range is the slider's; a "
        "typed number may exceed it.\n";
    for (const StepSpec& spec : catalogue()) {
        std::string kinds;
        for (const Kind kind : spec.kinds) kinds += (kinds.empty() ? "" : ", ") + std::string(nameOf(kind));
        text += fmt::format("\n## {}\n\n{} Type `{}`; {} lines: {}.\n", spec.name, spec.purpose, spec.type,
                            spec.source ? "starts" : "fits", kinds);
        if (!spec.controls.empty())
            text += "\n| control | id | default | range or choices | |\n|---|---|---|---|---|\n";
        for (const ControlSpec& c : spec.controls)
            text += fmt::format("| {} | `{}` | {} | {} | {}{} |\n", c.name, c.id, standardOf(c), rangeOf(c), c.tip,
                                c.colourOnly ? " Colour lines only." : "");
        if (!spec.feeds.empty()) text += "\n| feed | id | kind | |\n|---|---|---|---|\n";
        for (const FeedSpec& f : spec.feeds)
            text += fmt::format("| {} | `{}` | {} | {} |\n", f.name, f.id, f.kind ? nameOf(*f.kind) : "like the line", f.tip);
    }
    return text;
}

}  // namespace kettle::batch
