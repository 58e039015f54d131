// Range: moves one range of numbers onto another.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr NumberHandle kInLow{"in-low"};
constexpr NumberHandle kOutLow{"out-low"};
constexpr NumberHandle kInHigh{"in-high"};
constexpr NumberHandle kOutHigh{"out-high"};

bool isNeutralRange(const StepView& v) {
    return v[kInLow] == v[kOutLow] && v[kInHigh] == v[kOutHigh] && !v[kLimit];
}

Value emit(Emitter& e) {
    if (isNeutralRange(e)) return e.input();
    ProgramBuilder& p = e.program();
    const Value in = e.input(), from = workingNumbers(e, in);
    // A range without width becomes a hard edge instead of a division by zero.
    double width = e[kInHigh] - e[kInLow];
    if (std::fabs(width) < 1e-6) width = width < 0 ? -1e-6 : 1e-6;
    const double scale = (e[kOutHigh] - e[kOutLow]) / width;
    const Reg factor = e.constant(static_cast<float>(scale));
    const Reg shift = e.constant(static_cast<float>(e[kOutLow] - e[kInLow] * scale));
    // Copies: std::minmax of two temporaries would give references to them.
    const float low = std::min(e.real(kOutLow), e.real(kOutHigh));
    const float high = std::max(e.real(kOutLow), e.real(kOutHigh));
    const auto move = [&](Reg x) {
        const Reg y = p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {x, factor, shift});
        return e[kLimit] ? p.emit(arithmeticOp(Arithmetic::Clamp), {y, e.constant(low), e.constant(high)})
                         : y;
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
    spec.controls = {numberControl(kInLow, "In low", 0, 0, 1, "", "This becomes out low.", 3),
                     numberControl(kInHigh, "In high", 1, 0, 1, "", "This becomes out high.", 3),
                     numberControl(kOutLow, "Out low", 0, 0, 1, "",
                                   "What in low becomes; above out high the range is turned round.", 3),
                     numberControl(kOutHigh, "Out high", 1, 0, 1, "", "What in high becomes.", 3),
                     toggleControl(kLimit, "Limit", false, "Keeps the result between out low and out high."),
                     worksInControl(NumberSpace::LinearLight)};
    spec.example = {kInLow(0.1), kInHigh(0.6), kLimit(true)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f} to {:.2f}", v[kOutLow], v[kOutHigh]); };
    spec.noEffect = [](const StepView& v) {
        return std::string(isNeutralRange(v) ? "both ranges are the same" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
