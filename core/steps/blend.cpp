// Blend: lays a second picture over the line.  result = u + amount * mask * (f(u, o) - u), per component.
// Formulas: W3C Compositing and Blending level 1, sections 10.1.1 to 10.1.4, on unlimited numbers. Amount or
// mask 0 gives the under value bit for bit. Contrast modes work on display-encoded numbers on colour lines,
// so that mid grey is neutral.
#include <fmt/format.h>

#include "core/steps/blend.h"
#include "core/steps/emitting.h"

// Every separable mode and its f(u, o). The component modes follow below.
#define KETTLE_SEPARABLE_MODES(F)                                        \
    F(Normal, o)                                                         \
    F(Average, hn::Mul(hn::Add(u, o), hn::Set(d, 0.5f)))                 \
    F(Darken, hn::Min(u, o))                                             \
    F(Multiply, hn::Mul(u, o))                                           \
    F(ColourBurn, BurnOf(d, u, o))                                       \
    F(LinearBurn, hn::Sub(hn::Add(u, o), hn::Set(d, 1.0f)))              \
    F(Lighten, hn::Max(u, o))                                            \
    F(Screen, ScreenOf(d, u, o))                                         \
    F(ColourDodge, DodgeOf(d, u, o))                                     \
    F(Add, hn::Add(u, o))                                                \
    F(Overlay, HardLightOf(d, o, u))                                     \
    F(SoftLight, SoftLightOf(d, u, o))                                   \
    F(HardLight, HardLightOf(d, u, o))                                   \
    F(VividLight, VividLightOf(d, u, o))                                 \
    F(LinearLight, hn::Sub(hn::Add(u, hn::Add(o, o)), hn::Set(d, 1.0f))) \
    F(PinLight, PinLightOf(d, u, o))                                     \
    F(Difference, hn::Abs(hn::Sub(u, o)))                                \
    F(Exclusion, hn::NegMulAdd(hn::Add(u, u), o, hn::Add(u, o)))         \
    F(Subtract, hn::Sub(u, o))                                           \
    F(Divide, QuotientOf(d, u, o))

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/blend.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

template <class D, class V = hn::Vec<D>>
HWY_INLINE V ScreenOf(D, V u, V o) {
    return hn::Add(u, hn::NegMulAdd(u, o, o));
}
/// u >= 1: 1; o <= 0: 0; else 1 - min(1, (1 - u) / o)
template <class D, class V = hn::Vec<D>>
HWY_INLINE V BurnOf(D d, V u, V o) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    const auto some = hn::Gt(o, zero);
    const V y = hn::Sub(one, hn::Min(one, hn::Div(hn::Sub(one, u), hn::IfThenElse(some, o, one))));
    return hn::IfThenElse(hn::Ge(u, one), one, hn::IfThenElseZero(some, y));
}
/// u <= 0: 0; o >= 1: 1; else min(1, u / (1 - o))
template <class D, class V = hn::Vec<D>>
HWY_INLINE V DodgeOf(D d, V u, V o) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d), room = hn::Sub(one, o);
    const auto some = hn::Gt(room, zero);
    const V y = hn::Min(one, hn::Div(u, hn::IfThenElse(some, room, one)));
    return hn::IfThenElseZero(hn::Gt(u, zero), hn::IfThenElse(some, y, one));
}
/// o <= 0.5: 2 u o, else screen(u, 2 o - 1)
template <class D, class V = hn::Vec<D>>
HWY_INLINE V HardLightOf(D d, V u, V o) {
    const V twice = hn::Add(o, o);
    return hn::IfThenElse(hn::Le(o, hn::Set(d, 0.5f)), hn::Mul(u, twice),
                          ScreenOf(d, u, hn::Sub(twice, hn::Set(d, 1.0f))));
}
/// W3C 10.1.1, softlight: the root above a quarter, a cubic below.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V SoftLightOf(D d, V u, V o) {
    const V one = hn::Set(d, 1.0f), twice = hn::Sub(hn::Add(o, o), one);
    const V cubic =
        hn::Mul(hn::MulAdd(hn::MulSub(hn::Set(d, 16.0f), u, hn::Set(d, 12.0f)), u, hn::Set(d, 4.0f)), u);
    const V root = hn::Sqrt(hn::Max(u, hn::Zero(d)));
    const V bend = hn::IfThenElse(hn::Le(u, hn::Set(d, 0.25f)), cubic, root);
    const V dark = hn::MulAdd(hn::Mul(twice, u), hn::Sub(one, u), u);
    return hn::IfThenElse(hn::Le(o, hn::Set(d, 0.5f)), dark, hn::MulAdd(twice, hn::Sub(bend, u), u));
}
template <class D, class V = hn::Vec<D>>
HWY_INLINE V VividLightOf(D d, V u, V o) {
    const V twice = hn::Add(o, o);
    return hn::IfThenElse(hn::Le(o, hn::Set(d, 0.5f)), BurnOf(d, u, twice),
                          DodgeOf(d, u, hn::Sub(twice, hn::Set(d, 1.0f))));
}
template <class D, class V = hn::Vec<D>>
HWY_INLINE V PinLightOf(D d, V u, V o) {
    const V twice = hn::Add(o, o);
    return hn::IfThenElse(hn::Le(o, hn::Set(d, 0.5f)), hn::Min(u, twice),
                          hn::Max(u, hn::Sub(twice, hn::Set(d, 1.0f))));
}
template <class D, class V = hn::Vec<D>>
HWY_INLINE V QuotientOf(D d, V u, V o) {
    const auto some = hn::Ne(o, hn::Zero(d));
    return hn::IfThenElse(some, hn::Div(u, hn::IfThenElse(some, o, hn::Set(d, 1.0f))), u);
}

