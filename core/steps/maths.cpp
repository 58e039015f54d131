// Maths: one function of arithmetic on every component, with constants or lines as its other numbers.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/maths.h"

namespace kettle {
namespace {
using namespace maths;

const ArithmeticFunction& functionOf(const StepView& v) {
    const ArithmeticFunction* f = findArithmetic(v[kFunction]);
    return f != nullptr ? *f : arithmetic().front();
}

/// The other number: the joined line, or the control on every component.
Value otherOf(Emitter& e, NumberHandle number, InputHandle input, Kind kind) {
    if (const auto fed = e.fed(input, kind)) return *fed;
    const Reg c = e.constant(e.real(number));
    return {Kind::Scalar, c, c, c, kNoReg};
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    const ArithmeticFunction& f = functionOf(e);
    const Value from = workingNumbers(e, in);
    std::vector<Value> others;
    if (f.inputs > 1) others.push_back(otherOf(e, kB, kBFrom, in.kind));
    if (f.inputs > 2) others.push_back(otherOf(e, kC, kCFrom, in.kind));
    const auto component = [&](Reg Value::*c) {
        std::vector<Reg> inputs{from.*c};
        for (const Value& o : others) inputs.push_back(o.*c);
        return p.emit(f.op, inputs);
    };
    Value out = in;
    out.r = component(&Value::r);
    out.g = in.kind == Kind::Scalar ? out.r : component(&Value::g);
    out.b = in.kind == Kind::Scalar ? out.r : component(&Value::b);
    return mixByAmount(e, in, lightOfWorking(e, out));
}

bool isNeutral(const StepView& v) {
    const auto bIs = [&](double value) {
        return v.feed(kBFrom) != nullptr ? v.feedIs(kBFrom, value) : v[kB] == value;
    };
    const bool isCNothing = v.feed(kCFrom) != nullptr ? v.feedIs(kCFrom, 0) : v[kC] == 0;
    switch (functionOf(v).function) {
        case Arithmetic::Add:
        case Arithmetic::Subtract:
            return bIs(0);
        case Arithmetic::Multiply:
        case Arithmetic::Divide:
        case Arithmetic::Power:
            return bIs(1);
        case Arithmetic::MultiplyAdd:
            return bIs(1) && isCNothing;
        case Arithmetic::Mix:
            return isCNothing;
        default:
            return false;
    }
}
}  // namespace

StepSpec mathsStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 180;
    spec.name = "Maths";
    spec.purpose = "Arithmetic on every component.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    ControlSpec function{kFunction.id, "Function", ControlType::Choice, std::string("multiply")};
    function.tip = "What is done with x, the number that comes in, and b and c.";
    for (const ArithmeticFunction& f : arithmetic()) function.choices.push_back({f.id, f.name});
    // b and c matter to functions of two and three numbers.
    const auto ofNumbers = [](int least, auto input) {
        input.shownBy = kFunction.id;
        for (const ArithmeticFunction& f : arithmetic())
            if (f.inputs >= least) input.shownFor.emplace_back(f.id);
        return input;
    };
    spec.controls = {
        function,
        ofNumbers(2, numberControl(kB, "b", 1, 0, 2, "", "The second number, where no line is joined.", 3)),
        ofNumbers(3, numberControl(kC, "c", 0, 0, 2, "", "The third number, where no line is joined.", 3)),
        amountControl(1.0), worksInControl(NumberSpace::LinearLight)};
    spec.feeds = {
        ofNumbers(2, FeedSpec{kBFrom.id, "b from", std::nullopt, "A line in place of the second number."}),
        ofNumbers(3, FeedSpec{kCFrom.id, "c from", std::nullopt, "A line in place of the third number."}),
        maskFeed("Where the result is taken: white fully, black not at all.")};
    spec.example = {kFunction("power"), kB(0.5)};
    spec.telling = [](const StepView& v) {
        const ArithmeticFunction& f = functionOf(v);
        if (f.inputs == 1) return std::string(f.name);
        return v.feed(kBFrom) != nullptr ? fmt::format("{} a line", f.name)
                                         : fmt::format("{} {:.2f}", f.name, v[kB]);
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? std::string("it gives back what comes in") : reason;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
