// Blend by height: lays one line over another where it stands higher: the mask is sharpened by the heights'
// difference, m' = smoothstep(0.5 - s, 0.5 + s, m + (h_over - h_under) k).
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {

Reg maskByHeight(Emitter& e, Reg mask, Reg over, Reg under) {
    ProgramBuilder& p = e.program();
    const double soft = std::max(1e-4, std::fabs(e[kHeightSoftness]) / 2);
    const Reg difference = p.emit(arithmeticOp(Arithmetic::Subtract), {over, under});
    const Reg asked = p.emit(arithmeticOp(Arithmetic::MultiplyAdd),
                             {difference, e.constant(e.real(kHeightContrast)), mask});
    return p.emit(arithmeticOp(Arithmetic::SmoothStep), {asked, e.constant(static_cast<float>(0.5 - soft)),
                                                         e.constant(static_cast<float>(0.5 + soft))});
}

ControlSpec heightContrastControl(const char* tip) {
    return numberControl(kHeightContrast, "By height", 1, 0, 4, "×", tip);
}

ControlSpec heightSoftnessControl(const char* tip) {
    return numberControl(kHeightSoftness, "Softness", 0.2, 0, 1, "", tip);
}

namespace {

/// The height that a feed brings; else the line's own number on a scalar line, else none.
Reg heightOf(Emitter& e, InputHandle input, const Value& own) {
    if (const auto joined = e.fed(input, Kind::Scalar)) return joined->r;
    return own.kind == Kind::Scalar ? own.r : e.constant(0.5f);
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Value under = e.input();
    const auto over = e.fed(kOver, e.kind());
    if (!over || e[kAmount] == 0) return under;
    const auto mask = e.fed(kMask, Kind::Scalar);
    Reg weight = maskByHeight(e, mask ? mask->r : e.constant(0.5f), heightOf(e, kHeightOver, *over),
                              heightOf(e, kHeightUnder, under));
    weight = p.emit(arithmeticOp(Arithmetic::Multiply), {weight, e.constant(e.real(kAmount))});
    const auto mixed = [&](Reg u, Reg o) { return p.emit(arithmeticOp(Arithmetic::Mix), {u, o, weight}); };
    Value out = under;
    out.r = mixed(under.r, over->r);
    const bool single = under.kind == Kind::Scalar;
    out.g = single ? out.r : mixed(under.g, over->g);
    out.b = single ? out.r : mixed(under.b, over->b);
    return out;
}

}  // namespace

StepSpec blendByHeightStep() {
    StepSpec spec;
    spec.type = "blend-by-height";
    spec.order = 171;
    spec.name = "Blend by height";
    spec.purpose = "Lays one line over another where it stands higher, as sand fills the joints of a floor.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {amountControl(1.0), heightContrastControl("How much the heights say beside the mask."),
                     heightSoftnessControl("How softly one goes over into the other.")};
    FeedSpec over{kOver.id, "Over", std::nullopt, "What is laid over."};
    over.isMain = true;
    spec.feeds = {over,
                  maskFeed("Where it lies by itself; mid grey leaves it to the heights."),
                  {kHeightUnder.id, "Height under", Kind::Scalar,
                   "How high what comes in stands; on a grey line its own numbers."},
                  {kHeightOver.id, "Height over", Kind::Scalar,
                   "How high what is laid over stands; on a grey line its own numbers."}};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kHeightContrast]); };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v.feed(kOver) == nullptr ? "nothing is joined to lay over" : amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