/// in: the under's components, the over's, mask; outs: one for each component (1 or 3), all there; params:
/// the BlendMode, encoded, amount, limit (0 or 1), components
template <bool kEncoded, std::size_t kComponents, class F>
HWY_INLINE void BlendLoop(const KernelCall& k, F&& mode) {
    const hn::ScalableTag<float> d;
    using V = hn::Vec<decltype(d)>;
    const auto amount = hn::Set(d, k.params[2]), zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const bool limit = k.params[3] != 0.0f;
    const float* in[2 * kComponents + 1];
    float* out[kComponents];
    std::copy_n(k.in, 2 * kComponents + 1, in);
    std::copy_n(k.out, kComponents, out);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto weight = hn::Mul(amount, hn::Load(d, in[2 * kComponents] + i));
        const auto keep = hn::Eq(weight, zero);
        V result[kComponents];
        for (std::size_t c = 0; c < kComponents; ++c) {
            const auto under = hn::Load(d, in[c] + i);
            auto u = under, o = hn::Load(d, in[kComponents + c] + i);
            if (kEncoded) {
                u = EncodeSrgb(d, u);
                o = EncodeSrgb(d, o);
            }
            auto y = hn::MulAdd(weight, hn::Sub(mode(d, u, o), u), u);
            if (limit) y = hn::Min(hn::Max(y, zero), one);
            if (kEncoded) y = DecodeSrgb(d, y);
            result[c] = hn::IfThenElse(keep, under, y);
        }
        // All loads before the first store: planes often lie a multiple of 4 KB apart, and a load then waits
        // for an earlier store to another plane.
        for (std::size_t c = 0; c < kComponents; ++c) hn::Store(result[c], d, out[c] + i);
    }
}

/// The components that are read, one after the other: where the transfer curve takes the time, or not all are
/// wanted, nothing is won by doing them together.
template <bool kEncoded, class F>
HWY_INLINE void BlendOneByOne(const KernelCall& k, F&& mode) {
    const float* in[3];
    for (std::size_t c = 0; c < 3; ++c) {
        if (k.out[c] == nullptr) continue;
        in[0] = k.in[c], in[1] = k.in[3 + c], in[2] = k.in[6];
        KernelCall one = k;
        one.in = in;
        one.out = k.out + c;
        BlendLoop<kEncoded, 1>(one, mode);
    }
}

/// One or three components of a separable mode.
template <class F>
HWY_INLINE void BlendBy(const KernelCall& k, F&& mode) {
    if (k.params[4] == 1.0f)
        BlendLoop<false, 1>(k, mode);
    else if (k.params[1] != 0.0f)
        BlendOneByOne<true>(k, mode);
    else if (k.out[0] != nullptr && k.out[1] != nullptr && k.out[2] != nullptr)
        BlendLoop<false, 3>(k, mode);
    else
        BlendOneByOne<false>(k, mode);
}

