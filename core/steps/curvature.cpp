// Curvature: edges and hollows of the model as a mask, from the mean curvature over a spread.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {

StepSpec curvatureStep() {
    StepSpec spec;
    spec.type = "curvature";
    spec.order = 48;
    spec.name = "Curvature";
    spec.purpose =
        "White on the model's edges, in its hollows, or both: where it wears and where dirt stays.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {choiceControl("reading", "Reads", "edges",
                                   {{"edges", "edges"}, {"hollows", "hollows"}, {"both", "both around grey"}},
                                   "Both: edges are light, hollows dark, and what is even is mid grey."),
                     numberControl("spread", "Spread", 0.6, 0.1, 5, "cm",
                                   "How wide around a place its bend is measured.", 2),
                     numberControl("strength", "Strength", 1.2, 0, 6, "×", "1 makes a right angle white.")};
    spec.telling = [](const StepView& v) {
        return fmt::format("{}, {:.1f} cm", v.choice("reading"), v.number("spread"));
    };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const float spread = static_cast<float>(std::clamp(std::fabs(e.number("spread")), 1e-3, 1e6));
        const Reg bend = modelFact(p, "curvature", 0, {spread, 0});
        const std::string& reading = e.choice("reading");
        // A right angle bends by about 1.2 over its spread.
        const float scale = e.real("strength") / 1.2f *
                            (reading == "hollows" ? -1.0f
                             : reading == "both"  ? 0.5f
                                                  : 1.0f);
        const Reg v =
            p.emit(arithmeticOp("saturate"),
                   {p.emit(arithmeticOp("multiply-add"),
                           {bend, e.constant(scale), e.constant(reading == "both" ? 0.5f : 0.0f)})});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
