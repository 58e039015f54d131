// Tone: offset, gain, exposure, contrast about a pivot and gamma, in this order, per component.
//   x = (x + offset) * gain * 2^exposure;  x = (x - pivot) * contrast + pivot;  y = sign(x) |x|^(1 / gamma)
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/tone.h"

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
using namespace tone;
constexpr NumberHandle kPivot{"pivot"};

HWY_EXPORT(Tone);
const Op kTone{"tone", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Tone)(k); }};

bool isNeutral(const StepView& v) {
    return v[kExposure] == 0 && v[kContrast] == 1 && v[kGamma] == 1 && v[kGain] == 1 && v[kOffset] == 0;
}

std::string telling(const StepView& v) {
    if (v[kExposure] != 0) return fmt::format("{:+.2f} EV", v[kExposure]);
    if (v[kContrast] != 1) return fmt::format("contrast {:.2f}", v[kContrast]);
    if (v[kGamma] != 1) return fmt::format("gamma {:.2f}", v[kGamma]);
    if (v[kGain] != 1) return fmt::format("gain {:.2f}", v[kGain]);
    if (v[kOffset] != 0) return fmt::format("offset {:+.2f}", v[kOffset]);
    return "neutral";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    const std::vector<float> params{e.real(kOffset), static_cast<float>(e[kGain] * std::exp2(e[kExposure])),
                                    e.real(kContrast), e.real(kPivot),
                                    static_cast<float>(1 / std::max(e[kGamma], 0.01))};
    return mixByAmount(e, in, lightOfWorking(e, eachComponent(p, workingNumbers(e, in), kTone, params)));
}
}  // namespace

StepSpec toneStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 110;
    spec.name = "Tone";
    spec.purpose = "Exposure, contrast, gamma, gain and offset.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {
        numberControl(kExposure, "Exposure", 0, -4, 4, " EV", "Each EV, a stop, doubles the light."),
        numberControl(kContrast, "Contrast", 1, 0, 3, "×", "Spreads the values around the pivot."),
        numberControl(kPivot, "Pivot", 0.18, 0, 1, "",
                      "What contrast leaves alone: 0.18 is mid grey in light, 0.5 in display numbers.", 3),
        numberControl(kGamma, "Gamma", 1, 0.2, 4, "", "Above 1 lifts the middle, below 1 lowers it."),
        numberControl(kGain, "Gain", 1, 0, 4, "×", "Multiplies every component."),
        numberControl(kOffset, "Offset", 0, -1, 1, "", "Is added first.", 3),
        amountControl(1.0),
        worksInControl(NumberSpace::LinearLight)};
    spec.feeds = {maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {kExposure(0.7), kContrast(1.3)};
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
