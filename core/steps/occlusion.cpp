// Occlusion: how hidden each place of the model is by the model itself, as a mask. Cosine-weighted rays over
// the hemisphere, each counting 1 - (distance / spread)^falloff up to the spread.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {

StepSpec occlusionStep() {
    StepSpec spec;
    spec.type = "occlusion";
    spec.order = 46;
    spec.name = "Occlusion";
    spec.purpose = "White in the corners and under what stands over a place: where dirt and shade gather.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {
        numberControl("spread", "Spread", 3, 0.1, 20, "cm", "How far away anything still counts.", 2),
        numberControl("falloff", "Falloff", 1, 0.2, 4, "",
                      "Below 1 only what is near counts; above 1 all up to the spread."),
        numberControl("strength", "Strength", 1, 0, 4, "×", "Makes it whiter, up to 1."),
        toggleControl("open", "White is open", false,
                      "Turned round, as an occlusion map has it: white is open.")};
    spec.telling = [](const StepView& v) { return fmt::format("{:.1f} cm", v.number("spread")); };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const float spread = static_cast<float>(std::clamp(std::fabs(e.number("spread")), 1e-3, 1e6));
        const Reg hidden = modelFact(
            p, "hidden", 0, {spread, static_cast<float>(std::clamp(e.number("falloff"), 0.01, 100.0))});
        Reg v = p.emit(arithmeticOp("saturate"),
                       {p.emit(arithmeticOp("multiply"), {hidden, e.constant(e.real("strength"))})});
        if (e.toggle("open")) v = p.emit(arithmeticOp("one-minus"), {v});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
