// Blend by height: lays one line over another where it stands higher: the mask is sharpened by the heights'
// difference, m' = smoothstep(0.5 - s, 0.5 + s, m + (h_over - h_under) k).
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {

Reg maskByHeight(Emitter& e, Reg mask, Reg over, Reg under) {
    ProgramBuilder& p = e.program();
    const double soft = std::max(1e-4, std::fabs(e.number("softness")) / 2);
    const Reg difference = p.emit(arithmeticOp("subtract"), {over, under});
    const Reg asked =
        p.emit(arithmeticOp("multiply-add"), {difference, e.constant(e.real("contrast")), mask});
    return p.emit(arithmeticOp("smoothstep"), {asked, e.constant(static_cast<float>(0.5 - soft)),
                                               e.constant(static_cast<float>(0.5 + soft))});
}

namespace {

/// The height that a feed brings; else the line's own number on a scalar line, else none.
Reg heightOf(Emitter& e, const char* feed, const Value& own) {
    if (const auto joined = e.fed(feed, Kind::Scalar)) return joined->r;
    return own.kind == Kind::Scalar ? own.r : e.constant(0.5f);
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Value under = e.input();
    const auto over = e.fed("over", e.kind());
    if (!over || e.number("amount") == 0) return under;
    const auto mask = e.fed("mask", Kind::Scalar);
    Reg weight = maskByHeight(e, mask ? mask->r : e.constant(0.5f), heightOf(e, "height-over", *over),
                              heightOf(e, "height-under", under));
    weight = p.emit(arithmeticOp("multiply"), {weight, e.constant(e.real("amount"))});
    const auto mixed = [&](Reg u, Reg o) { return p.emit(arithmeticOp("mix"), {u, o, weight}); };
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
    spec.controls = {
        amountControl(1.0),
        numberControl("contrast", "By height", 1, 0, 4, "×", "How much the heights say beside the mask."),
        numberControl("softness", "Softness", 0.2, 0, 1, "", "How softly one goes over into the other.")};
    FeedSpec over{"over", "Over", std::nullopt, "What is laid over."};
    over.isMain = true;
    spec.feeds = {over,
                  maskFeed("Where it lies by itself; mid grey leaves it to the heights."),
                  {"height-under", "Height under", Kind::Scalar,
                   "How high what comes in stands; on a grey line its own numbers."},
                  {"height-over", "Height over", Kind::Scalar,
                   "How high what is laid over stands; on a grey line its own numbers."}};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v.number("contrast")); };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v.feed("over") == nullptr ? "nothing is joined to lay over" : amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
