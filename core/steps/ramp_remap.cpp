// Ramp remap: reads one number of what comes in and gives the ramp's colour (or grey) there. The ramp runs as
// cubic pieces (ramp.h): the piece is found by comparing and selecting, which beats a table, and is exact.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/ramp_remap.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/ramp_remap.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// The piece of each x, as a number of lane; x is not below the first start. kPieces: how many starts there
/// are at most, 0 if only `count` knows; those from `count` on are infinite.
template <std::size_t kPieces, class D, class V>
HWY_INLINE auto PieceOf(D, V x, const float* starts, std::size_t count) {
    const hn::RebindToSigned<D> di;
    auto index = hn::Zero(di);
    for (std::size_t p = 1; p < (kPieces > 0 ? kPieces : count); ++p)
        index = hn::IfThenElse(hn::RebindMask(di, hn::Ge(x, hn::Set(D(), starts[p]))),
                               hn::Set(di, static_cast<std::int32_t>(p)), index);
    return index;
}

/// in: x; outs: one for each component. params: degree (0, 1 or 3), 1 if it goes on beyond the ends, pieces,
/// the width of a table, then the tables: the starts of the pieces, then for every component all c0, all c1,
/// all c2, all c3. Beyond the ends: the ends' values, or (a curve) the same plus how far beyond x is.
///
/// kPieces > 0: so many pieces fit into one vector, so their numbers are picked by a shuffle of tables that
/// stay in registers; otherwise they are selected by comparing, piece by piece. Either way is exact.
template <std::size_t kPieces, int kDegree, std::size_t kComponents>
HWY_INLINE void RampLoop(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    using V = hn::Vec<decltype(d)>;
    const auto count = static_cast<std::size_t>(k.params[2]);
    const auto width = static_cast<std::size_t>(k.params[3]);
    const float* const starts = k.params + 4;
    const bool goesOn = k.params[1] != 0.0f;
    const V low = hn::Set(d, starts[0]), high = hn::Set(d, starts[count - 1]);
    V tables[1 + 4 * kComponents];
    if (kPieces > 0)
        for (std::size_t t = 0; t < 1 + 4 * kComponents; ++t) tables[t] = hn::LoadU(d, starts + t * width);
    const float* const in = k.in[0];
    float* out[kComponents];
    std::copy_n(k.out, kComponents, out);
    for (const std::size_t i : VectorsOf(d, k)) {
        const V given = hn::Load(d, in + i);
        // Both ends are flat, so x is limited to them: an infinite x meets no coefficient of 0, and NaN
        // becomes the low end.
        const V x = hn::Min(hn::IfThenElse(hn::Ge(given, low), given, low), high);
        const auto piece = PieceOf<kPieces>(d, x, starts, count);
        const auto pick = [&](std::size_t table) {
            if (kPieces > 0) return hn::TableLookupLanes(tables[table], hn::IndicesFromVec(d, piece));
            const float* values = starts + table * width;
            V v = hn::Set(d, values[0]);
            for (std::size_t p = 1; p < count; ++p)
                v = hn::IfThenElse(
                    hn::RebindMask(d, hn::Gt(piece, hn::Set(di, static_cast<std::int32_t>(p) - 1))),
                    hn::Set(d, values[p]), v);
            return v;
        };
        const V t = kDegree > 0 ? hn::Sub(x, pick(0)) : hn::Zero(d);
        for (std::size_t c = 0; c < kComponents; ++c) {
            if (kComponents > 1 && out[c] == nullptr) continue;
            const std::size_t at = 1 + 4 * c;
            V y = pick(at);
            if (kDegree == 1) y = hn::MulAdd(pick(at + 1), t, y);
            if (kDegree == 3)
                y = hn::MulAdd(hn::MulAdd(hn::MulAdd(pick(at + 3), t, pick(at + 2)), t, pick(at + 1)), t, y);
            if (goesOn) y = hn::Add(y, hn::Sub(given, x));
            hn::Store(y, d, out[c] + i);
        }
    }
}

