// Occlusion: how hidden each place of the model is by the model itself, as a mask. Cosine-weighted rays over
// the hemisphere, each counting 1 - (distance / spread)^falloff up to the spread.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/occlusion.h"

namespace kettle {
namespace {
constexpr NumberHandle kSpread{"spread"};
constexpr NumberHandle kFalloff{"falloff"};
constexpr NumberHandle kStrength{"strength"};
constexpr ToggleHandle kOpen{"open"};
}  // namespace

StepSpec occlusionStep() {
    StepSpec spec;
    spec.type = kOcclusion;
    spec.order = 46;
    spec.name = "Occlusion";
    spec.purpose = "White in the corners and under what stands over a place: where dirt and shade gather.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {
        numberControl(kSpread, "Spread", 3, 0.1, 20, "cm", "How far away anything still counts.", 2),
        numberControl(kFalloff, "Falloff", 1, 0.2, 4, "",
                      "Below 1 only what is near counts; above 1 all up to the spread."),
        numberControl(kStrength, "Strength", 1, 0, 4, "×", "Makes it whiter, up to 1."),
        toggleControl(kOpen, "White is open", false,
                      "Turned round, as an occlusion map has it: white is open.")};
    spec.telling = [](const StepView& v) { return fmt::format("{:.1f} cm", v[kSpread]); };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const float spread = static_cast<float>(std::clamp(std::fabs(e[kSpread]), 1e-3, 1e6));
        const Reg hidden = meshAttribute(
            p, AmbientOcclusion{spread, static_cast<float>(std::clamp(e[kFalloff], 0.01, 100.0))});
        Reg v = p.emit(arithmeticOp(Arithmetic::Saturate),
                       {p.emit(arithmeticOp(Arithmetic::Multiply), {hidden, e.constant(e.real(kStrength))})});
        if (e[kOpen]) v = p.emit(arithmeticOp(Arithmetic::OneMinus), {v});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
