// Colour match: moves the mean and the spread of each OKLab component towards those of a reference picture.
// Source: E. Reinhard, M. Ashikhmin, B. Gooch, P. Shirley, Color Transfer between Images, 2001, in OKLab.
// The four triples are measured (analysis/matching.h) and kept, so that a picture stays a function of the
// document.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

bool isNeutral(const StepView& v) {
    return v.colour("from-mean") == v.colour("to-mean") && v.colour("from-spread") == v.colour("to-spread");
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    const Colour fromMean = e.colour("from-mean"), toMean = e.colour("to-mean");
    const Colour fromSpread = e.colour("from-spread"), toSpread = e.colour("to-spread");
    const auto move = [&](Reg x, float mean, float spread, float newMean, float newSpread) {
        // A component without any spread has nothing to widen; it only moves.
        const float scale = spread > 1e-6f ? newSpread / spread : 1.0f;
        return p.emit(arithmeticOp("multiply-add"),
                      {x, e.constant(scale), e.constant(newMean - mean * scale)});
    };
    Value v = toModel(p, in, Model::Oklab, e.space());
    v.r = move(v.r, fromMean.r, fromSpread.r, toMean.r, toSpread.r);
    v.g = move(v.g, fromMean.g, fromSpread.g, toMean.g, toSpread.g);
    v.b = move(v.b, fromMean.b, fromSpread.b, toMean.b, toSpread.b);
    return mixByAmount(e, in, fromModel(p, v, Model::Oklab, e.space()));
}
}  // namespace

StepSpec colourMatchStep() {
    StepSpec spec;
    spec.type = "colour-match";
    spec.order = 150;
    spec.name = "Colour match";
    spec.purpose = "Brings the colours near another picture's.";
    spec.kinds = {Kind::Colour};
    spec.editor = StepEditor::Match;
    spec.match = {"reference", "from-mean", "from-spread", "to-mean", "to-spread"};
    const auto triple = [](const char* id, const char* name, Colour standard, const char* tip) {
        ControlSpec c{id, name, ControlType::Triple, standard};
        c.tip = tip;
        c.measured = true;
        return c;
    };
    const Colour mean{0.5f, 0, 0}, spread{0.2f, 0.05f, 0.05f};
    spec.controls = {amountControl(1.0),
                     triple("from-mean", "Mean in", mean, "Mean of what comes in: OKLab lightness, a and b."),
                     triple("from-spread", "Spread in", spread, "Standard deviation of what comes in."),
                     triple("to-mean", "Mean wanted", mean, "Mean of the reference."),
                     triple("to-spread", "Spread wanted", spread, "Standard deviation of the reference.")};
    spec.feeds = {{"reference", "Reference", Kind::Colour,
                   "The picture whose colours are wanted. Measure again when it has changed.", true},
                  maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {{"from-mean", Colour{0.52f, 0.12f, 0.06f}},
                    {"from-spread", Colour{0.1f, 0.06f, 0.04f}},
                    {"to-mean", Colour{0.6f, -0.05f, -0.06f}},
                    {"to-spread", Colour{0.16f, 0.04f, 0.04f}}};
    spec.telling = [](const StepView& v) {
        return isNeutral(v) ? std::string("not measured") : fmt::format("{:.2f}", v.number("amount"));
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? "it is not measured, or both pictures are alike" : reason;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
