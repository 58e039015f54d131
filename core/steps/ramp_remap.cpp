// Ramp remap: reads one number of what comes in and gives the ramp's colour (or grey) there. The ramp runs as
// cubic pieces (ramp.h): the piece is found by comparing and selecting, which beats a table, and is exact.
#include <fmt/format.h>

#include "core/steps/step.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/ramp_remap.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// One component. in: x; params: the degree, then per piece: start, c0, c1, c2, c3. The first piece is flat
/// and covers all below. NaN falls into the first piece.
void RampPieces(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const float* pieces = k.params + 1;
    const std::size_t count = (k.paramCount - 1) / 5;
    const bool cubic = k.params[0] > 1.0f, flat = k.params[0] < 1.0f;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const auto x = hn::Load(d, k.in[0] + i);
        auto start = hn::Zero(d), c1 = hn::Zero(d), c2 = hn::Zero(d), c3 = hn::Zero(d);
        auto c0 = hn::Set(d, pieces[1]);
        for (std::size_t p = 1; p < count; ++p) {
            const float* piece = pieces + 5 * p;
            const auto from = hn::Set(d, piece[0]);
            const auto inside = hn::Ge(x, from);
            c0 = hn::IfThenElse(inside, hn::Set(d, piece[1]), c0);
            if (flat) continue;
            start = hn::IfThenElse(inside, from, start);
            c1 = hn::IfThenElse(inside, hn::Set(d, piece[2]), c1);
            if (!cubic) continue;
            c2 = hn::IfThenElse(inside, hn::Set(d, piece[3]), c2);
            c3 = hn::IfThenElse(inside, hn::Set(d, piece[4]), c3);
        }
        // Limited so that an infinite x does not meet a coefficient of 0: the ends are flat in any case.
        const auto bounded = hn::Min(hn::Max(hn::Sub(x, start), hn::Zero(d)), hn::Set(d, 1e6f));
        const auto t = hn::IfThenElseZero(hn::Eq(x, x), bounded);
        auto y = c1;
        if (cubic) y = hn::MulAdd(hn::MulAdd(c3, t, c2), t, c1);
        hn::Store(hn::MulAdd(y, t, c0), d, k.out[0] + i);
    }
}

/// in: hue in degrees, saturation, value
void HsvToRgb(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        auto r = hn::Zero(d), g = hn::Zero(d), b = hn::Zero(d);
        FromHsv(d, hn::Mul(hn::Load(d, k.in[0] + i), hn::Set(d, 1.0f / 60.0f)), hn::Load(d, k.in[1] + i),
                hn::Load(d, k.in[2] + i), r, g, b);
        hn::Store(r, d, k.out[0] + i);
        hn::Store(g, d, k.out[1] + i);
        hn::Store(b, d, k.out[2] + i);
    }
}

/// in: OKLab L, a, b. Source: B. Ottosson 2020.
void OklabToRgb(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    using V = hn::Vec<decltype(d)>;
    const auto sum = [&](V a, V b, V c, float x, float y, float z) {
        return hn::MulAdd(a, hn::Set(d, x), hn::MulAdd(b, hn::Set(d, y), hn::Mul(c, hn::Set(d, z))));
    };
    const auto cube = [](V v) { return hn::Mul(v, hn::Mul(v, v)); };
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const V L = hn::Load(d, k.in[0] + i), a = hn::Load(d, k.in[1] + i), b = hn::Load(d, k.in[2] + i);
        const V l = cube(sum(L, a, b, 1, 0.3963377774f, 0.2158037573f));
        const V m = cube(sum(L, a, b, 1, -0.1055613458f, -0.0638541728f));
        const V s = cube(sum(L, a, b, 1, -0.0894841775f, -1.2914855480f));
        hn::Store(sum(l, m, s, 4.0767416621f, -3.3077115913f, 0.2309699292f), d, k.out[0] + i);
        hn::Store(sum(l, m, s, -1.2684380046f, 2.6097574011f, -0.3413193965f), d, k.out[1] + i);
        hn::Store(sum(l, m, s, -0.0041960863f, -0.7034186147f, 1.7076147010f), d, k.out[2] + i);
    }
}

