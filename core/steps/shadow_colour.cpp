// Shadow colour: a darker and richer version of the colour itself where a mask is white, as shade has it,
// in place of black; without a mask, where the model hides itself: h' = h + hue, s' = clamp(s saturation, 0,
// 1), v' = v (1 - darkness), mixed by amount x mask.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    if (e.number("amount") == 0) return e.input();
    Value hsv = toModel(p, e.input(), Model::Hsv, e.space());
    const auto times = [&](Reg a, double by) {
        return p.emit(arithmeticOp("multiply"), {a, e.constant(static_cast<float>(by))});
    };
    // As data a hue is 0..1 of a turn; beyond its ends it goes on.
    hsv.r =
        p.emit(arithmeticOp("fract"),
               {p.emit(arithmeticOp("add"), {hsv.r, e.constant(static_cast<float>(e.number("hue") / 360))})});
    hsv.g = p.emit(arithmeticOp("saturate"), {times(hsv.g, std::max(0.0, e.number("saturation")))});
    hsv.b = times(hsv.b, 1 - std::clamp(e.number("darkness"), 0.0, 1.0));
    Value shade = fromModel(p, hsv, Model::Hsv, e.space());
    shade.a = e.input().a;
    if (e.feed("mask") != nullptr) return mixByAmount(e, e.input(), shade);
    const float spread = static_cast<float>(std::clamp(std::fabs(e.number("mask")), 1e-3, 1e6));
    const Reg weight = times(modelFact(p, "hidden", 0, {spread, 1}), e.number("amount"));
    const auto mixed = [&](Reg from, Reg to) { return p.emit(arithmeticOp("mix"), {from, to, weight}); };
    return {Kind::Colour, mixed(e.input().r, shade.r), mixed(e.input().g, shade.g),
            mixed(e.input().b, shade.b), e.input().a};
}

}  // namespace

StepSpec shadowColourStep() {
    StepSpec spec;
    spec.type = "shadow-colour";
    spec.order = 118;
    spec.name = "Shadow colour";
    spec.purpose = "Lays shade into a colour as a darker, richer version of itself instead of black.";
    spec.kinds = {Kind::Colour};
    spec.controls = {
        amountControl(1.0),
        numberControl("mask", "Spread", 3, 0.1, 20, "cm",
                      "How far away the model still shades itself. A line that is joined as mask "
                      "takes its place."),
        numberControl("darkness", "Darkness", 0.55, 0, 1, "", "How much of its light the shade loses."),
        numberControl("saturation", "Saturation", 1.25, 0, 2, "×", "How much richer it is."),
        numberControl("hue", "Hue pull", 0, -60, 60, "°", "Turns the shade's hue, towards warm or cold.", 1)};
    spec.controls.back().track = SliderTrack::HueTurned;
    spec.feeds = {maskFeed("Where the shade lies: white fully. Without one, where the model hides itself.")};
    spec.onModel = [](const StepView& v) { return v.feed("mask") == nullptr; };
    spec.example = {{"darkness", 0.7}};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.2f}", v.number("amount") * v.number("darkness"));
    };
    spec.noEffect = [](const StepView& v) -> std::string {
        if (v.number("darkness") == 0 && v.number("saturation") == 1 && v.number("hue") == 0)
            return "the shade is the colour itself";
        return amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
