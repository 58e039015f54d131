// Range: moves one range of numbers onto another.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

bool isNeutralRange(const StepView& v) {
    return v.number("in-low") == v.number("out-low") && v.number("in-high") == v.number("out-high") &&
           !v.toggle("limit");
}

Value emit(Emitter& e) {
    if (isNeutralRange(e)) return e.input();
    ProgramBuilder& p = e.program();
    const Value in = e.input(), from = workingNumbers(e, in);
    // A range without width becomes a hard edge instead of a division by zero.
    double width = e.number("in-high") - e.number("in-low");
    if (std::fabs(width) < 1e-6) width = width < 0 ? -1e-6 : 1e-6;
    const double scale = (e.number("out-high") - e.number("out-low")) / width;
    const Reg factor = e.constant(static_cast<float>(scale));
    const Reg shift = e.constant(static_cast<float>(e.number("out-low") - e.number("in-low") * scale));
    // Copies: std::minmax of two temporaries would give references to them.
    const float low = std::min(e.real("out-low"), e.real("out-high"));
    const float high = std::max(e.real("out-low"), e.real("out-high"));
    const auto move = [&](Reg x) {
        const Reg y = p.emit(arithmeticOp("multiply-add"), {x, factor, shift});
        return e.toggle("limit") ? p.emit(arithmeticOp("clamp"), {y, e.constant(low), e.constant(high)}) : y;
    };
    Value out = from;
    out.r = move(from.r);
    out.g = in.kind == Kind::Scalar ? out.r : move(from.g);
    out.b = in.kind == Kind::Scalar ? out.r : move(from.b);
    return lightOfWorking(e, out);
}

}  // namespace

StepSpec rangeStep() {
    StepSpec spec;
    spec.type = "range";
    spec.order = 230;
    spec.name = "Range";
    spec.purpose = "Moves one range of numbers onto another.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.controls = {numberControl("in-low", "In low", 0, 0, 1, "", "This becomes out low.", 3),
                     numberControl("in-high", "In high", 1, 0, 1, "", "This becomes out high.", 3),
                     numberControl("out-low", "Out low", 0, 0, 1, "",
                                   "What in low becomes; above out high the range is turned round.", 3),
                     numberControl("out-high", "Out high", 1, 0, 1, "", "What in high becomes.", 3),
                     toggleControl("limit", "Limit", false, "Keeps the result between out low and out high."),
                     worksInControl(NumberSpace::LinearLight)};
    spec.example = {{"in-low", 0.1}, {"in-high", 0.6}, {"limit", true}};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.2f} to {:.2f}", v.number("out-low"), v.number("out-high"));
    };
    spec.noEffect = [](const StepView& v) {
        return std::string(isNeutralRange(v) ? "both ranges are the same" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
