// HSV shift: turns the hue, scales saturation and value, by an amount and a mask.
//   h' = h + hue, s' = clamp(s * saturation, 0, 1), v' = v * value; mixed with the input by amount * mask.
// Source of the model: A. R. Smith 1978 (models.h). A grey keeps no hue, so it only changes in value.
#include <fmt/format.h>

#include "core/steps/step.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/hsv_shift.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: r, g, b, mask; params: hue in sixths, saturation, value, amount. Weight 0 gives the input bit for bit.
void HsvShift(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto turn = hn::Set(d, k.params[0]), scaleS = hn::Set(d, k.params[1]),
               scaleV = hn::Set(d, k.params[2]);
    const auto amount = hn::Set(d, k.params[3]), one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const auto r = hn::Load(d, k.in[0] + i), g = hn::Load(d, k.in[1] + i), b = hn::Load(d, k.in[2] + i);
        const auto weight = hn::Mul(amount, hn::Load(d, k.in[3] + i));
        auto h = zero, s = zero, v = zero, x = zero, y = zero, z = zero;
        ToHsv(d, r, g, b, h, s, v);
        s = hn::Min(hn::Max(hn::Mul(s, scaleS), zero), one);
        FromHsv(d, hn::Add(h, turn), s, hn::Mul(v, scaleV), x, y, z);
        const auto keep = hn::Eq(weight, zero);
        hn::Store(hn::IfThenElse(keep, r, hn::MulAdd(weight, hn::Sub(x, r), r)), d, k.out[0] + i);
        hn::Store(hn::IfThenElse(keep, g, hn::MulAdd(weight, hn::Sub(y, g), g)), d, k.out[1] + i);
        hn::Store(hn::IfThenElse(keep, b, hn::MulAdd(weight, hn::Sub(z, b), b)), d, k.out[2] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(HsvShift);
const Op kHsvShift{"hsv-shift", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HsvShift)(k); }};

bool isNeutral(const StepView& v) {
    return std::fmod(v.number("hue"), 360.0) == 0 && v.number("saturation") == 1 && v.number("value") == 1;
}

std::string telling(const StepView& v) {
    if (v.number("hue") != 0) return fmt::format("hue {:+.0f}°", v.number("hue"));
    if (v.number("saturation") != 1) return fmt::format("saturation {:.2f}", v.number("saturation"));
    if (v.number("value") != 1) return fmt::format("value {:.2f}", v.number("value"));
    return "neutral";
}

std::string noEffect(const StepView& v) {
    if (v.number("amount") == 0) return "the amount is 0";
    if (v.feedIs("mask", 0)) return "the mask is black everywhere";
    return isNeutral(v) ? "hue, saturation and value are neutral" : "";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    // A neutral shift passes colours through untouched, negative ones too, which the model itself would lose.
    if (isNeutral(e) || e.number("amount") == 0) return in;
    const bool encoded = e.choice("works-in") == "encoded";
    const Value from = encoded ? encodeValue(e.program(), in) : in;
    const auto mask = e.fed("mask", Kind::Scalar);
    const Reg first =
        e.program().emit(kHsvShift, {from.r, from.g, from.b, mask ? mask->r : e.constant(1.0f)},
                         {e.real("hue") / 60.0f, e.real("saturation"), e.real("value"), e.real("amount")}, 3);
    const Value out{Kind::Colour, first, first + 1, first + 2, in.a};
    return encoded ? decodeValue(e.program(), out) : out;
}
}  // namespace

StepSpec hsvShiftStep() {
    StepSpec spec;
    spec.type = "hsv-shift";
    spec.name = "HSV shift";
    spec.purpose = "Turns the hue, scales saturation and value.";
    spec.kinds = {Kind::Colour};
    ControlSpec hue{"hue", "Hue", ControlType::Number, 0.0, -180, 180, "°", 1};
    hue.tip = "How far every hue turns; a full turn is 360°.";
    ControlSpec saturation{"saturation", "Saturation", ControlType::Number, 1.0, 0, 2, "×"};
    saturation.tip = "Multiplies the saturation; 0 is grey.";
    ControlSpec value{"value", "Value", ControlType::Number, 1.0, 0, 2, "×"};
    value.tip = "Multiplies the value; 0 is black.";
    spec.controls = {hue, saturation, value, amountControl(1.0), worksInControl("linear")};
    spec.feeds = {{"mask", "Mask", Kind::Scalar, "Where the shift is taken: white fully, black not at all."}};
    spec.telling = telling;
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
