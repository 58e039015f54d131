// Aim: brings an area's mean onto a wanted colour, by hue, saturation and value or by a gain of each
// component. The shift is solved from the two colours; the trims are what the spread of the area needs on
// top, so that the mean itself lands (analysis/matching.h solves them from the area's pixels).
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/emitting.h"
#include "core/steps/hsv_shift.h"

namespace kettle {

StepSpec hsvShiftStep();  // what turns and scales

namespace {
constexpr ColourHandle kFrom{"from"};
constexpr ColourHandle kTo{"to"};
constexpr NumberHandle kTrimHue{"trim-hue"};
constexpr NumberHandle kTrimSaturation{"trim-saturation"};
constexpr NumberHandle kTrimValue{"trim-value"};
/// What is changed to bring one colour onto the other.
enum class AimBy { Hsv, Gain };
constexpr Option<AimBy> kAimBys[] = {{AimBy::Hsv, "hsv", "HSV"}, {AimBy::Gain, "gain", "component gains"}};
constexpr ChoiceHandle<AimBy> kBy{"by", kAimBys};

struct Solved {
    float hue = 0, saturation = 1, value = 1;  ///< degrees, factors
};

Solved solveHsv(const StepView& v) {
    const Colour a = v[kFrom], b = v[kTo];
    const Hsv from = hsvOf({a.r, a.g, a.b}), to = hsvOf({b.r, b.g, b.b});
    Solved s;
    // A grey has no hue to turn from or to, and no saturation to scale.
    if (from.saturation > 1e-6f && to.saturation > 1e-6f) s.hue = to.hue - from.hue;
    if (from.saturation > 1e-6f) s.saturation = to.saturation / from.saturation;
    if (from.value > 1e-6f) s.value = to.value / from.value;
    s.hue += v.real(kTrimHue);
    s.saturation *= v.real(kTrimSaturation);
    s.value *= v.real(kTrimValue);
    if (s.hue > 180) s.hue -= 360;
    if (s.hue < -180) s.hue += 360;
    return s;
}

bool byGain(const StepView& v) {
    return v[kBy] == AimBy::Gain;
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    if (byGain(e)) {
        // In the working space, so that gain and mean belong together.
        const Vec3 from = e.workingColour(kFrom), to = e.workingColour(kTo);
        const auto gain = [&](Reg x, float a, float b) {
            return p.emit(arithmeticOp(Arithmetic::Multiply), {x, e.constant(a > 1e-6f ? b / a : 1.0f)});
        };
        return mixByAmount(e, in,
                           {Kind::Colour, gain(in.r, from.x, to.x), gain(in.g, from.y, to.y),
                            gain(in.b, from.z, to.z), in.a});
    }
    // An HSV shift with the solved numbers, in linear light.
    static const StepSpec shift = hsvShiftStep();
    const Solved s = solveHsv(e);
    Step step = e.step();
    step.controls = {hsv_shift::kHue(static_cast<double>(s.hue)),
                     hsv_shift::kSaturation(static_cast<double>(s.saturation)),
                     hsv_shift::kValue(static_cast<double>(s.value)), kWorksIn(NumberSpace::LinearLight),
                     kAmount(e[kAmount])};
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
    const auto trim = [](ControlSpec c) { return shownWhile(kBy, {AimBy::Hsv}, std::move(c)); };
    spec.controls = {
        colourControl(kFrom, "Area's mean", {0.5f, 0.5f, 0.5f},
                      "The mean colour of the area as it comes in; pick it from the picture."),
        colourControl(kTo, "Wanted", {0.5f, 0.5f, 0.5f}, "The colour that the mean lands on."),
        choiceControl(kBy, "By", AimBy::Hsv, "What is changed to get there."),
        amountControl(1.0),
        trim(numberControl(kTrimHue, "Trim hue", 0, -30, 30, "°", "Turned on top of the solved hue.", 1)),
        trim(numberControl(kTrimSaturation, "Trim saturation", 1, 0.5, 2, "×",
                           "On top of the solved saturation.")),
        trim(numberControl(kTrimValue, "Trim value", 1, 0.5, 2, "×", "On top of the solved value."))};
    spec.feeds = {maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {kFrom({0.45f, 0.06f, 0.04f}), kTo({0.1f, 0.3f, 0.28f})};
    spec.telling = [](const StepView& v) {
        const Colour c = v[kTo];
        return "to " + hexOfLinear(c.r, c.g, c.b);
    };
    spec.aim = {kFrom,           kTo,        kTrimHue,
                kTrimSaturation, kTrimValue, [](const StepView& v) { return !byGain(v); }};
    spec.noEffect = [](const StepView& v) {
        std::string reason = amountReason(v);
        if (!reason.empty()) return reason;
        const bool trimmed =
            !byGain(v) && (v[kTrimHue] != 0 || v[kTrimSaturation] != 1 || v[kTrimValue] != 1);
        return std::string(v[kFrom] == v[kTo] && !trimmed ? "the area's mean is the wanted colour" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