void BlendSeparable(const KernelCall& k) {
    switch (static_cast<int>(k.params[0])) {
#define KETTLE_CASE(Name, expression)           \
    case static_cast<int>(BlendMode::Name):     \
        BlendBy(k, [](auto d, auto u, auto o) { \
            (void)d, (void)u, (void)o;          \
            return expression;                  \
        });                                     \
        break;
        KETTLE_SEPARABLE_MODES(KETTLE_CASE)
#undef KETTLE_CASE
        default:
            break;
    }
}

template <class V>
struct Rgb {
    V r, g, b;
};
template <class D, class V>
HWY_INLINE V Luma(D d, const Rgb<V>& c) {
    return Weighted(d, c.r, c.g, c.b, 0.3f, 0.59f, 0.11f);
}
/// W3C 10.2, SetLum with ClipColor, which fades to grey where the luma itself lies outside 0..1.
template <class D, class V>
HWY_INLINE Rgb<V> WithLuma(D d, const Rgb<V>& c, V luma) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d), shift = hn::Sub(luma, Luma(d, c));
    const V r = hn::Add(c.r, shift), g = hn::Add(c.g, shift), b = hn::Add(c.b, shift);
    const V low = hn::Min(r, hn::Min(g, b)), high = hn::Max(r, hn::Max(g, b));
    const auto part = [&](V room, V reach, auto needed) {
        const auto some = hn::Gt(reach, zero);
        const V scale = hn::Div(hn::Max(room, zero), hn::IfThenElse(some, reach, one));
        return hn::IfThenElse(needed, scale, one);
    };
    const V scale = hn::Min(part(luma, hn::Sub(luma, low), hn::Lt(low, zero)),
                            part(hn::Sub(one, luma), hn::Sub(high, luma), hn::Gt(high, one)));
    const auto clip = [&](V x) { return hn::MulAdd(hn::Sub(x, luma), scale, luma); };
    return {clip(r), clip(g), clip(b)};
}
template <class D, class V>
HWY_INLINE V Range3(D, const Rgb<V>& c) {
    return hn::Sub(hn::Max(c.r, hn::Max(c.g, c.b)), hn::Min(c.r, hn::Min(c.g, c.b)));
}
/// W3C 10.2, SetSat: the smallest component becomes 0, the largest `range`.
template <class D, class V>
HWY_INLINE Rgb<V> WithRange(D d, const Rgb<V>& c, V range) {
    const V own = Range3(d, c), low = hn::Min(c.r, hn::Min(c.g, c.b));
    const auto some = hn::Gt(own, hn::Zero(d));
    const V scale = hn::IfThenElseZero(some, hn::Div(range, hn::IfThenElse(some, own, hn::Set(d, 1.0f))));
    return {hn::Mul(hn::Sub(c.r, low), scale), hn::Mul(hn::Sub(c.g, low), scale),
            hn::Mul(hn::Sub(c.b, low), scale)};
}
template <class D, class V>
HWY_INLINE Rgb<V> ByLuma(D d, int mode, const Rgb<V>& u, const Rgb<V>& o) {
    if (mode == 0) return WithLuma(d, WithRange(d, o, Range3(d, u)), Luma(d, u));
    if (mode == 1) return WithLuma(d, WithRange(d, u, Range3(d, o)), Luma(d, u));
    return mode == 2 ? WithLuma(d, o, Luma(d, u)) : WithLuma(d, u, Luma(d, o));
}
/// The same four in HSV. A grey over has no hue to give, so the under's stays.
template <class D, class V>
HWY_INLINE Rgb<V> ByHsv(D d, int mode, const Rgb<V>& u, const Rgb<V>& o) {
    V uh = u.r, us = u.r, uv = u.r, oh = u.r, os = u.r, ov = u.r;
    ToHsv(d, u.r, u.g, u.b, uh, us, uv);
    ToHsv(d, o.r, o.g, o.b, oh, os, ov);
    const V hue = hn::IfThenElse(hn::Gt(os, hn::Zero(d)), oh, uh);
    Rgb<V> out = u;
    FromHsv(d, mode == 0 || mode == 2 ? hue : uh, mode == 1 || mode == 2 ? os : us, mode == 3 ? ov : uv,
            out.r, out.g, out.b);
    return out;
}

