// Combine masks: what two masks have together, in common, or one without the other.
//   union max, intersection min, subtraction min(a, 1 - b), difference |a - b|, sum, product
#include "core/steps/emitting.h"

namespace kettle {
namespace {

const std::vector<Choice> kWays{{"union", "union"},
                                {"intersection", "intersection"},
                                {"subtraction", "subtraction"},
                                {"difference", "difference"},
                                {"sum", "sum"},
                                {"product", "product"}};

Reg combined(ProgramBuilder& p, const std::string& way, Reg a, Reg b) {
    if (way == "intersection") return p.emit(arithmeticOp("min"), {a, b});
    if (way == "subtraction") return p.emit(arithmeticOp("min"), {a, p.emit(arithmeticOp("one-minus"), {b})});
    if (way == "difference") return p.emit(arithmeticOp("distance"), {a, b});
    if (way == "sum") return p.emit(arithmeticOp("add"), {a, b});
    if (way == "product") return p.emit(arithmeticOp("multiply"), {a, b});
    return p.emit(arithmeticOp("max"), {a, b});
}

Value emit(Emitter& e) {
    const auto other = e.fed("with", Kind::Scalar);
    if (!other) return e.input();
    const Reg v = combined(e.program(), e.choice("way"), e.input().r, other->r);
    return mixByAmount(e, e.input(), {Kind::Scalar, v, v, v, kNoReg});
}

}  // namespace

StepSpec combineMasksStep() {
    StepSpec spec;
    spec.type = "combine-masks";
    spec.order = 235;
    spec.name = "Combine masks";
    spec.purpose = "Two masks together, in common, or one without the other.";
    spec.kinds = {Kind::Scalar};
    spec.controls = {
        choiceControl("way", "Way", "union", kWays,
                      "Union: white where either is. Intersection: where both are. Subtraction: here and not "
                      "there. Difference: in one alone."),
        amountControl(1.0)};
    FeedSpec with{"with", "With", Kind::Scalar, "The other mask."};
    with.isMain = true;
    spec.feeds = {with, maskFeed("Where they are combined.")};
    spec.telling = [](const StepView& v) { return v.choice("way"); };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v.feed("with") == nullptr ? "no other mask is joined" : amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