template <std::size_t kPieces, std::size_t kComponents>
void RampOfDegree(const KernelCall& k) {
    if (k.params[0] > 1.0f)
        RampLoop<kPieces, 3, kComponents>(k);
    else if (k.params[0] > 0.0f)
        RampLoop<kPieces, 1, kComponents>(k);
    else
        RampLoop<kPieces, 0, kComponents>(k);
}

template <std::size_t kComponents>
void RampOfComponents(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto pieces = static_cast<std::size_t>(k.params[2]), width = static_cast<std::size_t>(k.params[3]);
    const bool fits = pieces <= hn::Lanes(d) && width >= hn::Lanes(d);
    if (fits && pieces <= 4)
        RampOfDegree<4, kComponents>(k);
    else if (fits && pieces <= 8)
        RampOfDegree<8, kComponents>(k);
    else if (fits)
        RampOfDegree<16, kComponents>(k);
    else
        RampOfDegree<0, kComponents>(k);
}

void RampPieces(const KernelCall& k) {
    const auto width = static_cast<std::size_t>(k.params[3]);
    k.paramCount == 4 + (1 + 4) * width ? RampOfComponents<1>(k) : RampOfComponents<3>(k);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
using namespace ramp_remap;
constexpr Option<NumberSpace> kScales[] = {{NumberSpace::DisplayEncoded, "encoded", "as displayed"},
                                           {NumberSpace::LinearLight, "linear", "linear light"}};
constexpr ChoiceHandle<NumberSpace> kScale{"scale", kScales};
constexpr ChoiceHandle<Component> kReads{"reads", kComponents};

HWY_EXPORT(RampPieces);
const Op kRampPieces{"ramp", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(RampPieces)(k); }};

/// The kernel's parameters for one component or for all three.
std::vector<float> piecesOf(const RampCurve& curve, const std::vector<float Vec3::*>& components,
                            bool goesOn = false) {
    // As wide as the widest vector, so that a table is one load; what lies beyond the pieces is never picked.
    // The flat piece before the first stop is left out: x is limited to the stops before its piece is found.
    const std::size_t skipped = curve.starts.size() > 1 ? 1 : 0;
    const std::size_t pieces = curve.starts.size() - skipped, width = std::max(pieces, kPad);
    std::vector<float> params{static_cast<float>(curve.degree), goesOn ? 1.0f : 0.0f,
                              static_cast<float>(pieces), static_cast<float>(width)};
    const auto table = [&](auto&& value, float beyond = 0.0f) {
        for (std::size_t p = 0; p < width; ++p) params.push_back(p < pieces ? value(p + skipped) : beyond);
    };
    table([&](std::size_t p) { return curve.starts[p]; }, std::numeric_limits<float>::infinity());
    for (const auto component : components)
        for (const auto* coefficients : {&curve.c0, &curve.c1, &curve.c2, &curve.c3})
            table([&](std::size_t p) { return (*coefficients)[p].*component; });
    return params;
}

std::string noEffect(const StepView& v) {
    if (std::string reason = amountReason(v); !reason.empty()) return reason;
    Ramp grey = v[kRamp];
    grey.mixing = RampMixing::Linear;  // greys are not mixed as colours
    return v.kind() == Kind::Scalar && grey.isIdentity() ? "the ramp gives every value back" : "";
}

