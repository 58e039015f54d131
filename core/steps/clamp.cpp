// Clamp: keeps numbers between two ends.
#include <fmt/format.h>

#include "core/steps/clamp.h"
#include "core/steps/emitting.h"

namespace kettle {
namespace {
using namespace clamp;

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Value& in = e.input();
    const Reg low = e.constant(e.real(kLow)), high = e.constant(e.real(kHigh));
    const auto limit = [&](Reg x) { return p.emit(arithmeticOp(Arithmetic::Clamp), {x, low, high}); };
    Value out = in;
    out.r = limit(in.r);
    out.g = in.kind == Kind::Scalar ? out.r : limit(in.g);
    out.b = in.kind == Kind::Scalar ? out.r : limit(in.b);
    return out;
}

}  // namespace

StepSpec clampStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 220;
    spec.name = "Clamp";
    spec.purpose = "Keeps every number between two ends.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {numberControl(kLow, "Low", 0, 0, 1, "", "Nothing goes out below this.", 3),
                     numberControl(kHigh, "High", 1, 0, 1, "", "Nothing goes out above this.", 3)};
    for (ControlSpec& c : spec.controls) c.track = SliderTrack::Grey;
    spec.example = {kLow(0.1), kHigh(0.35)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f} to {:.2f}", v[kLow], v[kHigh]); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
