// Component: one component of a colour as a grey line.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const auto of = e.fed("of", Kind::Colour);
    if (!of) return {Kind::Scalar, e.constant(0.5f), e.constant(0.5f), e.constant(0.5f), kNoReg};
    Reg one = componentOf(p, *of, e.choice("component"), e.space());
    if (e.toggle("encoded") && of->kind == Kind::Colour)
        one = encodeValue(p, {Kind::Scalar, one, one, one, kNoReg}).r;
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
    spec.controls = {choiceControl("component", "Component", "luminance", componentChoices(),
                                   "What is read of the colour. A hue is 0 to 1 for a full turn."),
                     toggleControl("encoded", "As displayed", false,
                                   "The number as a display has it, so that mid grey is near a half.")};
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
