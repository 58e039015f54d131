// Vary: makes copies differ a little. For each object or part, with even random numbers r from 0 up to 1:
//   h' = h + hue (2 r0 - 1), s' = clamp(s (1 + saturation (2 r1 - 1)), 0, 1), v' = v (1 + value (2 r2 - 1)),
// v' kept between the limits if wanted; a grey line by r2 alone. Mixed with the input by amount x mask. Or
// from a ramp: its colour at r3, at number / (largest number), or at the number's place among the ramp's
// stops, laid over by a blend mode.
#include <fmt/format.h>

#include "core/steps/blend.h"
#include "core/steps/objects.h"
#include "core/steps/vary.h"

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

/// in: a whole number; params: how many take turns. The middle of its place among them, 0 to 1.
void TakeTurns(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto count = hn::Set(d, k.params[0]), half = hn::Set(d, 0.5f);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto number = hn::Load(d, k.in[0] + i);
        const auto turn = hn::NegMulAdd(hn::Floor(hn::Div(hn::Add(number, half), count)), count, number);
        StoreIf(d, hn::Div(hn::Add(turn, half), count), k.out[0], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
StepSpec blendStep();  // blend.cpp
namespace {
using namespace vary;
constexpr NumberHandle kValue{"value"};
constexpr NumberHandle kHue{"hue"};
constexpr NumberHandle kSaturation{"saturation"};
/// Where a copy reads the ramp.
enum class RampLookup { Random, Turns, Share };
constexpr Option<RampLookup> kRampLookups[] = {{RampLookup::Random, "random", "at random"},
                                               {RampLookup::Turns, "turns", "by turns"},
                                               {RampLookup::Share, "share", "in order"}};
constexpr ChoiceHandle<RampLookup> kTakes{"takes", kRampLookups};
constexpr NumberHandle kLeast{"least"};
constexpr NumberHandle kMost{"most"};

HWY_EXPORT(TakeTurns);
const Op kTakeTurns{"take-turns", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(TakeTurns)(k); }};
HWY_EXPORT(VaryColour);
HWY_EXPORT(VaryNumber);
const Op kVaryColour{"vary-colour", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(VaryColour)(k); }};
const Op kVaryNumber{"vary-number", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(VaryNumber)(k); }};

constexpr float kFar = 1e30f;  ///< a limit that limits nothing

bool isFromRamp(const StepView& v) {
    return v[kFrom] == VariationSource::Ramp;
}

bool isNeutral(const StepView& v) {
    if (isFromRamp(v)) return false;
    const bool isGrey = v.kind() == Kind::Scalar;
    return v[kValue] == 0 && (isGrey || (v[kHue] == 0 && v[kSaturation] == 0)) && !v[kLimit];
}

const StepSpec& blend() {
    static const StepSpec kBlend = blendStep();
    return kBlend;
}

/// Where each copy reads the ramp.
Reg placeOnRamp(Emitter& e, Reg number) {
    const RampLookup takes = e[kTakes];
    if (takes == RampLookup::Random) return objectRandom(e, number, 3);
    if (takes == RampLookup::Share)
        return meshAttribute(e.program(),
                             CopyNumber{e[kDiffersBy] == Copies::Parts, CopyNumber::What::Share});
    const auto stops = static_cast<float>(std::max<std::size_t>(1, e[kRamp].stops.size()));
    return e.program().emit(kTakeTurns, {number}, {stops});
}

