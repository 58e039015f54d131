// Colour match: moves the mean and the spread of each OKLab component towards those of a reference picture.
// Source: E. Reinhard, M. Ashikhmin, B. Gooch, P. Shirley, Color Transfer between Images, 2001, in OKLab.
// The four triples are measured (analysis/matching.h) and kept, so that a picture stays a function of the
// document.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr InputHandle kReference{"reference"};
constexpr ColourHandle kFromMean{"from-mean"};
constexpr ColourHandle kToMean{"to-mean"};
constexpr ColourHandle kFromSpread{"from-spread"};
constexpr ColourHandle kToSpread{"to-spread"};

bool isNeutral(const StepView& v) {
    return v[kFromMean] == v[kToMean] && v[kFromSpread] == v[kToSpread];
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    const Colour fromMean = e[kFromMean], toMean = e[kToMean];
    const Colour fromSpread = e[kFromSpread], toSpread = e[kToSpread];
    const auto move = [&](Reg x, float mean, float spread, float newMean, float newSpread) {
        // A component without any spread has nothing to widen; it only moves.
        const float scale = spread > 1e-6f ? newSpread / spread : 1.0f;
        return p.emit(arithmeticOp(Arithmetic::MultiplyAdd),
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
    spec.match = {kReference, kFromMean, kFromSpread, kToMean, kToSpread};
    const auto triple = [](ColourHandle handle, const char* name, Colour standard, const char* tip) {
        ControlSpec c = colourControl(handle, name, standard, tip);
        c.type = ControlType::Triple;
        c.measured = true;
        return c;
    };
    const Colour mean{0.5f, 0, 0}, spread{0.2f, 0.05f, 0.05f};
    spec.controls = {amountControl(1.0),
                     triple(kFromMean, "Mean in", mean, "Mean of what comes in: OKLab lightness, a and b."),
                     triple(kFromSpread, "Spread in", spread, "Standard deviation of what comes in."),
                     triple(kToMean, "Mean wanted", mean, "Mean of the reference."),
                     triple(kToSpread, "Spread wanted", spread, "Standard deviation of the reference.")};
    spec.feeds = {{kReference.id, "Reference", Kind::Colour,
                   "The picture whose colours are wanted. Measure again when it has changed.", true},
                  maskFeed("Where the change is taken: white fully, black not at all.")};
    spec.example = {kFromMean({0.52f, 0.12f, 0.06f}), kFromSpread({0.1f, 0.06f, 0.04f}),
                    kToMean({0.6f, -0.05f, -0.06f}), kToSpread({0.16f, 0.04f, 0.04f})};
    spec.telling = [](const StepView& v) {
        return isNeutral(v) ? std::string("not measured") : fmt::format("{:.2f}", v[kAmount]);
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? "it is not measured, or both pictures are alike" : reason;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
