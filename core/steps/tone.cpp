// Tone: offset, gain, exposure, contrast about a pivot and gamma, in this order, per component.
//   x = (x + offset) * gain * 2^exposure;  x = (x - pivot) * contrast + pivot;  y = sign(x) |x|^(1 / gamma)
#include <fmt/format.h>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/tone.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// params: offset, gain * 2^exposure, contrast, pivot, 1 / gamma
void Tone(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto offset = hn::Set(d, k.params[0]), gain = hn::Set(d, k.params[1]);
    const auto contrast = hn::Set(d, k.params[2]), pivot = hn::Set(d, k.params[3]),
               power = hn::Set(d, k.params[4]);
    const bool bend = k.params[4] != 1.0f, spread = k.params[2] != 1.0f;
    for (const std::size_t i : VectorsOf(d, k)) {
        auto x = hn::Mul(hn::Add(hn::Load(d, k.in[0] + i), offset), gain);
        if (spread) x = hn::MulAdd(hn::Sub(x, pivot), contrast, pivot);
        if (bend) x = hn::CopySign(PowPositive(d, hn::Abs(x), power), x);
        hn::Store(x, d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(Tone);
const Op kTone{"tone", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Tone)(k); }};

bool isNeutral(const StepView& v) {
    return v.number("exposure") == 0 && v.number("contrast") == 1 && v.number("gamma") == 1 &&
           v.number("gain") == 1 && v.number("offset") == 0;
}

std::string telling(const StepView& v) {
    if (v.number("exposure") != 0) return fmt::format("{:+.2f} EV", v.number("exposure"));
    if (v.number("contrast") != 1) return fmt::format("contrast {:.2f}", v.number("contrast"));
    if (v.number("gamma") != 1) return fmt::format("gamma {:.2f}", v.number("gamma"));
    if (v.number("gain") != 1) return fmt::format("gain {:.2f}", v.number("gain"));
    if (v.number("offset") != 0) return fmt::format("offset {:+.2f}", v.number("offset"));
    return "neutral";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    const std::vector<float> params{
        e.real("offset"), static_cast<float>(e.number("gain") * std::exp2(e.number("exposure"))),
        e.real("contrast"), e.real("pivot"), static_cast<float>(1 / std::max(e.number("gamma"), 0.01))};
    return mixByAmount(e, in, lightOfWorking(e, eachComponent(p, workingNumbers(e, in), kTone, params)));
}
}  // namespace

StepSpec toneStep() {
    StepSpec spec;
    spec.type = "tone";
    spec.order = 110;
    spec.name = "Tone";
    spec.purpose = "Exposure, contrast, gamma, gain and offset.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {
        numberControl("exposure", "Exposure", 0, -4, 4, " EV", "Each EV, a stop, doubles the light."),
        numberControl("contrast", "Contrast", 1, 0, 3, "×", "Spreads the values around the pivot."),
        numberControl("pivot", "Pivot", 0.18, 0, 1, "",
                      "What contrast leaves alone: 0.18 is mid grey in light, 0.5 in display numbers.", 3),
        numberControl("gamma", "Gamma", 1, 0.2, 4, "", "Above 1 lifts the middle, below 1 lowers it."),
        numberControl("gain", "Gain", 1, 0, 4, "×", "Multiplies every component."),
        numberControl("offset", "Offset", 0, -1, 1, "", "Is added first.", 3),
        amountControl(1.0),
        worksInControl(NumberSpace::LinearLight)};
    spec.feeds = {maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {{"exposure", 0.7}, {"contrast", 1.3}};
    spec.telling = telling;
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? "all controls are neutral" : reason;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
