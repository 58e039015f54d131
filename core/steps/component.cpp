// Component: one component of a colour as a grey line.
#include <fmt/format.h>

#include "core/steps/component.h"
#include "core/steps/emitting.h"

namespace kettle {
namespace {
using namespace component_step;

NumberSpace numbersOf(const StepView& v) {
    return v[kEncoded] ? NumberSpace::DisplayEncoded : NumberSpace::LinearLight;
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const auto of = e.fed(kOf, Kind::Colour);
    if (!of) return {Kind::Scalar, e.constant(0.5f), e.constant(0.5f), e.constant(0.5f), kNoReg};
    // Version 1 took every component of light, and encoded hues as well.
    if (e.step().version == 1 && e[kEncoded] && of->kind == Kind::Colour) {
        const Reg light = componentOf(p, *of, e[kComponent], e.space());
        return encodeValue(p, {Kind::Scalar, light, light, light, kNoReg});
    }
    const Reg one = componentOf(p, *of, e[kComponent], e.space(), numbersOf(e));
    return {Kind::Scalar, one, one, one, kNoReg};
}

}  // namespace

StepSpec componentStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 50;
    spec.name = "Component";
    spec.purpose = "One component of a colour line as grey.";
    spec.source = true;
    spec.kinds = {Kind::Scalar};
    spec.controls = {
        choiceControl(kComponent, "Component", Component::Luminance,
                      "What is read of the colour. A hue is 0 to 1 for a full turn."),
        toggleControl(kEncoded, "As displayed", true,
                      "The number as a display has it, so that mid grey is near a half. Off: the "
                      "number of linear light.")};
    spec.controls.back().earlier.push_back({1, false});
    spec.reads = [](const StepView& v) { return Reading{kOf.id, v[kComponent], Model::Rgb, numbersOf(v)}; };
    spec.version = 2;
    spec.changed = "The component is the one that a display has, where it was of linear light.";
    spec.feeds = {{kOf.id, "Of", Kind::Colour, "The colour line that is read.", true}};
    spec.example = {kComponent(Component::Saturation)};
    spec.telling = [](const StepView& v) { return std::string(idOf(v[kComponent])); };
    spec.noEffect = [](const StepView& v) {
        return std::string(v.feed(kOf) == nullptr ? "nothing is joined to of" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
