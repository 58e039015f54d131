// Maths: one function of arithmetic on every component, with constants or lines as its other numbers.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

const ArithmeticFunction& functionOf(const StepView& v) {
    const ArithmeticFunction* f = findArithmetic(v.choice("function"));
    return f != nullptr ? *f : arithmetic().front();
}

/// The other number: the joined line, or the control on every component.
Value otherOf(Emitter& e, const char* id, Kind kind) {
    if (const auto fed = e.fed(id, kind)) return *fed;
    const Reg c = e.constant(e.real(id));
    return {Kind::Scalar, c, c, c, kNoReg};
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    const ArithmeticFunction& f = functionOf(e);
    const Value from = workingNumbers(e, in);
    std::vector<Value> others;
    if (f.inputs > 1) others.push_back(otherOf(e, "b", in.kind));
    if (f.inputs > 2) others.push_back(otherOf(e, "c", in.kind));
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
    const std::string id = functionOf(v).id;
    const auto only = [&](const char* feed, double value) {
        return v.feed(feed) != nullptr ? v.feedIs(feed, value) : v.number(feed) == value;
    };
    if (id == "add" || id == "subtract") return only("b", 0);
    if (id == "multiply" || id == "divide" || id == "power") return only("b", 1);
    return id == "multiply-add" ? only("b", 1) && only("c", 0) : id == "mix" && only("c", 0);
}
}  // namespace

StepSpec mathsStep() {
    StepSpec spec;
    spec.type = "maths";
    spec.order = 180;
    spec.name = "Maths";
    spec.purpose = "Arithmetic on every component.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    std::vector<Choice> choices;
    for (const ArithmeticFunction& f : arithmetic()) choices.push_back({f.id, f.name});
    spec.controls = {choiceControl("function", "Function", "multiply", choices,
                                   "What is done with x, the number that comes in, and b and c."),
                     numberControl("b", "b", 1, 0, 2, "", "The second number, where no line is joined.", 3),
                     numberControl("c", "c", 0, 0, 2, "", "The third number, where no line is joined.", 3),
                     amountControl(1.0), worksInControl(NumberSpace::LinearLight)};
    spec.feeds = {{"b", "b from", std::nullopt, "A line in place of the second number."},
                  {"c", "c from", std::nullopt, "A line in place of the third number."},
                  maskFeed("Where the result is taken: white fully, black not at all.")};
    // b and c matter to functions of two and three numbers.
    const auto matterFor = [](auto& inputs) {
        for (auto& input : inputs) {
            if (input.id != "b" && input.id != "c") continue;
            input.shownBy = "function";
            for (const ArithmeticFunction& f : arithmetic())
                if (f.inputs > (input.id == "b" ? 1 : 2)) input.shownFor.emplace_back(f.id);
        }
    };
    matterFor(spec.controls);
    matterFor(spec.feeds);
    spec.example = {{"function", std::string("power")}, {"b", 0.5}};
    spec.telling = [](const StepView& v) {
        const ArithmeticFunction& f = functionOf(v);
        if (f.inputs == 1) return std::string(f.name);
        return v.feed("b") != nullptr ? fmt::format("{} a line", f.name)
                                      : fmt::format("{} {:.2f}", f.name, v.number("b"));
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? std::string("it gives back what comes in") : reason;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
