// Tint: gives a grey picture a colour. "Lightness stays" goes from black over the colour, at the colour's own
// luminance, to white; in linear light the luminance of every point stays as it was, display-encoded the
// steps between look even. "Multiply" colours the picture's grey.
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/tint.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: luminance; params: the colour's component, the colour's luminance. lum <= own: colour * lum / own,
/// else from the colour to white.
void TintStaying(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const float own = k.params[1];
    const auto colour = hn::Set(d, k.params[0]), lum = hn::Set(d, own), one = hn::Set(d, 1.0f);
    const auto below = hn::Set(d, own > 0 ? 1 / own : 0.0f),
               above = hn::Set(d, own < 1 ? 1 / (1 - own) : 0.0f);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto y = hn::Load(d, k.in[0] + i);
        const auto dark = hn::Mul(colour, hn::Mul(y, below));
        const auto light = hn::MulAdd(hn::Mul(hn::Sub(y, lum), above), hn::Sub(one, colour), colour);
        hn::Store(hn::IfThenElse(hn::Le(y, lum), dark, light), d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr ColourHandle kColour{"colour"};
/// What becomes of the picture's lightness.
enum class Lightness { Stays, IsMultiplied };
constexpr Option<Lightness> kLightnesses[] = {{Lightness::Stays, "stays", "stays as it is"},
                                              {Lightness::IsMultiplied, "multiply", "is multiplied"}};
constexpr ChoiceHandle<Lightness> kMode{"mode", kLightnesses};

HWY_EXPORT(TintStaying);
const Op kTintStaying{"tint", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(TintStaying)(k); }};

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    const bool isEncoded = worksIn(e) == NumberSpace::DisplayEncoded;
    const Reg lum = componentOf(p, in, Component::Luminance, e.space(), worksIn(e));
    const Colour picked = e[kColour];
    const Vec3 c = isEncoded ? Vec3{linearToSrgb(picked.r), linearToSrgb(picked.g), linearToSrgb(picked.b)}
                             : e.workingColour(kColour);
    // The colour's own place between black and white, counted as the picture's is.
    const float light = luminance({picked.r, picked.g, picked.b});
    const float own = isEncoded ? linearToSrgb(light) : dot(c, e.space().luminanceWeights);
    Value out = in;
    if (e[kMode] == Lightness::IsMultiplied) {
        const Op& multiply = arithmeticOp(Arithmetic::Multiply);
        out.r = p.emit(multiply, {lum, e.constant(c.x)});
        out.g = p.emit(multiply, {lum, e.constant(c.y)});
        out.b = p.emit(multiply, {lum, e.constant(c.z)});
    } else {
        out.r = p.emit(kTintStaying, {lum}, {c.x, own});
        out.g = p.emit(kTintStaying, {lum}, {c.y, own});
        out.b = p.emit(kTintStaying, {lum}, {c.z, own});
    }
    return mixByAmount(e, in, lightOfWorking(e, out));
}
}  // namespace

StepSpec tintStep() {
    StepSpec spec;
    spec.type = "tint";
    spec.order = 130;
    spec.name = "Tint";
    spec.purpose = "Gives a grey picture one colour.";
    spec.kinds = {Kind::Colour};
    spec.controls = {colourControl(kColour, "Colour", {0.6f, 0.25f, 0.08f}, "The colour of the tint."),
                     choiceControl(kMode, "Lightness", Lightness::Stays,
                                   "Stays: black and white remain. Multiplied: white becomes the colour."),
                     amountControl(1.0), worksInControlSinceVersion2()};
    spec.version = 2;
    spec.changed = "It works on display-encoded numbers, where it worked in linear light.";
    spec.feeds = {maskFeed("Where the tint is taken: white fully, black not at all.")};
    spec.telling = [](const StepView& v) {
        const Colour c = v[kColour];
        return hexOfLinear(c.r, c.g, c.b);
    };
    spec.noEffect = amountReason;
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
