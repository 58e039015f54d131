// Gradient: a pattern of the place in texture space. Every shape runs from 0 to 1 across the unit square and
// is then scaled, turned about the square's middle and moved.
#include <fmt/format.h>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/gradient.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: u, v; params: cosine and sine of the turn divided by the scale, the middle (u, v), and what happens
/// beyond 0..1: 0 it ends, 1 it repeats, 2 it mirrors. The place relative to the middle.
template <class F>
HWY_INLINE void Shape(const KernelCall& k, F&& shape) {
    const hn::ScalableTag<float> d;
    const auto c = hn::Set(d, k.params[0]), s = hn::Set(d, k.params[1]);
    const auto middleU = hn::Set(d, k.params[2]), middleV = hn::Set(d, k.params[3]);
    const auto one = hn::Set(d, 1.0f), half = hn::Set(d, 0.5f), two = hn::Set(d, 2.0f), zero = hn::Zero(d);
    const int beyond = static_cast<int>(k.params[4]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto u = hn::Sub(hn::Load(d, k.in[0] + i), middleU),
                   v = hn::Sub(hn::Load(d, k.in[1] + i), middleV);
        auto t = shape(d, hn::MulAdd(u, c, hn::Mul(v, s)), hn::MulSub(v, c, hn::Mul(u, s)));
        if (beyond == 1) t = hn::Sub(t, hn::Floor(t));
        if (beyond == 2) {
            const auto there = hn::Sub(t, hn::Mul(two, hn::Floor(hn::Mul(t, half))));  // 0..2
            t = hn::Sub(one, hn::Abs(hn::Sub(there, one)));
        }
        hn::Store(hn::Min(hn::Max(t, zero), one), d, k.out[0] + i);
    }
}

void Straight(const KernelCall& k) {
    Shape(k, [](auto d, auto x, auto) { return hn::Add(x, hn::Set(d, 0.5f)); });
}
/// 0 in the middle, 1 at the middle of each side.
void Radial(const KernelCall& k) {
    Shape(k, [](auto d, auto x, auto y) {
        return hn::Mul(hn::Sqrt(hn::MulAdd(x, x, hn::Mul(y, y))), hn::Set(d, 2.0f));
    });
}
/// Once round, anticlockwise from the right.
void Angular(const KernelCall& k) {
    Shape(k, [](auto d, auto x, auto y) { return TurnsOf(d, x, y); });
}
/// 0 in the middle, 1 on the square's edge.
void Boxed(const KernelCall& k) {
    Shape(k,
          [](auto d, auto x, auto y) { return hn::Mul(hn::Max(hn::Abs(x), hn::Abs(y)), hn::Set(d, 2.0f)); });
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr NumberHandle kFromX{"from-x"};
constexpr NumberHandle kFromY{"from-y"};
constexpr NumberHandle kFromZ{"from-z"};
constexpr NumberHandle kTilt{"tilt"};
constexpr NumberHandle kTurn{"turn"};
enum class Run { Straight, Radial, Angular, Boxed, Direction, Distance };
constexpr Option<Run> kRuns[] = {
    {Run::Straight, "straight", "straight"},       {Run::Radial, "radial", "radial"},
    {Run::Angular, "angular", "angular"},          {Run::Boxed, "boxed", "boxed"},
    {Run::Direction, "direction", "in the model"}, {Run::Distance, "distance", "from a point"}};
constexpr ChoiceHandle<Run> kShape{"shape", kRuns};
constexpr NumberHandle kLength{"length"};
enum class Beyond { End, Repeat, Mirror };  ///< as the kernels count
constexpr Option<Beyond> kBeyonds[] = {{Beyond::End, "end", "ends"},
                                       {Beyond::Repeat, "repeat", "repeats"},
                                       {Beyond::Mirror, "mirror", "mirrors"}};
constexpr ChoiceHandle<Beyond> kBeyond{"beyond", kBeyonds};
constexpr NumberHandle kScale{"scale"};

HWY_EXPORT(Straight);
HWY_EXPORT(Radial);
HWY_EXPORT(Angular);
HWY_EXPORT(Boxed);
const Op kStraight{"gradient-straight", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Straight)(k); }};
const Op kRadial{"gradient-radial", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Radial)(k); }};
const Op kAngular{"gradient-angular", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Angular)(k); }};
const Op kBoxed{"gradient-boxed", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Boxed)(k); }};

