// Height on the model: from its foot to its top, as a mask.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {

StepSpec modelHeightStep() {
    StepSpec spec;
    spec.type = "model-height";
    spec.order = 52;
    spec.name = "Height on the model";
    spec.purpose =
        "Black at the model's foot and white at its top, or the other way round: for damp and dust.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {numberControl("low", "From", 0, 0, 100, "%", "Up to this height it is black.", 1),
                     numberControl("high", "To", 100, 0, 100, "%",
                                   "From this height on it is white. Below From, it is turned round.", 1),
                     toggleControl("smooth", "Smooth ends", true, "Begins and ends softly.")};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.0f} to {:.0f} %", v.number("low"), v.number("high"));
    };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const double low = e.number("low") / 100;
        double width = e.number("high") / 100 - low;
        // Without width it becomes a hard edge.
        if (std::fabs(width) < 1e-5) width = width < 0 ? -1e-5 : 1e-5;
        const Reg t = p.emit(arithmeticOp("saturate"),
                             {p.emit(arithmeticOp("multiply-add"),
                                     {modelFact(p, "height"), e.constant(static_cast<float>(1 / width)),
                                      e.constant(static_cast<float>(-low / width))})});
        const Reg v = e.toggle("smooth") ? p.emit(arithmeticOp("smooth"), {t}) : t;
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
