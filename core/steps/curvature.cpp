// Curvature: edges and hollows of the model as a mask, from the mean curvature over a spread.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
enum class Bend { Edges, Hollows, Both };
constexpr Option<Bend> kBends[] = {{Bend::Edges, "edges", "edges"},
                                   {Bend::Hollows, "hollows", "hollows"},
                                   {Bend::Both, "both", "both around grey"}};
constexpr ChoiceHandle<Bend> kReading{"reading", kBends};
constexpr NumberHandle kSpread{"spread"};
constexpr NumberHandle kStrength{"strength"};
}  // namespace

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
    spec.controls = {choiceControl(kReading, "Reads", Bend::Edges,
                                   "Both: edges are light, hollows dark, and what is even is mid grey."),
                     numberControl(kSpread, "Spread", 0.6, 0.1, 5, "cm",
                                   "How wide around a place its bend is measured.", 2),
                     numberControl(kStrength, "Strength", 1.2, 0, 6, "×", "1 makes a right angle white.")};
    spec.telling = [](const StepView& v) {
        return fmt::format("{}, {:.1f} cm", kReading.idOf(v[kReading]), v[kSpread]);
    };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const float spread = static_cast<float>(std::clamp(std::fabs(e[kSpread]), 1e-3, 1e6));
        const Reg bend = meshAttribute(p, MeanCurvature{spread});
        const Bend reading = e[kReading];
        // A right angle bends by about 1.2 over its spread.
        const float scale = e.real(kStrength) / 1.2f *
                            (reading == Bend::Hollows ? -1.0f
                             : reading == Bend::Both  ? 0.5f
                                                      : 1.0f);
        const Reg v =
            p.emit(arithmeticOp(Arithmetic::Saturate),
                   {p.emit(arithmeticOp(Arithmetic::MultiplyAdd),
                           {bend, e.constant(scale), e.constant(reading == Bend::Both ? 0.5f : 0.0f)})});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
