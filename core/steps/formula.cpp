// Formula: a typed expression over what comes in (in), up to four lines (a, b, c, d) and the place (u, v),
// compiled into the same program as every other step. The language is described in formula_parser.h.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/formula.h"
#include "core/steps/formula_parser.h"

namespace kettle {
namespace {
using namespace formula_step;
constexpr std::array<InputHandle, 4> kLines{{{"a"}, {"b"}, {"c"}, {"d"}}};

using formula::Node;
using formula::Part;
using formula::Special;
using formula::Variable;

/// Thrown inside this file only.
struct Problem {
    std::string what;
    std::size_t at;
};

/// A number has the same register in all three; `isColour` tells what the artist would call it.
struct Operand {
    Reg r = kNoReg, g = kNoReg, b = kNoReg, a = kNoReg;
    bool isColour = false;
};

/// What the variables stand for. Missing alphas are 1.
struct Scope {
    Operand in, feeds[4];
};

class Writer {
public:
    Writer(ProgramBuilder& program, const Scope& scope, const WorkingSpace& space)
        : m_program(program), m_scope(scope), m_space(space) {}

    Operand write(const Node& n) {
        if (const float* value = std::get_if<float>(&n.what)) return number(m_program.constant(*value));
        if (const auto* which = std::get_if<Variable>(&n.what)) return variable(*which);
        std::vector<Operand> x;
        for (const formula::Tree& argument : n.arguments) x.push_back(write(*argument));
        if (const auto* part = std::get_if<Part>(&n.what)) return component(n, *part, x.front());
        const auto& operation = std::get<formula::Operation>(n.what);
        if (const auto* special = std::get_if<Special>(&operation)) return called(n, *special, x);
        return called(std::get<Arithmetic>(operation), x);
    }

private:
    static Operand number(Reg r) { return {r, r, r, kNoReg, false}; }
    Operand variable(Variable which) {
        switch (which) {
            case Variable::In:
                return m_scope.in;
            case Variable::U:
                return number(m_program.source({PointAttribute::U}, 0));
            case Variable::V:
                return number(m_program.source({PointAttribute::V}, 0));
            case Variable::A:
                return m_scope.feeds[0];
            case Variable::B:
                return m_scope.feeds[1];
            case Variable::C:
                return m_scope.feeds[2];
            case Variable::D:
                return m_scope.feeds[3];
        }
        return {};
    }
    Operand component(const Node& n, Part part, const Operand& of) {
        if (part == Part::Alpha) return number(of.a != kNoReg ? of.a : m_program.constant(1.0f));
        if (!of.isColour) throw Problem{"only a colour has components, and this is a number", n.at};
        if (part == Part::Red) return number(of.r);
        if (part == Part::Green) return number(of.g);
        if (part == Part::Blue) return number(of.b);
        const Value hsv = toModel(m_program, {Kind::Colour, of.r, of.g, of.b, kNoReg}, Model::Hsv, m_space);
        if (part == Part::Saturation) return number(hsv.g);
        if (part == Part::Value) return number(hsv.b);
        return number(m_program.emit(arithmeticOp(Arithmetic::Multiply), {hsv.r, m_program.constant(360)}));
    }
    Operand called(Arithmetic function, const std::vector<Operand>& x) {
        // Formulas have x last where the kernels have it first.
        if (function == Arithmetic::Step) return each(function, {x[1], x[0]});
        if (function == Arithmetic::SmoothStep) return each(function, {x[2], x[0], x[1]});
        return each(function, x);
    }
    Operand called(const Node& n, Special function, const std::vector<Operand>& x) {
        switch (function) {
            case Special::Rgb:
                mustBeNumbers(n, "rgb", x);
                return {x[0].r, x[1].r, x[2].r, kNoReg, true};
            case Special::Hsv:
                mustBeNumbers(n, "hsv", x);
                return fromHsv(x);
            case Special::Luminance:
                return luminance(x[0]);
            case Special::Not:
                return each(Arithmetic::Equal, {x[0], number(m_program.constant(0))});
            case Special::And:
                return each(Arithmetic::Min, {truth(x[0]), truth(x[1])});
            case Special::Or:
                return each(Arithmetic::Max, {truth(x[0]), truth(x[1])});
        }
        return {};
    }
    /// 1 where it is not 0.
    Operand truth(const Operand& x) {
        const Operand zero = number(m_program.constant(0)), one = number(m_program.constant(1));
        return each(Arithmetic::Select, {x, one, zero});
    }
    static void mustBeNumbers(const Node& n, const char* function, const std::vector<Operand>& x) {
        for (const Operand& o : x)
            if (o.isColour)
                throw Problem{fmt::format("{} takes three numbers, not a colour", function), n.at};
    }
    Operand fromHsv(const std::vector<Operand>& x) {
        const Reg hue =
            m_program.emit(arithmeticOp(Arithmetic::Multiply), {x[0].r, m_program.constant(1 / 360.0f)});
        const Value rgb =
            fromModel(m_program, {Kind::Colour, hue, x[1].r, x[2].r, kNoReg}, Model::Hsv, m_space);
        return {rgb.r, rgb.g, rgb.b, kNoReg, true};
    }
    Operand luminance(const Operand& x) {
        if (!x.isColour) return x;
        return number(
            componentOf(m_program, {Kind::Colour, x.r, x.g, x.b, kNoReg}, Component::Luminance, m_space));
    }
    Operand each(Arithmetic function, const std::vector<Operand>& x) {
        const Op& op = arithmeticOp(function);
        const auto part = [&](Reg Operand::*c) {
            std::vector<Reg> inputs;
            for (const Operand& o : x) inputs.push_back(o.*c);
            return m_program.emit(op, inputs);
        };
        bool isColour = false;
        for (const Operand& o : x) isColour = isColour || o.isColour;
        if (!isColour) return number(part(&Operand::r));
        return {part(&Operand::r), part(&Operand::g), part(&Operand::b), kNoReg, true};
    }

