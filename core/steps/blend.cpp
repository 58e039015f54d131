// Blend: lays a second picture over the line.  result = u + amount * mask * (f(u, o) - u), per component.
// Formulas: W3C Compositing and Blending level 1, sections 10.1.1 to 10.1.4, on unlimited numbers. Amount or
// mask 0 gives the under value bit for bit. Contrast modes work on display-encoded numbers on colour lines,
// so that mid grey is neutral.
#include <fmt/format.h>

#include <array>

#include "core/steps/step.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/blend.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

struct NormalMode {
    template <class D, class V>
    V operator()(D, V, V o) const {
        return o;
    }
};
struct MultiplyMode {
    template <class D, class V>
    V operator()(D, V u, V o) const {
        return hn::Mul(u, o);
    }
};
struct ScreenMode {
    template <class D, class V>
    V operator()(D, V u, V o) const {
        return hn::Add(u, hn::NegMulAdd(u, o, o));
    }
};
struct OverlayMode {
    /// hard light with the two swapped: u <= 0.5 ? 2 u o : screen(o, 2 u - 1)
    template <class D, class V>
    V operator()(D d, V u, V o) const {
        const V twice = hn::Add(u, u), second = hn::Sub(twice, hn::Set(d, 1.0f));
        return hn::IfThenElse(hn::Le(u, hn::Set(d, 0.5f)), hn::Mul(twice, o),
                              hn::Add(o, hn::NegMulAdd(o, second, second)));
    }
};

/// in: under, over, mask; params: amount, limit (0 or 1)
template <class Mode, bool kEncoded>
void BlendLoop(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto amount = hn::Set(d, k.params[0]), zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const bool limit = k.params[1] != 0.0f;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const auto under = hn::Load(d, k.in[0] + i);
        auto u = under, o = hn::Load(d, k.in[1] + i);
        const auto weight = hn::Mul(amount, hn::Load(d, k.in[2] + i));
        if (kEncoded) {
            u = EncodeSrgb(d, u);
            o = EncodeSrgb(d, o);
        }
        auto y = hn::MulAdd(weight, hn::Sub(Mode()(d, u, o), u), u);
        if (limit) y = hn::Min(hn::Max(y, zero), one);
        if (kEncoded) y = DecodeSrgb(d, y);
        hn::Store(hn::IfThenElse(hn::Eq(weight, zero), under, y), d, k.out[0] + i);
    }
}

void BlendNormal(const KernelCall& k) {
    BlendLoop<NormalMode, false>(k);
}
void BlendMultiply(const KernelCall& k) {
    BlendLoop<MultiplyMode, false>(k);
}
void BlendScreen(const KernelCall& k) {
    BlendLoop<ScreenMode, false>(k);
}
void BlendOverlay(const KernelCall& k) {
    BlendLoop<OverlayMode, false>(k);
}
void BlendNormalEncoded(const KernelCall& k) {
    BlendLoop<NormalMode, true>(k);
}
void BlendMultiplyEncoded(const KernelCall& k) {
    BlendLoop<MultiplyMode, true>(k);
}
void BlendScreenEncoded(const KernelCall& k) {
    BlendLoop<ScreenMode, true>(k);
}
void BlendOverlayEncoded(const KernelCall& k) {
    BlendLoop<OverlayMode, true>(k);
}

void Product(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d))
        hn::Store(hn::Mul(hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i)), d, k.out[0] + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(BlendNormal);
HWY_EXPORT(BlendMultiply);
HWY_EXPORT(BlendScreen);
HWY_EXPORT(BlendOverlay);
HWY_EXPORT(BlendNormalEncoded);
HWY_EXPORT(BlendMultiplyEncoded);
HWY_EXPORT(BlendScreenEncoded);
HWY_EXPORT(BlendOverlayEncoded);
HWY_EXPORT(Product);

struct Mode {
    const char* id;
    const char* name;
    bool contrast;  ///< mid grey is its neutral, so colour lines blend display-encoded
    Op plain, encoded;
};
const std::array<Mode, 4> kModes{{
    {"normal",
     "normal",
     false,
     {"normal", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendNormal)
                                          (k); }},
     {"normal-encoded", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendNormalEncoded)
                                                  (k); }}},
    {"multiply",
     "multiply",
     false,
     {"multiply", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendMultiply)
                                            (k); }},
     {"multiply-encoded", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendMultiplyEncoded)
                                                    (k); }}},
    {"screen",
     "screen",
     false,
     {"screen", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendScreen)
                                          (k); }},
     {"screen-encoded", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendScreenEncoded)
                                                  (k); }}},
    {"overlay",
     "overlay",
     true,
     {"overlay", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendOverlay)
                                           (k); }},
     {"overlay-encoded", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(BlendOverlayEncoded)
                                                   (k); }}},
}};
const Op kProduct{"product", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Product)(k); }};

