// Component: one component of a colour as a grey line.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

NumberSpace numbersOf(const StepView& v) {
    return v.toggle("encoded") ? NumberSpace::DisplayEncoded : NumberSpace::LinearLight;
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const auto of = e.fed("of", Kind::Colour);
    if (!of) return {Kind::Scalar, e.constant(0.5f), e.constant(0.5f), e.constant(0.5f), kNoReg};
    // Version 1 took every component of light, and encoded hues as well.
    if (e.step().version == 1 && e.toggle("encoded") && of->kind == Kind::Colour) {
        const Reg light = componentOf(p, *of, e.choice("component"), e.space());
        return encodeValue(p, {Kind::Scalar, light, light, light, kNoReg});
    }
    const Reg one = componentOf(p, *of, e.choice("component"), e.space(), numbersOf(e));
    return {Kind::Scalar, one, one, one, kNoReg};
}

}  // namespace

StepSpec componentStep() {
    StepSpec spec;
    spec.type = "component";
    spec.order = 50;
    spec.name = "Component";
    spec.purpose = "One component of a colour line as grey.";
    spec.source = true;
    spec.kinds = {Kind::Scalar};
    spec.controls = {
        choiceControl("component", "Component", "luminance", componentChoices(),
                      "What is read of the colour. A hue is 0 to 1 for a full turn."),
        toggleControl("encoded", "As displayed", true,
                      "The number as a display has it, so that mid grey is near a half. Off: the "
                      "number of linear light.")};
    spec.controls.back().earlier.push_back({1, false});
    spec.reads = [](const StepView& v) { return Reading{"of", v.choice("component"), "rgb", numbersOf(v)}; };
    spec.version = 2;
    spec.changed = "The component is the one that a display has, where it was of linear light.";
    spec.feeds = {{"of", "Of", Kind::Colour, "The colour line that is read.", true}};
    spec.example = {{"component", std::string("saturation")}};
    spec.telling = [](const StepView& v) { return v.choice("component"); };
    spec.noEffect = [](const StepView& v) {
        return std::string(v.feed("of") == nullptr ? "nothing is joined to of" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