/// How far a place of the model lies along a direction, or from a point, in centimetres.
Reg alongModel(Emitter& e) {
    ProgramBuilder& p = e.program();
    constexpr double kDegree = 3.14159265358979323846 / 180;
    const std::array<double, 3> from{e[kFromX], e[kFromY], e[kFromZ]};
    const double tilt = e[kTilt] * kDegree, turn = e[kTurn] * kDegree;
    const std::array<double, 3> towards{std::sin(turn) * std::cos(tilt), std::sin(tilt),
                                        std::cos(turn) * std::cos(tilt)};
    const bool isDistance = e[kShape] == Run::Distance;
    Reg sum = e.constant(0);
    for (int c = 0; c < 3; ++c) {
        const auto k = static_cast<std::size_t>(c);
        const Reg away = p.emit(
            arithmeticOp(Arithmetic::Subtract),
            {meshAttribute(p, SurfaceAttribute::Position, c), e.constant(static_cast<float>(from[k]))});
        const Reg by = isDistance ? away : e.constant(static_cast<float>(towards[k]));
        sum = p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {away, by, sum});
    }
    return isDistance ? p.emit(arithmeticOp(Arithmetic::SquareRoot), {sum}) : sum;
}

/// True if it runs over the model, in centimetres, and not across the texture.
bool isOnModel(const StepView& v) {
    return v[kShape] == Run::Direction || v[kShape] == Run::Distance;
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const auto beyond = static_cast<float>(e[kBeyond]);
    if (isOnModel(e)) {
        const float length = static_cast<float>(std::clamp(std::fabs(e[kLength]), 1e-4, 1e9));
        // From 0 on: the kernel's runs begin half a run before their middle.
        const Reg t =
            p.emit(kStraight, {alongModel(e), e.constant(0)}, {1 / length, 0, 0.5f * length, 0, beyond});
        return {e.kind(), t, t, t, kNoReg};
    }
    const Run shape = e[kShape];
    const Op& op = shape == Run::Radial    ? kRadial
                   : shape == Run::Angular ? kAngular
                   : shape == Run::Boxed   ? kBoxed
                                           : kStraight;
    const double turn = e[kRotation] * 3.14159265358979323846 / 180;
    double scale = e[kScale];
    if (std::fabs(scale) < 1e-6) scale = 1e-6;
    const Reg t =
        p.emit(op, {p.source({PointAttribute::U}, 0), p.source({PointAttribute::V}, 0)},
               {static_cast<float>(std::cos(turn) / scale), static_cast<float>(std::sin(turn) / scale),
                static_cast<float>(0.5 + e[kOffsetU]), static_cast<float>(0.5 + e[kOffsetV]), beyond});
    return {e.kind(), t, t, t, kNoReg};
}
}  // namespace

StepSpec gradientStep() {
    StepSpec spec;
    spec.type = "gradient";
    spec.order = 40;
    spec.name = "Gradient";
    spec.purpose = "A smooth run from 0 to 1 across the surface.";
    spec.source = true;
    spec.kinds = {Kind::Scalar, Kind::Colour};
    const auto inTexture = [](ControlSpec c) {
        return shownWhile(kShape, {Run::Straight, Run::Radial, Run::Angular, Run::Boxed}, std::move(c));
    };
    const auto onModel = [](ControlSpec c) {
        return shownWhile(kShape, {Run::Direction, Run::Distance}, std::move(c));
    };
    const auto along = [](ControlSpec c) { return shownWhile(kShape, {Run::Direction}, std::move(c)); };
    const char* const begins = "Where it begins, in the model's own centimetres.";
    spec.controls = {
        choiceControl(kShape, "Shape", Run::Straight,
                      "How it runs across the unit square of the texture, or over the model in centimetres."),
        inTexture(numberControl(kScale, "Scale", 1, 0.05, 4, "×",
                                "How long one run is; 1 is the whole square.", 3)),
        inTexture(numberControl(kRotation, "Rotation", 0, -180, 180, "°",
                                "Turned about the middle, anticlockwise.", 1)),
        inTexture(numberControl(kOffsetU, "Offset U", 0, -1, 1, "", "Moves the middle to the right.", 3)),
        inTexture(numberControl(kOffsetV, "Offset V", 0, -1, 1, "", "Moves the middle up.", 3)),
        choiceControl(kBeyond, "Beyond", Beyond::End, "What comes before 0 and after 1."),
        onModel(numberControl(kLength, "Length", 20, 0.5, 60, "cm", "How far it takes from 0 to 1.", 2)),
        along(numberControl(kTilt, "Tilt", 90, -90, 90, "°", "90 runs straight up, 0 to the side.", 1)),
        along(numberControl(kTurn, "Turn", 0, -180, 180, "°", "Around the vertical; 0 is to the front.", 1)),
        onModel(numberControl(kFromX, "From, across", 0, -30, 30, "cm", begins, 1)),
        onModel(numberControl(kFromY, "From, up", 0, -30, 30, "cm", begins, 1)),
        onModel(numberControl(kFromZ, "From, front", 0, -30, 30, "cm", begins, 1))};
    spec.onModel = isOnModel;
    spec.example = {kShape(Run::Radial)};
    spec.telling = [](const StepView& v) { return std::string(kShape.idOf(v[kShape])); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
