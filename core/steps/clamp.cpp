// Clamp: keeps numbers between two ends.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Value& in = e.input();
    const Reg low = e.constant(e.real("low")), high = e.constant(e.real("high"));
    const auto limit = [&](Reg x) { return p.emit(arithmeticOp("clamp"), {x, low, high}); };
    Value out = in;
    out.r = limit(in.r);
    out.g = in.kind == Kind::Scalar ? out.r : limit(in.g);
    out.b = in.kind == Kind::Scalar ? out.r : limit(in.b);
    return out;
}

}  // namespace

StepSpec clampStep() {
    StepSpec spec;
    spec.type = "clamp";
    spec.order = 220;
    spec.name = "Clamp";
    spec.purpose = "Keeps every number between two ends.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {numberControl("low", "Low", 0, 0, 1, "", "Nothing goes out below this.", 3),
                     numberControl("high", "High", 1, 0, 1, "", "Nothing goes out above this.", 3)};
    for (ControlSpec& c : spec.controls) c.track = SliderTrack::Grey;
    spec.example = {{"low", 0.1}, {"high", 0.35}};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.2f} to {:.2f}", v.number("low"), v.number("high"));
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
