// Aim: brings an area's mean onto a wanted colour, by hue, saturation and value or by a gain of each
// component. The shift is solved from the two colours; the trims are what the spread of the area needs on
// top, so that the mean itself lands (analysis/matching.h solves them from the area's pixels).
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/emitting.h"

namespace kettle {

StepSpec hsvShiftStep();  // what turns and scales

namespace {

struct Solved {
    float hue = 0, saturation = 1, value = 1;  ///< degrees, factors
};

Solved solveHsv(const StepView& v) {
    const Colour a = v.colour("from"), b = v.colour("to");
    const Hsv from = hsvOf({a.r, a.g, a.b}), to = hsvOf({b.r, b.g, b.b});
    Solved s;
    // A grey has no hue to turn from or to, and no saturation to scale.
    if (from.saturation > 1e-6f && to.saturation > 1e-6f) s.hue = to.hue - from.hue;
    if (from.saturation > 1e-6f) s.saturation = to.saturation / from.saturation;
    if (from.value > 1e-6f) s.value = to.value / from.value;
    s.hue += v.real("trim-hue");
    s.saturation *= v.real("trim-saturation");
    s.value *= v.real("trim-value");
    if (s.hue > 180) s.hue -= 360;
    if (s.hue < -180) s.hue += 360;
    return s;
}

bool byGain(const StepView& v) {
    return v.choice("by") == "gain";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    if (byGain(e)) {
        // In the working space, so that gain and mean belong together.
        const Vec3 from = e.workingColour("from"), to = e.workingColour("to");
        const auto gain = [&](Reg x, float a, float b) {
            return p.emit(arithmeticOp("multiply"), {x, e.constant(a > 1e-6f ? b / a : 1.0f)});
        };
        return mixByAmount(e, in,
                           {Kind::Colour, gain(in.r, from.x, to.x), gain(in.g, from.y, to.y),
                            gain(in.b, from.z, to.z), in.a});
    }
    // An HSV shift with the solved numbers, in linear light.
    static const StepSpec shift = hsvShiftStep();
    const Solved s = solveHsv(e);
    Step step = e.step();
    step.controls = {{"hue", static_cast<double>(s.hue)},
                     {"saturation", static_cast<double>(s.saturation)},
                     {"value", static_cast<double>(s.value)},
                     {"works-in", std::string("linear")},
                     {"amount", e.number("amount")}};
    Emitter inner = e.as(StepView(shift, step, e.kind()));
    return shift.emit(inner);
}
}  // namespace

StepSpec aimStep() {
    StepSpec spec;
    spec.type = "aim";
    spec.order = 140;
    spec.name = "Aim";
    spec.purpose = "Brings an area's mean onto a wanted colour.";
    spec.kinds = {Kind::Colour};
    spec.editor = StepEditor::PickArea;
    ControlSpec from{"from", "Area's mean", ControlType::Colour, Colour{0.5f, 0.5f, 0.5f}};
    from.tip = "The mean colour of the area as it comes in; pick it from the picture.";
    ControlSpec to{"to", "Wanted", ControlType::Colour, Colour{0.5f, 0.5f, 0.5f}};
    to.tip = "The colour that the mean lands on.";
    spec.controls = {
        from,
        to,
        choiceControl("by", "By", "hsv", {{"hsv", "HSV"}, {"gain", "component gains"}},
                      "What is changed to get there."),
        amountControl(1.0),
        numberControl("trim-hue", "Trim hue", 0, -30, 30, "°", "Turned on top of the solved hue.", 1),
        numberControl("trim-saturation", "Trim saturation", 1, 0.5, 2, "×",
                      "On top of the solved saturation."),
        numberControl("trim-value", "Trim value", 1, 0.5, 2, "×", "On top of the solved value.")};
    for (ControlSpec& c : spec.controls)
        if (c.id.starts_with("trim-")) c.shownBy = "by", c.shownFor = {"hsv"};
    spec.feeds = {maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {{"from", Colour{0.45f, 0.06f, 0.04f}}, {"to", Colour{0.1f, 0.3f, 0.28f}}};
    spec.telling = [](const StepView& v) {
        const Colour c = v.colour("to");
        return "to " + hexOfLinear(c.r, c.g, c.b);
    };
    spec.aim = {"from",       "to",
                "trim-hue",   "trim-saturation",
                "trim-value", [](const StepView& v) { return !byGain(v); }};
    spec.noEffect = [](const StepView& v) {
        std::string reason = amountReason(v);
        if (!reason.empty()) return reason;
        const bool trimmed = !byGain(v) && (v.number("trim-hue") != 0 || v.number("trim-saturation") != 1 ||
                                            v.number("trim-value") != 1);
        return std::string(
            v.colour("from") == v.colour("to") && !trimmed ? "the area's mean is the wanted colour" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
