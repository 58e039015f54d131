// Shadow colour: a darker and richer version of the colour itself where a mask is white, as shade has it,
// in place of black: h' = h + hue, s' = clamp(s saturation, 0, 1), v' = v (1 - darkness), mixed by amount x
// mask.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    if (e.number("amount") == 0 || e.feed("mask") == nullptr) return e.input();
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
    return mixByAmount(e, e.input(), shade);
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
        numberControl("darkness", "Darkness", 0.55, 0, 1, "", "How much of its light the shade loses."),
        numberControl("saturation", "Saturation", 1.25, 0, 2, "×", "How much richer it is."),
        numberControl("hue", "Hue pull", 0, -60, 60, "°", "Turns the shade's hue, towards warm or cold.", 1)};
    spec.controls.back().track = SliderTrack::HueTurned;
    FeedSpec mask = maskFeed("Where the shade lies: white fully. An Occlusion fits.");
    mask.isMain = true;
    spec.feeds = {mask};
    spec.example = {{"darkness", 0.7}};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.2f}", v.number("amount") * v.number("darkness"));
    };
    spec.noEffect = [](const StepView& v) -> std::string {
        if (v.feed("mask") == nullptr) return "no mask is joined that tells where the shade lies";
        if (v.number("darkness") == 0 && v.number("saturation") == 1 && v.number("hue") == 0)
            return "the shade is the colour itself";
        return amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