/// in: from, to, mask; params: amount
void MixBy(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto amount = hn::Set(d, k.params[0]);
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const auto from = hn::Load(d, k.in[0] + i), to = hn::Load(d, k.in[1] + i);
        const auto w = hn::Mul(amount, hn::Load(d, k.in[2] + i));
        const auto y = hn::MulAdd(w, hn::Sub(to, from), from);
        hn::Store(hn::IfThenElse(hn::Eq(w, hn::Zero(d)), from, y), d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(RampPieces);
HWY_EXPORT(HsvToRgb);
HWY_EXPORT(OklabToRgb);
HWY_EXPORT(MixBy);
const Op kRampPieces{"ramp", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(RampPieces)(k); }};
const Op kHsvToRgb{"hsv-to-rgb", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HsvToRgb)(k); }};
const Op kOklabToRgb{"oklab-to-rgb", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(OklabToRgb)(k); }};
const Op kMixBy{"mix", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(MixBy)(k); }};

std::vector<float> piecesOf(const RampCurve& curve, float Vec3::*component) {
    std::vector<float> params{static_cast<float>(curve.degree)};
    for (std::size_t i = 0; i < curve.starts.size(); ++i)
        for (const float v : {curve.starts[i], curve.c0[i].*component, curve.c1[i].*component,
                              curve.c2[i].*component, curve.c3[i].*component})
            params.push_back(v);
    return params;
}

Value rampColour(ProgramBuilder& program, const RampCurve& curve, Reg x, Reg alpha) {
    Value v{Kind::Colour, program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::x)),
            program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::y)),
            program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::z)), alpha};
    const Op* back = nullptr;
    switch (curve.mixing) {
        case RampMixing::Linear:
            return v;
        case RampMixing::Encoded:
            return decodeValue(program, v);
        case RampMixing::HsvShort:
        case RampMixing::HsvLong:
            back = &kHsvToRgb;
            break;
        case RampMixing::Oklab:
            back = &kOklabToRgb;
            break;
    }
    const Reg first = program.emit(*back, {v.r, v.g, v.b}, {}, 3);
    return {Kind::Colour, first, first + 1, first + 2, alpha};
}

std::string noEffect(const StepView& v) {
    if (v.number("amount") == 0) return "the amount is 0";
    if (v.feedIs("mask", 0)) return "the mask is black everywhere";
    return v.kind() == Kind::Scalar && v.ramp("ramp").isIdentity() ? "the ramp gives every value back" : "";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    Ramp ramp = e.ramp("ramp");
    Value out = in;
    if (in.kind == Kind::Scalar) {
        ramp.mixing = RampMixing::Linear;  // greys are raw numbers, which have no colour to mix
        out.r = out.g = out.b = p.emit(kRampPieces, {in.r}, piecesOf(compileRamp(ramp), &Vec3::x));
    } else {
        Value read = in;
        // Luminance is of light, so it is encoded after it was taken; any other component is encoded itself.
        Reg x = componentOf(p, read, e.choice("reads"));
        if (e.choice("scale") == "encoded" && e.choice("reads") != "alpha")
            x = encodeValue(p, {Kind::Scalar, x, x, x, kNoReg}).r;
        out = rampColour(p, compileRamp(ramp), x, in.a);
    }
    const auto mask = e.fed("mask", Kind::Scalar);
    if (!mask && e.number("amount") == 1) return out;
    const Reg weight = mask ? mask->r : e.constant(1.0f);
    const std::vector<float> amount{e.real("amount")};
    out.r = p.emit(kMixBy, {in.r, out.r, weight}, amount);
    out.g = in.kind == Kind::Scalar ? out.r : p.emit(kMixBy, {in.g, out.g, weight}, amount);
    out.b = in.kind == Kind::Scalar ? out.r : p.emit(kMixBy, {in.b, out.b, weight}, amount);
    return out;
}
}  // namespace

StepSpec rampRemapStep() {
    StepSpec spec;
    spec.type = "ramp-remap";
    spec.name = "Ramp remap";
    spec.purpose = "Gives every value its place on a ramp.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    ControlSpec ramp{"ramp", "Ramp", ControlType::Ramp, Ramp{}};
    ramp.tip = "Click to add a stop, drag to move, drag off to remove.";
    ControlSpec reads{"reads", "Reads", ControlType::Choice, std::string("luminance")};
    reads.choices = componentChoices();
    reads.tip = "The number that is looked up on the ramp.";
    reads.colourOnly = true;
    ControlSpec scale{"scale", "Scale", ControlType::Choice, std::string("encoded")};
    scale.choices = {{"encoded", "as displayed"}, {"linear", "linear light"}};
    scale.tip =
        "As displayed: the middle of the ramp is mid grey on the screen. Linear light: it is half the light.";
    scale.colourOnly = true;
    spec.controls = {ramp, amountControl(1.0), reads, scale};
    spec.feeds = {{"mask", "Mask", Kind::Scalar, "Where the ramp is taken: white fully, black not at all."}};
    spec.telling = [](const StepView& v) { return fmt::format("{} stops", v.ramp("ramp").stops.size()); };
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