/// The number of a colour that the ramp is asked with.
Reg lookedUp(Emitter& e) {
    const Component reads = e[kReads];
    if (e.step().version > 1) return componentOf(e.program(), e.input(), reads, e.space(), e[kScale]);
    // Version 1 took every component of light and encoded all but alpha, hue and saturation.
    const Reg x = componentOf(e.program(), e.input(), reads, e.space());
    const bool isPlain =
        reads == Component::Alpha || reads == Component::Hue || reads == Component::Saturation;
    if (isPlain || e[kScale] == NumberSpace::LinearLight) return x;
    return encodeValue(e.program(), {Kind::Scalar, x, x, x, kNoReg}).r;
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    const auto other = e.fed(kReadsFrom, Kind::Scalar);
    if (in.kind == Kind::Scalar) {
        const Reg grey = emitRampGrey(p, e[kRamp], other ? other->r : in.r);
        return mixByAmount(e, in, {Kind::Scalar, grey, grey, grey, in.a});
    }
    return mixByAmount(e, in, emitRampColour(p, e[kRamp], other ? other->r : lookedUp(e), in.a, e.space()));
}
}  // namespace

Value emitRampColour(ProgramBuilder& program, const Ramp& ramp, Reg x, Reg alpha, const WorkingSpace& space) {
    const RampCurve curve = compileRamp(ramp);
    const Reg first = program.emit(kRampPieces, {x}, piecesOf(curve, {&Vec3::x, &Vec3::y, &Vec3::z}), 3);
    Value v{Kind::Colour, first, first + 1, first + 2, alpha};
    switch (curve.mixing) {
        case RampMixing::Linear:
            break;
        case RampMixing::Encoded:
            v = decodeValue(program, v);
            break;
        case RampMixing::HsvShort:
        case RampMixing::HsvLong:
            // The ramp's hues are degrees, a model's data are turns.
            v.r = program.emit(arithmeticOp(Arithmetic::Multiply), {v.r, program.constant(1.0f / 360.0f)});
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
    return program.emit(kRampPieces, {x}, piecesOf(compileRamp(grey), {&Vec3::x}));
}

Reg emitCurve(ProgramBuilder& program, const Ramp& curve, Reg x) {
    if (curve.isIdentity()) return x;
    Ramp grey = curve;
    grey.mixing = RampMixing::Linear;
    return program.emit(kRampPieces, {x}, piecesOf(compileRamp(grey), {&Vec3::x}, true));
}

StepSpec rampRemapStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 160;
    spec.name = "Ramp remap";
    spec.purpose = "Gives every value its place on a ramp.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    // Black to white, mixed as it is looked up, gives every grey back.
    Ramp neutral;
    neutral.mixing = RampMixing::Encoded;
    ControlSpec ramp =
        rampControl(kRamp, "Ramp", neutral, "Click to add a stop, drag to move, drag off to remove.");
    ramp.earlier.push_back({1, Ramp{}});
    ControlSpec reads =
        choiceControl(kReads, "Reads", Component::Luminance, "The number that is looked up on the ramp.");
    ControlSpec scale = choiceControl(kScale, "Scale", NumberSpace::DisplayEncoded,
                                      "As displayed: the middle of the ramp is mid grey on the screen. "
                                      "Linear light: it is half the light.");
    reads.colourOnly = scale.colourOnly = true;
    spec.controls = {ramp, amountControl(1.0), reads, scale};
    spec.reads = [](const StepView& v) {
        if (v.feed(kReadsFrom) != nullptr) return Reading{kReadsFrom.id};
        return Reading{"", v[kReads], Model::Rgb, v[kScale]};
    };
    spec.version = 2;
    spec.changed =
        "Colours between the stops are mixed display-encoded, and every component is read as displayed, "
        "where both were "
        "of linear light.";
    spec.feeds = {{kReadsFrom.id, "Reads from", Kind::Scalar,
                   "A scalar to look up instead of what comes in: a grey map becomes colours."},
                  maskFeed("Where the ramp is taken: white fully, black not at all.")};
    Ramp dusk;
    dusk.stops = {{0, {0.01f, 0.02f, 0.05f}},
                  {0.45f, {0.05f, 0.25f, 0.24f}},
                  {0.8f, {0.75f, 0.6f, 0.3f}},
                  {1, {0.9f, 0.87f, 0.8f}}};
    spec.example = {kRamp(dusk)};
    spec.telling = [](const StepView& v) { return fmt::format("{} stops", v[kRamp].stops.size()); };
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
