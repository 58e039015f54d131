// HSV shift: turns the hue, scales saturation and value, by an amount, a mask and, if wanted, a band of hues.
//   h' = h + hue, s' = clamp(s * saturation, 0, 1), v' = v * value; mixed with the input by amount * mask *
//   band.
// Source of the model: A. R. Smith 1978 (models.h). A grey keeps no hue, so it only changes in value.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/hsv_shift.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/hsv_shift.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: r, g, b and, unless full, the mask; params: hue in sixths, [0, 6], saturation, value, amount, then the
/// band's.
/// Weight 0 gives the input bit for bit.
template <bool kBand, bool kFull>
HWY_INLINE void Shift(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto turn = hn::Set(d, k.params[0]), scaleS = hn::Set(d, k.params[1]),
               scaleV = hn::Set(d, k.params[2]);
    const auto amount = hn::Set(d, k.params[3]), one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    const float* in[4];
    float* out[3];
    std::copy_n(k.in, kFull ? 3 : 4, in);
    std::copy_n(k.out, 3, out);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto r = hn::Load(d, in[0] + i), g = hn::Load(d, in[1] + i), b = hn::Load(d, in[2] + i);
        auto weight = kFull ? one : hn::Mul(amount, hn::Load(d, in[3] + i));
        auto h = zero, s = zero, v = zero, x = zero, y = zero, z = zero;
        auto chroma = zero;
        if (kBand) {
            ToHsv(d, r, g, b, h, s, v);
            weight = hn::Mul(weight, HueBandWeight(d, h, s, k.params + 4));
            chroma = hn::Mul(s, v);
        } else {
            ToHueChroma(d, r, g, b, h, chroma, v);
        }
        // v' s' = v value clamp(s saturation, 0, 1) = value clamp(chroma saturation, 0, v).
        chroma = hn::Min(hn::Max(hn::Mul(chroma, scaleS), zero), v);
        FromHueChroma(d, TurnedHue(d, h, turn), hn::Mul(chroma, scaleV), hn::Mul(v, scaleV), x, y, z);
        if (kFull && !kBand) {
            StoreIf(d, x, out[0], i);
            StoreIf(d, y, out[1], i);
            StoreIf(d, z, out[2], i);
            continue;
        }
        const auto keep = hn::Eq(weight, zero);
        StoreIf(d, hn::IfThenElse(keep, r, hn::MulAdd(weight, hn::Sub(x, r), r)), out[0], i);
        StoreIf(d, hn::IfThenElse(keep, g, hn::MulAdd(weight, hn::Sub(y, g), g)), out[1], i);
        StoreIf(d, hn::IfThenElse(keep, b, hn::MulAdd(weight, hn::Sub(z, b), b)), out[2], i);
    }
}
void HsvShift(const KernelCall& k) {
    Shift<false, false>(k);
}
void HsvShiftFull(const KernelCall& k) {
    Shift<false, true>(k);
}
void HsvShiftBand(const KernelCall& k) {
    Shift<true, false>(k);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
using namespace hsv_shift;

HWY_EXPORT(HsvShift);
HWY_EXPORT(HsvShiftFull);
HWY_EXPORT(HsvShiftBand);
const Op kHsvShift{"hsv-shift", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HsvShift)(k); }};
const Op kHsvShiftFull{"hsv-shift", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HsvShiftFull)(k); }};
const Op kHsvShiftBand{"hsv-shift-band", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HsvShiftBand)(k); }};

bool isNeutral(const StepView& v) {
    return std::fmod(v[kHue], 360.0) == 0 && v[kSaturation] == 1 && v[kValue] == 1;
}

std::string telling(const StepView& v) {
    const std::string band = v[kBand] ? fmt::format(" at {:.0f}°", v[kHues.centre]) : "";
    if (v[kHue] != 0) return fmt::format("{:+.0f}°{}", v[kHue], band);
    if (v[kSaturation] != 1) return fmt::format("sat. × {:.2f}{}", v[kSaturation], band);
    if (v[kValue] != 1) return fmt::format("value × {:.2f}{}", v[kValue], band);
    return "neutral";
}

std::string noEffect(const StepView& v) {
    if (std::string reason = amountReason(v); !reason.empty()) return reason;
    return isNeutral(v) ? "hue, saturation and value are neutral" : "";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    // A neutral shift passes colours through untouched, negative ones too, which the model itself would lose.
    if (isNeutral(e) || e[kAmount] == 0) return in;
    const Value from = workingNumbers(e, in);
    const auto mask = e.fed(kMask, Kind::Scalar);
    const double turns = e[kHue] / 360;
    std::vector<float> params{static_cast<float>(6 * (turns - std::floor(turns))), e.real(kSaturation),
                              e.real(kValue), e.real(kAmount)};
    const bool band = e[kBand];
    if (band)
        for (const float p : hueBandParams(e, kHues)) params.push_back(p);
    const bool full = !band && !mask && e[kAmount] == 1;
    std::vector<Reg> inputs{from.r, from.g, from.b};
    if (!full) inputs.push_back(mask ? mask->r : e.constant(1.0f));
    const Reg first = e.program().emit(band   ? kHsvShiftBand
                                       : full ? kHsvShiftFull
                                              : kHsvShift,
                                       inputs, params, 3);
    const Value out{Kind::Colour, first, first + 1, first + 2, in.a};
    return lightOfWorking(e, out);
}
}  // namespace

StepSpec hsvShiftStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 80;
    spec.name = "HSV shift";
    spec.purpose = "Turns the hue, scales saturation and value.";
    spec.kinds = {Kind::Colour};
    spec.editor = StepEditor::HueDial;
    spec.hueBand = HueBandPlace{kHues, kBand};
    spec.controls = {
        numberControl(kHue, "Hue", 0, -180, 180, "°", "How far every hue turns; a full turn is 360°.", 1),
        numberControl(kSaturation, "Saturation", 1, 0, 2, "×", "Multiplies the saturation; 0 is grey."),
        numberControl(kValue, "Value", 1, 0, 2, "×", "Multiplies the value; 0 is black."),
        amountControl(1.0),
        worksInControlSinceVersion2(),
        toggleControl(kBand, "Hue band", false, "Limits the shift to a band of hues.")};
    spec.controls[0].track = SliderTrack::HueTurned;
    spec.controls[1].track = SliderTrack::Saturation;
    spec.controls[2].track = SliderTrack::Brightness;
    for (ControlSpec& c : hueBandControls(kHues)) {
        c.colourOnly = true;
        spec.controls.push_back(shownWhile(kBand, std::move(c)));
    }
    spec.feeds = {maskFeed("Where the shift is taken: white fully, black not at all.")};
    spec.example = {kHue(120.0), kSaturation(0.8)};
    spec.telling = telling;
    spec.noEffect = noEffect;
    spec.version = 2;
    spec.changed = "It works on display-encoded numbers, where it worked in linear light.";
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
