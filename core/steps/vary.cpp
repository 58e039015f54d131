// Vary: makes copies differ a little. For each object or part, with even random numbers r from 0 up to 1:
//   h' = h + hue (2 r0 - 1), s' = clamp(s (1 + saturation (2 r1 - 1)), 0, 1), v' = v (1 + value (2 r2 - 1)),
// v' kept between the limits if wanted; a grey line by r2 alone. Mixed with the input by amount x mask.
#include <fmt/format.h>

#include "core/steps/objects.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/vary.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: r, g, b and three random numbers; params: hue in sixths, saturation, value, the limits of the value.
void VaryColour(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto one = hn::Set(d, 1.0f), two = hn::Set(d, 2.0f), zero = hn::Zero(d);
    const auto around = [&](std::size_t which, std::size_t param, std::size_t i) {
        const auto r = hn::MulSub(two, hn::Load(d, k.in[which] + i), one);
        return hn::Mul(hn::Set(d, k.params[param]), r);
    };
    for (const std::size_t i : VectorsOf(d, k)) {
        auto h = zero, s = zero, v = zero, r = zero, g = zero, b = zero;
        ToHsv(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i), h, s, v);
        h = hn::Add(h, around(3, 0, i));
        s = hn::Min(hn::Max(hn::Mul(s, hn::Add(one, around(4, 1, i))), zero), one);
        v = hn::Mul(v, hn::Add(one, around(5, 2, i)));
        v = hn::Min(hn::Max(v, hn::Set(d, k.params[3])), hn::Set(d, k.params[4]));
        FromHsv(d, h, s, v, r, g, b);
        StoreIf(d, r, k.out[0], i);
        StoreIf(d, g, k.out[1], i);
        StoreIf(d, b, k.out[2], i);
    }
}

/// in: a number and a random one; params: the spread, the limits.
void VaryNumber(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto one = hn::Set(d, 1.0f), two = hn::Set(d, 2.0f), spread = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto r = hn::MulSub(two, hn::Load(d, k.in[1] + i), one);
        const auto v = hn::Mul(hn::Load(d, k.in[0] + i), hn::MulAdd(spread, r, one));
        StoreIf(d, hn::Min(hn::Max(v, hn::Set(d, k.params[1])), hn::Set(d, k.params[2])), k.out[0], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(VaryColour);
HWY_EXPORT(VaryNumber);
const Op kVaryColour{"vary-colour", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(VaryColour)(k); }};
const Op kVaryNumber{"vary-number", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(VaryNumber)(k); }};

constexpr float kFar = 1e30f;  ///< a limit that limits nothing

bool isNeutral(const StepView& v) {
    const bool isGrey = v.kind() == Kind::Scalar;
    return v.number("value") == 0 && (isGrey || (v.number("hue") == 0 && v.number("saturation") == 0)) &&
           !v.toggle("limit");
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e.number("amount") == 0 || isNeutral(e)) return in;
    ProgramBuilder& p = e.program();
    const Reg number = objectNumber(e);
    const bool limits = e.toggle("limit");
    const float low = limits ? e.real("least") : -kFar, high = limits ? e.real("most") : kFar;
    if (in.kind == Kind::Scalar) {
        const Reg v = p.emit(kVaryNumber, {in.r, objectRandom(e, number, 2)}, {e.real("value"), low, high});
        return mixByAmount(e, in, {Kind::Scalar, v, v, v, kNoReg});
    }
    const Reg first = p.emit(kVaryColour,
                             {in.r, in.g, in.b, objectRandom(e, number, 0), objectRandom(e, number, 1),
                              objectRandom(e, number, 2)},
                             {e.real("hue") / 60, e.real("saturation"), e.real("value"), low, high}, 3);
    return mixByAmount(e, in, {Kind::Colour, first, first + 1, first + 2, in.a});
}

}  // namespace

StepSpec varyStep() {
    StepSpec spec;
    spec.type = "vary";
    spec.order = 25;
    spec.name = "Vary";
    spec.purpose =
        "Makes each object or part of the model a little different, so that copies do not look stamped.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.onModel = [](const StepView&) { return true; };
    ControlSpec hue = numberControl("hue", "Hue", 12, 0, 180, "°", "By how much hues turn, either way.", 0);
    ControlSpec saturation =
        numberControl("saturation", "Saturation", 0.15, 0, 1, "", "By what share it grows or falls.");
    hue.kinds = saturation.kinds = {Kind::Colour};
    const auto byLimit = [](ControlSpec c) {
        c.shownBy = "limit", c.shownFor = {"true"};
        return c;
    };
    spec.controls = objectControls();
    spec.controls.insert(
        spec.controls.end(),
        {hue, saturation, numberControl("value", "Value", 0.1, 0, 1, "", "By what share it grows or falls."),
         toggleControl("limit", "Limits", false, "Keeps the value between two numbers."),
         byLimit(numberControl("least", "Least value", 0, 0, 1, "", "No copy is darker.")),
         byLimit(numberControl("most", "Most value", 1, 0, 1, "", "No copy is lighter.")),
         amountControl(1.0)});
    spec.feeds = {maskFeed("Where copies differ: the glaze, and not the rust.")};
    spec.example = {{"hue", 60.0}};
    spec.telling = [](const StepView& v) {
        return v.kind() == Kind::Colour
                   ? fmt::format("± {:.0f}° by {}", v.number("hue"), v.choice("of"))
                   : fmt::format("± {:.0f} % by {}", 100 * v.number("value"), v.choice("of"));
    };
    spec.noEffect = [](const StepView& v) {
        if (std::string reason = amountReason(v); !reason.empty()) return reason;
        return std::string(isNeutral(v) ? "nothing is spread" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
