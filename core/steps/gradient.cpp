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
    const std::array<double, 3> from{e.number("from-x"), e.number("from-y"), e.number("from-z")};
    const double tilt = e.number("tilt") * kDegree, turn = e.number("turn") * kDegree;
    const std::array<double, 3> towards{std::sin(turn) * std::cos(tilt), std::sin(tilt),
                                        std::cos(turn) * std::cos(tilt)};
    const bool isDistance = e.choice("shape") == "distance";
    Reg sum = e.constant(0);
    for (int c = 0; c < 3; ++c) {
        const auto k = static_cast<std::size_t>(c);
        const Reg away = p.emit(arithmeticOp("subtract"),
                                {modelFact(p, "position", c), e.constant(static_cast<float>(from[k]))});
        const Reg by = isDistance ? away : e.constant(static_cast<float>(towards[k]));
        sum = p.emit(arithmeticOp("multiply-add"), {away, by, sum});
    }
    return isDistance ? p.emit(arithmeticOp("sqrt"), {sum}) : sum;
}

float numberOfBeyond(const std::string& beyond) {
    return beyond == "repeat" ? 1.0f : beyond == "mirror" ? 2.0f : 0.0f;
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    if (e.choice("shape") == "direction" || e.choice("shape") == "distance") {
        const float length = static_cast<float>(std::clamp(std::fabs(e.number("length")), 1e-4, 1e9));
        // From 0 on: the kernel's runs begin half a run before their middle.
        const Reg t = p.emit(kStraight, {alongModel(e), e.constant(0)},
                             {1 / length, 0, 0.5f * length, 0, numberOfBeyond(e.choice("beyond"))});
        return {e.kind(), t, t, t, kNoReg};
    }
    const std::string &shape = e.choice("shape"), &beyond = e.choice("beyond");
    const Op& op = shape == "radial"    ? kRadial
                   : shape == "angular" ? kAngular
                   : shape == "boxed"   ? kBoxed
                                        : kStraight;
    const double turn = e.number("rotation") * 3.14159265358979323846 / 180;
    double scale = e.number("scale");
    if (std::fabs(scale) < 1e-6) scale = 1e-6;
    const Reg t =
        p.emit(op, {p.source({SourceKind::U, {}, {}}, 0), p.source({SourceKind::V, {}, {}}, 0)},
               {static_cast<float>(std::cos(turn) / scale), static_cast<float>(std::sin(turn) / scale),
                static_cast<float>(0.5 + e.number("offset-u")),
                static_cast<float>(0.5 + e.number("offset-v")), numberOfBeyond(beyond)});
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
    spec.controls = {
        choiceControl("shape", "Shape", "straight",
                      {{"straight", "straight"},
                       {"radial", "radial"},
                       {"angular", "angular"},
                       {"boxed", "boxed"},
                       {"direction", "in the model"},
                       {"distance", "from a point"}},
                      "How it runs across the unit square of the texture, or over the model in centimetres."),
        numberControl("scale", "Scale", 1, 0.05, 4, "×", "How long one run is; 1 is the whole square.", 3),
        numberControl("rotation", "Rotation", 0, -180, 180, "°", "Turned about the middle, anticlockwise.",
                      1),
        numberControl("offset-u", "Offset U", 0, -1, 1, "", "Moves the middle to the right.", 3),
        numberControl("offset-v", "Offset V", 0, -1, 1, "", "Moves the middle up.", 3),
        choiceControl("beyond", "Beyond", "end",
                      {{"end", "ends"}, {"repeat", "repeats"}, {"mirror", "mirrors"}},
                      "What comes before 0 and after 1.")};
    const std::vector<std::string> inTexture{"straight", "radial", "angular", "boxed"},
        onModel{"direction", "distance"};
    for (ControlSpec& c : spec.controls)
        if (c.id == "scale" || c.id == "rotation" || c.id == "offset-u" || c.id == "offset-v")
            c.shownBy = "shape", c.shownFor = inTexture;
    const auto over = [&](ControlSpec control, std::vector<std::string> shapes) {
        control.shownBy = "shape", control.shownFor = std::move(shapes);
        spec.controls.push_back(std::move(control));
    };
    over(numberControl("length", "Length", 20, 0.5, 60, "cm", "How far it takes from 0 to 1.", 2), onModel);
    over(numberControl("tilt", "Tilt", 90, -90, 90, "°", "90 runs straight up, 0 to the side.", 1),
         {"direction"});
    over(numberControl("turn", "Turn", 0, -180, 180, "°", "Around the vertical; 0 is to the front.", 1),
         {"direction"});
    over(numberControl("from-x", "From, across", 0, -30, 30, "cm",
                       "Where it begins, in the model's own centimetres.", 1),
         onModel);
    over(numberControl("from-y", "From, up", 0, -30, 30, "cm",
                       "Where it begins, in the model's own centimetres.", 1),
         onModel);
    over(numberControl("from-z", "From, front", 0, -30, 30, "cm",
                       "Where it begins, in the model's own centimetres.", 1),
         onModel);
    spec.onModel = [](const StepView& v) {
        return v.choice("shape") == "direction" || v.choice("shape") == "distance";
    };
    spec.example = {{"shape", std::string("radial")}};
    spec.telling = [](const StepView& v) { return v.choice("shape"); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