Value emitFromRamp(Emitter& e) {
    const Value in = e.input();
    ProgramBuilder& p = e.program();
    const Reg x = placeOnRamp(e, objectNumber(e));
    Value own;
    if (e.kind() == Kind::Scalar) {
        const Reg grey = emitRampGrey(p, e[kRamp], x);
        own = {Kind::Scalar, grey, grey, grey, kNoReg};
    } else {
        own = emitRampColour(p, e[kRamp], x, in.a, e.space());
    }
    if (e[kBlendMode] == BlendMode::Normal) return mixByAmount(e, in, own);
    Emitter blended = e.as(StepView(blend(), e.step(), e.kind()), kOver, own);
    return blend().emit(blended);
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0 || isNeutral(e)) return in;
    if (isFromRamp(e)) return emitFromRamp(e);
    ProgramBuilder& p = e.program();
    const Reg number = objectNumber(e);
    const bool limits = e[kLimit];
    const float low = limits ? e.real(kLeast) : -kFar, high = limits ? e.real(kMost) : kFar;
    if (in.kind == Kind::Scalar) {
        const Reg v = p.emit(kVaryNumber, {in.r, objectRandom(e, number, 2)}, {e.real(kValue), low, high});
        return mixByAmount(e, in, {Kind::Scalar, v, v, v, kNoReg});
    }
    const Value from = workingNumbers(e, in);
    const Reg first = p.emit(kVaryColour,
                             {from.r, from.g, from.b, objectRandom(e, number, 0), objectRandom(e, number, 1),
                              objectRandom(e, number, 2)},
                             {e.real(kHue) / 60, e.real(kSaturation), e.real(kValue), low, high}, 3);
    return mixByAmount(e, in, lightOfWorking(e, {Kind::Colour, first, first + 1, first + 2, in.a}));
}

}  // namespace

StepSpec varyStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 25;
    spec.name = "Vary";
    spec.purpose =
        "Makes each object or part of the model a little different, so that copies do not look stamped.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.editor = StepEditor::Copies;
    spec.onModel = [](const StepView&) { return true; };
    ControlSpec hue = numberControl(kHue, "Hue", 12, 0, 180, "°", "By how much hues turn, either way.", 0);
    ControlSpec saturation =
        numberControl(kSaturation, "Saturation", 0.15, 0, 1, "", "By what share it grows or falls.");
    hue.kinds = saturation.kinds = {Kind::Colour};
    const auto spread = [](ControlSpec c) {
        return shownWhile(kFrom, {VariationSource::Spread}, std::move(c));
    };
    const auto onRamp = [](ControlSpec c) {
        return shownWhile(kFrom, {VariationSource::Ramp}, std::move(c));
    };
    const auto byLimit = [](ControlSpec c) { return shownWhile(kLimit, std::move(c)); };
    ControlSpec worksInNumbers = worksInControlSinceVersion2();
    worksInNumbers.kinds = {Kind::Colour};
    Ramp neutral;
    neutral.mixing = RampMixing::Encoded;
    ControlSpec ramp = rampControl(
        kRamp, "Ramp", neutral,
        "Its stops are the colours that take turns; the whole of it is read at random or in order.");
    ramp.earlier.push_back({1, Ramp{}});
    spec.controls = objectControls();
    spec.controls.insert(
        spec.controls.end(),
        {choiceControl(kFrom, "Copies get", VariationSource::Spread,
                       "Their own colours, a little apart; or what a ramp or palette says."),
         onRamp(choiceControl(
             kTakes, "Which", RampLookup::Random,
             "By turns: number 0 takes the first stop, 1 the second, and so on from the first "
             "again. In order: the ramp lies along all numbers, from the lowest to the highest.")),
         onRamp(ramp),
         onRamp(choiceControl(kBlendMode, "Mode", BlendMode::Normal, "How it is laid over what comes in.")),
         spread(hue), spread(saturation),
         spread(numberControl(kValue, "Value", 0.1, 0, 1, "", "By what share it grows or falls.")),
         spread(toggleControl(kLimit, "Limits", false, "Keeps the value between two numbers.")),
         byLimit(numberControl(kLeast, "Least value", 0, 0, 1, "", "No copy is darker.")),
         byLimit(numberControl(kMost, "Most value", 1, 0, 1, "", "No copy is lighter.")), amountControl(1.0),
         spread(worksInNumbers)});
    spec.version = 2;
    spec.changed = "It works on display-encoded numbers, where it worked in linear light.";
    spec.feeds = {maskFeed("Where copies differ: the glaze, and not the rust.")};
    spec.example = {kHue(60.0)};
    spec.telling = [](const StepView& v) {
        if (isFromRamp(v)) return std::string("ramp by ") + kDiffersBy.idOf(v[kDiffersBy]);
        return v.kind() == Kind::Colour
                   ? fmt::format("± {:.0f}° by {}", v[kHue], kDiffersBy.idOf(v[kDiffersBy]))
                   : fmt::format("± {:.0f} % by {}", 100 * v[kValue], kDiffersBy.idOf(v[kDiffersBy]));
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
