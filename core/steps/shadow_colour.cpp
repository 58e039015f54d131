// Shadow colour: a darker and richer version of the colour itself where a mask is white, as shade has it,
// in place of black; without a mask, where the model hides itself: h' = h + hue, s' = clamp(s saturation, 0,
// 1), v' = v (1 - darkness), mixed by amount x mask.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/occlusion.h"

namespace kettle {
namespace {
constexpr NumberHandle kHue{"hue"};
constexpr NumberHandle kSaturation{"saturation"};
constexpr NumberHandle kDarkness{"darkness"};
constexpr NumberHandle kSpread{"mask"};  ///< gives way to a line that is joined as mask

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    if (e[kAmount] == 0) return e.input();
    Value hsv = toModel(p, e.input(), Model::Hsv, e.space());
    const auto times = [&](Reg a, double by) {
        return p.emit(arithmeticOp(Arithmetic::Multiply), {a, e.constant(static_cast<float>(by))});
    };
    // As data a hue is 0..1 of a turn; beyond its ends it goes on.
    hsv.r = p.emit(
        arithmeticOp(Arithmetic::Fraction),
        {p.emit(arithmeticOp(Arithmetic::Add), {hsv.r, e.constant(static_cast<float>(e[kHue] / 360))})});
    hsv.g = p.emit(arithmeticOp(Arithmetic::Saturate), {times(hsv.g, std::max(0.0, e[kSaturation]))});
    hsv.b = times(hsv.b, 1 - std::clamp(e[kDarkness], 0.0, 1.0));
    Value shade = fromModel(p, hsv, Model::Hsv, e.space());
    shade.a = e.input().a;
    if (e.feed(kMask) != nullptr) return mixByAmount(e, e.input(), shade);
    const float spread = static_cast<float>(std::clamp(std::fabs(e[kSpread]), 1e-3, 1e6));
    const Reg weight = times(meshAttribute(p, AmbientOcclusion{spread, 1}), e[kAmount]);
    const auto mixed = [&](Reg from, Reg to) {
        return p.emit(arithmeticOp(Arithmetic::Mix), {from, to, weight});
    };
    return {Kind::Colour, mixed(e.input().r, shade.r), mixed(e.input().g, shade.g),
            mixed(e.input().b, shade.b), e.input().a};
}

}  // namespace

StepSpec shadowColourStep() {
    StepSpec spec;
    spec.type = kShadowColour;
    spec.order = 118;
    spec.name = "Shadow colour";
    spec.purpose = "Lays shade into a colour as a darker, richer version of itself instead of black.";
    spec.kinds = {Kind::Colour};
    spec.controls = {
        amountControl(1.0),
        numberControl(kSpread, "Spread", 3, 0.1, 20, "cm",
                      "How far away the model still shades itself. A line that is joined as mask "
                      "takes its place."),
        numberControl(kDarkness, "Darkness", 0.55, 0, 1, "", "How much of its light the shade loses."),
        numberControl(kSaturation, "Saturation", 1.25, 0, 2, "×", "How much richer it is."),
        numberControl(kHue, "Hue pull", 0, -60, 60, "°", "Turns the shade's hue, towards warm or cold.", 1)};
    spec.controls.back().track = SliderTrack::HueTurned;
    spec.feeds = {maskFeed("Where the shade lies: white fully. Without one, where the model hides itself.")};
    spec.onModel = [](const StepView& v) { return v.feed(kMask) == nullptr; };
    spec.example = {kDarkness(0.7)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kAmount] * v[kDarkness]); };
    spec.noEffect = [](const StepView& v) -> std::string {
        if (v[kDarkness] == 0 && v[kSaturation] == 1 && v[kHue] == 0) return "the shade is the colour itself";
        return amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
