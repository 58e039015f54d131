// Combine masks: what two masks have together, in common, or one without the other.
//   union max, intersection min, subtraction min(a, 1 - b), difference |a - b|, sum, product
#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr InputHandle kWith{"with"};

enum class MaskOperation { Union, Intersection, Subtraction, Difference, Sum, Product };
constexpr Option<MaskOperation> kMaskOperations[] = {
    {MaskOperation::Union, "union", "union"},
    {MaskOperation::Intersection, "intersection", "intersection"},
    {MaskOperation::Subtraction, "subtraction", "subtraction"},
    {MaskOperation::Difference, "difference", "difference"},
    {MaskOperation::Sum, "sum", "sum"},
    {MaskOperation::Product, "product", "product"}};
constexpr ChoiceHandle<MaskOperation> kWay{"way", kMaskOperations};

Reg combined(ProgramBuilder& p, MaskOperation way, Reg a, Reg b) {
    switch (way) {
        case MaskOperation::Union:
            return p.emit(arithmeticOp(Arithmetic::Max), {a, b});
        case MaskOperation::Intersection:
            return p.emit(arithmeticOp(Arithmetic::Min), {a, b});
        case MaskOperation::Subtraction:
            return p.emit(arithmeticOp(Arithmetic::Min),
                          {a, p.emit(arithmeticOp(Arithmetic::OneMinus), {b})});
        case MaskOperation::Difference:
            return p.emit(arithmeticOp(Arithmetic::Distance), {a, b});
        case MaskOperation::Sum:
            return p.emit(arithmeticOp(Arithmetic::Add), {a, b});
        case MaskOperation::Product:
            return p.emit(arithmeticOp(Arithmetic::Multiply), {a, b});
    }
    return a;
}

Value emit(Emitter& e) {
    const auto other = e.fed(kWith, Kind::Scalar);
    if (!other) return e.input();
    const Reg v = combined(e.program(), e[kWay], e.input().r, other->r);
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
        choiceControl(kWay, "Way", MaskOperation::Union,
                      "Union: white where either is. Intersection: where both are. Subtraction: here and not "
                      "there. Difference: in one alone."),
        amountControl(1.0)};
    FeedSpec with{kWith.id, "With", Kind::Scalar, "The other mask."};
    with.isMain = true;
    spec.feeds = {with, maskFeed("Where they are combined.")};
    spec.telling = [](const StepView& v) { return std::string(kWay.nameOf(v[kWay])); };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v.feed(kWith) == nullptr ? "no other mask is joined" : amountReason(v);
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
