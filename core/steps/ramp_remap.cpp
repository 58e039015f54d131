// Ramp remap: reads one number of what comes in and gives the ramp's colour (or grey) there. The ramp runs as
// cubic pieces (ramp.h): the piece is found by comparing and selecting, which beats a table, and is exact.
#include <fmt/format.h>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/ramp_remap.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// One component. in: x; params: the degree, 1 if it goes on beyond the ends, then per piece: start, c0, c1,
/// c2, c3. The first piece is flat and covers all below. NaN falls into the first piece. Beyond the ends: the
/// ends' values, or (a curve) the same plus how far beyond x is.
void RampPieces(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const float* pieces = k.params + 2;
    const std::size_t count = (k.paramCount - 2) / 5;
    const bool cubic = k.params[0] > 1.0f, flat = k.params[0] < 1.0f, goesOn = k.params[1] != 0.0f;
    const auto low = hn::Set(d, pieces[0]), high = hn::Set(d, pieces[5 * (count - 1)]);
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
        y = hn::MulAdd(y, t, c0);
        if (goesOn) y = hn::Add(y, hn::Sub(x, hn::Min(hn::Max(x, low), high)));
        hn::Store(y, d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(RampPieces);
const Op kRampPieces{"ramp", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(RampPieces)(k); }};

std::vector<float> piecesOf(const RampCurve& curve, float Vec3::*component, bool goesOn = false) {
    std::vector<float> params{static_cast<float>(curve.degree), goesOn ? 1.0f : 0.0f};
    for (std::size_t i = 0; i < curve.starts.size(); ++i)
        for (const float v : {curve.starts[i], curve.c0[i].*component, curve.c1[i].*component,
                              curve.c2[i].*component, curve.c3[i].*component})
            params.push_back(v);
    return params;
}

std::string noEffect(const StepView& v) {
    if (const std::string reason = amountReason(v); !reason.empty()) return reason;
    return v.kind() == Kind::Scalar && v.ramp("ramp").isIdentity() ? "the ramp gives every value back" : "";
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    const auto other = e.fed("reads-from", Kind::Scalar);
    if (in.kind == Kind::Scalar) {
        const Reg grey = emitRampGrey(p, e.ramp("ramp"), other ? other->r : in.r);
        return mixByAmount(e, in, {Kind::Scalar, grey, grey, grey, in.a});
    }
    Reg x = other ? other->r : componentOf(p, in, e.choice("reads"), e.space());
    // Luminance is of light, so it is encoded after it was taken. A scalar, alpha and hue are numbers as they
    // stand.
    const std::string& reads = e.choice("reads");
    if (!other && e.choice("scale") == "encoded" && reads != "alpha" && reads != "hue" && reads != "saturation")
        x = encodeValue(p, {Kind::Scalar, x, x, x, kNoReg}).r;
    return mixByAmount(e, in, emitRampColour(p, e.ramp("ramp"), x, in.a, e.space()));
}
}  // namespace

Value emitRampColour(ProgramBuilder& program, const Ramp& ramp, Reg x, Reg alpha, const WorkingSpace& space) {
    const RampCurve curve = compileRamp(ramp);
    Value v{Kind::Colour, program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::x)),
            program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::y)),
            program.emit(kRampPieces, {x}, piecesOf(curve, &Vec3::z)), alpha};
    switch (curve.mixing) {
        case RampMixing::Linear:
            break;
        case RampMixing::Encoded:
            v = decodeValue(program, v);
            break;
        case RampMixing::HsvShort:
        case RampMixing::HsvLong:
            // The ramp's hues are degrees, a model's data are turns.
            v.r = program.emit(arithmeticOp("multiply"), {v.r, program.constant(1.0f / 360.0f)});
            v = fromModel(program, v, Model::Hsv, {});
            break;
        case RampMixing::Oklab:
            v = fromModel(program, v, Model::Oklab, {});
            break;
    }
    return space.isRec709() ? v : transformValue(program, v, space.fromRec709);
}

Reg emitRampGrey(ProgramBuilder& program, const Ramp& ramp, Reg x) {
    Ramp grey = ramp;
    grey.mixing = RampMixing::Linear;  // greys are raw numbers, which have no colour to mix
    return program.emit(kRampPieces, {x}, piecesOf(compileRamp(grey), &Vec3::x));
}

Reg emitCurve(ProgramBuilder& program, const Ramp& curve, Reg x) {
    if (curve.isIdentity()) return x;
    Ramp grey = curve;
    grey.mixing = RampMixing::Linear;
    return program.emit(kRampPieces, {x}, piecesOf(compileRamp(grey), &Vec3::x, true));
}

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
    spec.feeds = {{"reads-from", "Reads from", Kind::Scalar,
                   "A scalar to look up instead of what comes in: a grey map becomes colours."},
                  maskFeed("Where the ramp is taken: white fully, black not at all.")};
    Ramp dusk;
    dusk.stops = {{0, {0.01f, 0.02f, 0.05f}}, {0.45f, {0.05f, 0.25f, 0.24f}}, {0.8f, {0.75f, 0.6f, 0.3f}}, {1, {0.9f, 0.87f, 0.8f}}};
    spec.example = {{"ramp", dusk}};
    spec.telling = [](const StepView& v) { return fmt::format("{} stops", v.ramp("ramp").stops.size()); };
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