/// in: under r, g, b, over r, g, b, mask; params: mode, encoded, amount, limit, 1 for HSV
void BlendComponents(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto amount = hn::Set(d, k.params[2]), zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const bool encoded = k.params[1] != 0.0f, limit = k.params[3] != 0.0f, hsv = k.params[4] != 0.0f;
    const int mode = static_cast<int>(k.params[0]);
    using V = hn::Vec<decltype(d)>;
    for (const std::size_t i : VectorsOf(d, k)) {
        const V weight = hn::Mul(amount, hn::Load(d, k.in[6] + i));
        const auto load = [&](std::size_t at) {
            const V x = hn::Load(d, k.in[at] + i);
            return encoded ? EncodeSrgb(d, x) : x;
        };
        const Rgb<V> u{load(0), load(1), load(2)}, o{load(3), load(4), load(5)};
        const Rgb<V> f = hsv ? ByHsv(d, mode, u, o) : ByLuma(d, mode, u, o);
        const auto put = [&](V result, V under, std::size_t at) {
            if (k.out[at] == nullptr) return;
            V y = hn::MulAdd(weight, hn::Sub(result, under), under);
            if (limit) y = hn::Min(hn::Max(y, zero), one);
            if (encoded) y = DecodeSrgb(d, y);
            hn::Store(hn::IfThenElse(hn::Eq(weight, zero), hn::Load(d, k.in[at] + i), y), d, k.out[at] + i);
        };
        put(f.r, u.r, 0);
        put(f.g, u.g, 1);
        put(f.b, u.b, 2);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {

HWY_EXPORT(BlendSeparable);
HWY_EXPORT(BlendComponents);
// One name for each in listings, one kernel for all.
void separable(const KernelCall& k) {
    HWY_DYNAMIC_DISPATCH(BlendSeparable)(k);
}
void components(const KernelCall& k) {
    HWY_DYNAMIC_DISPATCH(BlendComponents)(k);
}

const BlendModeInfo& modeOf(const StepView& v) {
    return kBlendModes[static_cast<std::size_t>(v[kBlendMode])];
}
const Op& opOf(const BlendModeInfo& mode) {
    static const std::vector<Op> ops = [] {
        std::vector<Op> all;
        for (const BlendModeInfo& m : kBlendModes)
            all.push_back(m.needsColour() ? Op{m.id, components} : Op{m.id, separable, 2});
        return all;
    }();
    return ops[static_cast<std::size_t>(mode.mode)];
}
/// As the kernels count: the component modes by themselves.
float numberOf(const BlendModeInfo& mode) {
    const BlendMode first = mode.needsColour() ? BlendMode::Hue : BlendMode::Normal;
    return static_cast<float>(static_cast<int>(mode.mode) - static_cast<int>(first));
}

/// What hue, saturation, colour and luminosity are components of.
enum class ComponentsOf { Luma, Hsv };
constexpr Option<ComponentsOf> kComponentsOf[] = {{ComponentsOf::Luma, "luma", "of luma (W3C)"},
                                                  {ComponentsOf::Hsv, "hsv", "of HSV"}};
constexpr ChoiceHandle<ComponentsOf> kBlendComponents{"components", kComponentsOf};

bool isContrast(const BlendModeInfo& mode) {
    // The dodge and the burn have no neutral grey, but they too are made for the numbers of a display.
    return mode.group == BlendGroup::Contrast || mode.mode == BlendMode::ColourDodge ||
           mode.mode == BlendMode::ColourBurn;
}

bool blendsEncoded(const StepView& v) {
    if (v.kind() != Kind::Colour) return false;
    const BlendSpace space = v[kBlendSpace];
    return space == BlendSpace::DisplayEncoded || (space == BlendSpace::Automatic && isContrast(modeOf(v)));
}

std::string noEffect(const StepView& v) {
    if (v.feed(kOver) == nullptr) return "nothing is joined to over";
    if (v[kSwap]) return "";
    return amountReason(v);
}

Value emit(Emitter& e) {
    Value under = e.input();
    auto fed = e.fed(kOver, under.kind);
    if (!fed) return under;
    Value over = *fed;
    const bool encoded = blendsEncoded(e);
    // A grey map over a colour line: its numbers are meant as they stand, so 0.5 is neutral in a contrast
    // mode.
    if (encoded && over.kind == Kind::Scalar) over = decodeValue(e.program(), over);
    if (e[kSwap]) std::swap(under, over);
    if (e[kAmount] == 0) return {e.kind(), under.r, under.g, under.b, e.input().a};
    ProgramBuilder& p = e.program();
    const auto mask = e.fed(kMask, Kind::Scalar);
    Reg weight = mask ? mask->r : e.constant(1.0f);
    if (e[kOwnTransparency] && over.a != kNoReg)
        weight = p.emit(arithmeticOp(Arithmetic::Multiply), {weight, over.a});
    const BlendModeInfo& mode = modeOf(e);
    std::vector<float> params{numberOf(mode), encoded ? 1.0f : 0.0f, e.real(kAmount),
                              e[kLimit] ? 1.0f : 0.0f};
    Value out = e.input();
    const bool single = e.kind() == Kind::Scalar;
    if (mode.needsColour() && !single) {
        params.push_back(e[kBlendComponents] == ComponentsOf::Hsv ? 1.0f : 0.0f);
        const Reg first =
            p.emit(opOf(mode), {under.r, under.g, under.b, over.r, over.g, over.b, weight}, params, 3);
        return {e.kind(), first, first + 1, first + 2, out.a};
    }
    // A grey line has no hue; what would be taken of the over is all there is of it.
    const BlendModeInfo& own = mode.needsColour() ? kBlendModes.front() : mode;
    const Op& op = opOf(own);
    params[0] = numberOf(own);
    params.push_back(single ? 1.0f : 3.0f);
    if (single) {
        out.r = out.g = out.b = p.emit(op, {under.r, over.r, weight}, params);
        return out;
    }
    const Reg first = p.emit(op, {under.r, under.g, under.b, over.r, over.g, over.b, weight}, params, 3);
    return {e.kind(), first, first + 1, first + 2, out.a};
}
}  // namespace

std::string blendSpaceReason(const StepView& v) {
    const BlendSpace space = v[kBlendSpace];
    if (v.kind() != Kind::Colour) return "raw numbers: not a colour line";
    if (space == BlendSpace::LinearLight) return "linear light: chosen";
    if (space == BlendSpace::DisplayEncoded) return "display-encoded: chosen";
    return isContrast(modeOf(v)) ? "display-encoded: contrast mode on a colour line"
                                 : "linear light: light adds up so";
}

namespace {

/// A contrast mode on a colour line that was told to mix in linear light.
bool isForcedIntoLight(const StepView& v) {
    return v.kind() == Kind::Colour && v[kBlendSpace] == BlendSpace::LinearLight && isContrast(modeOf(v));
}

}  // namespace

StepSpec blendStep() {
    StepSpec spec;
    spec.type = kBlend;
    spec.order = 170;
    spec.name = "Blend";
    spec.purpose = "Lays another picture over the line.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.editor = StepEditor::BlendModes;
    spec.blend = {kOver, kMask, kAmount, kOwnTransparency};
    spec.warning = [](const StepView& v) {
        return std::string(isForcedIntoLight(v) ? "In linear light mid grey is not neutral in this mode. Set "
                                                  "the blend space to automatic."
                                                : "");
    };
    ControlSpec space = choiceControl(
        kBlendSpace, "Blend space", BlendSpace::Automatic,
        "Automatic: linear light, but display-encoded for contrast modes, so that mid grey is neutral.");
    ControlSpec own =
        toggleControl(kOwnTransparency, "Use its alpha", false, "The over picture's alpha joins the mask.");
    ControlSpec by = choiceControl(kBlendComponents, "Components", ComponentsOf::Luma,
                                   "What hue, saturation, colour and luminosity are components of.");
    space.colourOnly = own.colourOnly = by.colourOnly = true;
    by = shownWhile(kBlendMode,
                    {BlendMode::Hue, BlendMode::Saturation, BlendMode::Colour, BlendMode::Luminosity}, by);
    spec.controls = {
        choiceControl(kBlendMode, "Mode", BlendMode::Normal, "How over and under make the result."),
        amountControl(1.0),
        space,
        by,
        toggleControl(kLimit, "Limit to 0..1", false, "Keeps the result between 0 and 1."),
        own,
        toggleControl(kSwap, "Swap", false, "Over becomes under, and the line is laid over it.")};
    spec.feeds = {{kOver.id, "Over", std::nullopt, "What is laid over the line.", true},
                  maskFeed("Where over is taken: white fully, black not at all.")};
    spec.example = {kBlendMode(BlendMode::Overlay)};
    spec.telling = [](const StepView& v) { return fmt::format("{} {:.2f}", modeOf(v).name, v[kAmount]); };
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