    ProgramBuilder& m_program;
    const Scope& m_scope;
    const WorkingSpace& m_space;
};

std::string sentenceOf(const Problem& p) {
    return fmt::format("At character {}: {}.", p.at, p.what);
}

/// Writes the formula, or returns why it makes no sense on a line of this kind.
Result<Operand> write(ProgramBuilder& program, const std::string& text, Kind kind, const Scope& scope,
                      const WorkingSpace& space) {
    auto tree = formula::parse(text);
    if (!tree) return fail(tree.error());
    try {
        const Operand result = Writer(program, scope, space).write(**tree);
        if (kind == Kind::Scalar && result.isColour)
            return fail(ErrorKind::Invalid,
                        "The formula gives a colour, but a grey line needs a number. Put lum(…) around it.");
        return result;
    } catch (const Problem& p) {
        return fail(ErrorKind::Invalid, sentenceOf(p));
    }
}

Operand operandOf(const Value& v) {
    return {v.r, v.g, v.b, v.a, v.kind == Kind::Colour};
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (e[kAmount] == 0) return in;
    Scope scope;
    scope.in = operandOf(in);
    const Reg zero = e.constant(0);
    for (std::size_t i = 0; i < kLines.size(); ++i) {
        const auto fed = e.fed(kLines[i], Kind::Colour);
        scope.feeds[i] = fed ? operandOf(*fed) : Operand{zero, zero, zero, kNoReg, false};
    }
    const auto result = write(e.program(), e[kFormula], in.kind, scope, e.space());
    if (!result) return in;  // noEffect tells why
    return mixByAmount(e, in, {in.kind, result->r, result->g, result->b, in.a});
}

}  // namespace

std::string formulaProblem(const std::string& text, Kind kind) {
    // Written into a program of its own with stand-ins; whether a feed is a colour is only known on the
    // board, so the stand-ins are what suits the line.
    ProgramBuilder program;
    const auto stand = [&](float v) {
        const Reg r = program.constant(v);
        return Operand{r, r, r, kNoReg, kind == Kind::Colour};
    };
    Scope scope;
    scope.in = stand(0.5f);
    for (Operand& f : scope.feeds) f = stand(0.5f);
    const auto result = write(program, text, kind, scope, {});
    return result ? std::string() : result.error().sentence;
}

std::optional<double> numberOf(const std::string& text) {
    // The names stand for the place, which is never a constant, so a formula that uses one is no number.
    ProgramBuilder program;
    const Reg place = program.source({PointAttribute::U}, 0);
    Scope scope;
    scope.in = {place, place, place, kNoReg, false};
    for (Operand& f : scope.feeds) f = scope.in;
    const auto result = write(program, text, Kind::Scalar, scope, {});
    float value = 0;
    if (!result || !program.isConstant(result->r, &value)) return std::nullopt;
    return static_cast<double>(value);
}

StepSpec formulaStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 190;
    spec.name = "Formula";
    spec.purpose = "Computes what you type.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.editor = StepEditor::Formula;
    spec.warning = [](const StepView& v) { return formulaProblem(v[kFormula], v.kind()); };
    spec.controls = {
        textControl(kFormula, ControlType::Text, "Formula", kUnchanged,
                    "in is what comes in; a, b, c and d are the joined lines; u and v the place. For "
                    "example: mix(in, rgb(0.2, 0.4, 0.1), smoothstep(0.3, 0.6, a))."),
        amountControl(1.0)};
    for (const InputHandle line : kLines)
        spec.feeds.push_back({line.id, line.id, Kind::Colour,
                              "A line that the formula reads under this name; 0 without one."});
    spec.feeds.push_back(maskFeed("Where the result is taken: white fully, black not at all."));
    spec.example = {kFormula("mix(in, rgb(0.05, 0.2, 0.3), smoothstep(0.2, 0.8, v))")};
    spec.telling = [](const StepView& v) {
        const std::string& t = v[kFormula];
        return t.size() <= 16 ? t : t.substr(0, 15) + "…";
    };
    spec.noEffect = [](const StepView& v) {
        if (std::string reason = amountReason(v); !reason.empty()) return reason;
        if (std::string problem = formulaProblem(v[kFormula], v.kind()); !problem.empty())
            return "the formula is not understood. " + problem.substr(0, problem.size() - 1);
        return std::string(v[kFormula] == kUnchanged ? "it gives back what comes in" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