const Mode& modeOf(const StepView& v) {
    for (const Mode& mode : kModes)
        if (v.choice("mode") == mode.id) return mode;
    return kModes[0];
}

bool blendsEncoded(const StepView& v) {
    if (v.kind() != Kind::Colour) return false;
    const std::string& space = v.choice("space");
    return space == "encoded" || (space == "auto" && modeOf(v).contrast);
}

std::string noEffect(const StepView& v) {
    if (v.number("amount") == 0) return "the amount is 0";
    if (v.feed("over") == nullptr) return "nothing is joined to over";
    if (v.feedIs("mask", 0)) return "the mask is black everywhere";
    return "";
}

Value emit(Emitter& e) {
    const Value under = e.input();
    auto over = e.fed("over", under.kind);
    if (!over || e.number("amount") == 0) return under;
    // A grey map over a colour line: its numbers are meant as they stand, so 0.5 is neutral in a contrast
    // mode.
    if (blendsEncoded(e) && over->kind == Kind::Scalar) over = decodeValue(e.program(), *over);
    const auto mask = e.fed("mask", Kind::Scalar);
    Reg weight = mask ? mask->r : e.constant(1.0f);
    if (e.toggle("own-transparency") && over->a != kNoReg)
        weight = e.program().emit(kProduct, {weight, over->a});
    const Mode& mode = modeOf(e);
    const Op& op = blendsEncoded(e) ? mode.encoded : mode.plain;
    const std::vector<float> params{e.real("amount"), e.toggle("limit") ? 1.0f : 0.0f};
    Value out = under;
    out.r = e.program().emit(op, {under.r, over->r, weight}, params);
    out.g = under.kind == Kind::Scalar ? out.r : e.program().emit(op, {under.g, over->g, weight}, params);
    out.b = under.kind == Kind::Scalar ? out.r : e.program().emit(op, {under.b, over->b, weight}, params);
    return out;
}
}  // namespace

std::string blendSpaceReason(const StepView& v) {
    const std::string& space = v.choice("space");
    if (v.kind() != Kind::Colour) return "raw numbers: not a colour line";
    if (space == "linear") return "linear light: chosen";
    if (space == "encoded") return "display-encoded: chosen";
    return modeOf(v).contrast ? "display-encoded: contrast mode on a colour line"
                              : "linear light: light adds up so";
}

StepSpec blendStep() {
    StepSpec spec;
    spec.type = "blend";
    spec.name = "Blend";
    spec.purpose = "Lays another picture over the line.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    ControlSpec mode{"mode", "Mode", ControlType::Choice, std::string("normal")};
    for (const Mode& m : kModes) mode.choices.push_back({m.id, m.name});
    mode.tip = "How over and under make the result.";
    ControlSpec space{"space", "Blend space", ControlType::Choice, std::string("auto")};
    space.choices = {{"auto", "automatic"}, {"linear", "linear light"}, {"encoded", "display-encoded"}};
    space.tip =
        "Automatic: linear light, but display-encoded for contrast modes, so that mid grey is neutral.";
    space.colourOnly = true;
    ControlSpec limit{"limit", "Limit to 0..1", ControlType::Toggle, false};
    limit.tip = "Keeps the result between 0 and 1.";
    ControlSpec own{"own-transparency", "Use its alpha", ControlType::Toggle, false};
    own.tip = "The over picture's alpha joins the mask.";
    own.colourOnly = true;
    spec.controls = {mode, amountControl(1.0), space, limit, own};
    spec.feeds = {{"over", "Over", std::nullopt, "What is laid over the line."},
                  {"mask", "Mask", Kind::Scalar, "Where over is taken: white fully, black not at all."}};
    spec.telling = [](const StepView& v) {
        return fmt::format("{} {:.2f}", modeOf(v).name, v.number("amount"));
    };
    spec.noEffect = noEffect;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
