#include "core/engine/compile.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/document/edits.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

class Compiler {
public:
    Compiler(const Project& project, const Look* look, const ColourManagement& colours)
        : m_project(project),
          m_look(look),
          m_context{&colours, workingSpaceOf(project.colour.workingSpace)} {}

    Value result(const std::string& line, const std::string& after) {
        const Line* found = m_project.findLine(line);
        if (found == nullptr || found->steps.empty())
            return neutral(found != nullptr ? found->kind : Kind::Colour);
        std::size_t step = found->steps.size() - 1;
        for (std::size_t i = 0; i < found->steps.size(); ++i)
            if (!after.empty() && found->steps[i]->id == after) step = i;
        return result(*found, step);
    }
    /// What a feed of a step brings, as the kind the step asks for; neutral if nothing is joined.
    Value fedTo(const std::string& stepId, const std::string& feed) {
        const auto place = m_project.findStep(stepId);
        if (!place) return neutral(Kind::Scalar);
        const Step& step = m_project.stepAt(*place);
        const StepSpec* spec = findStepSpec(step.type);
        const auto joined = step.feeds.find(feed);
        if (spec == nullptr || joined == step.feeds.end()) return neutral(Kind::Scalar);
        Kind kind = m_project.lines[place->line]->kind;
        for (const FeedSpec& f : spec->feeds)
            if (f.id == feed) kind = f.kind.value_or(kind);
        return fed(joined->second, kind);
    }
    ProgramBuilder& program() { return m_program; }
    /// A result as the world outside the program knows it: colours in linear Rec.709.
    Value outside(const Value& value) {
        if (value.kind != Kind::Colour || m_context.space.isRec709()) return value;
        return transformValue(m_program, value, m_context.space.toRec709);
    }

private:
    Value neutral(Kind kind) {
        if (kind == Kind::Normal)
            return {kind, m_program.constant(0), m_program.constant(0), m_program.constant(1), kNoReg};
        const Reg grey = m_program.constant(0.5f);
        return {kind, grey, grey, grey, kNoReg};
    }

    Value result(const Line& line, std::size_t index) {
        const auto key = std::make_pair(&line, index);
        if (const auto known = m_values.find(key); known != m_values.end()) return known->second;
        if (std::find(m_open.begin(), m_open.end(), key) != m_open.end()) return neutral(line.kind);
        m_open.push_back(key);
        const Value input = index > 0 ? result(line, index - 1) : neutral(line.kind);
        const Step step = withLook(*line.steps[index], m_look);
        const StepSpec* spec = findStepSpec(step.type);
        Value out = input;
        if (spec != nullptr && spec->fits(line.kind) && !(step.bypass && !spec->source)) {
            Emitter emitter(StepView(*spec, step, line.kind), m_program, input, m_context,
                            [this](const Feed& feed, Kind kind) { return fed(feed, kind); });
            out = spec->emit(emitter);
        }
        m_open.pop_back();
        return m_values[key] = out;
    }

    /// A feed as the kind a step asks for. A scalar read as a colour keeps its kind, so that a blend can tell
    /// a raw number from light.
    Value fed(const Feed& feed, Kind kind) {
        if (feed.constant) {
            if (const Colour* c = std::get_if<Colour>(&*feed.constant)) {
                const Vec3 v = m_context.space.fromLinear({c->r, c->g, c->b});
                return {Kind::Colour, m_program.constant(v.x), m_program.constant(v.y),
                        m_program.constant(v.z), m_program.constant(1)};
            }
            const double* number = std::get_if<double>(&*feed.constant);
            const Reg v = m_program.constant(number != nullptr ? static_cast<float>(*number) : 0.0f);
            return {Kind::Scalar, v, v, v, kNoReg};
        }
        const Value value = result(feed.line, feed.after);
        if (kind != Kind::Scalar || value.kind == Kind::Scalar) return value;
        const Reg one = componentOf(m_program, value, feed.component, m_context.space);
        return {Kind::Scalar, one, one, one, kNoReg};
    }

    const Project& m_project;
    const Look* m_look;
    EmitContext m_context;
    ProgramBuilder m_program;
    std::map<std::pair<const Line*, std::size_t>, Value> m_values;
    std::vector<std::pair<const Line*, std::size_t>> m_open;
};

}  // namespace

Compiled compile(const Project& project, const Look* look, const std::vector<Want>& wants,
                 const ColourManagement& colours) {
    Compiler compiler(project, look, colours);
    std::vector<Reg> outputs;
    Compiled compiled;
    for (const Want& want : wants) {
        Value value = compiler.outside(want.feed.empty() ? compiler.result(want.line, want.after)
                                                         : compiler.fedTo(want.after, want.feed));
        if (want.displayEncoded && value.kind == Kind::Colour) value = encodeValue(compiler.program(), value);
        if (value.kind == Kind::Normal && want.displayEncoded)
            value = encodeNormal(compiler.program(), value);
        const Reg alpha = value.a != kNoReg ? value.a : compiler.program().constant(1.0f);
        const std::array<Reg, 4> regs{value.r, value.g, value.b, alpha};
        std::array<int, 4> planes{-1, -1, -1, -1};
        for (int c = 0; c < want.components; ++c) {
            const auto k = static_cast<std::size_t>(c);
            const auto at = std::find(outputs.begin(), outputs.end(), regs[k]);
            planes[k] = static_cast<int>(at - outputs.begin());
            if (at == outputs.end()) outputs.push_back(regs[k]);
        }
        compiled.planes.push_back(planes);
    }
    compiled.program = compiler.program().finish(std::move(outputs));
    return compiled;
}

namespace {

void checkFeeds(const Project& project, const Line& line, const Step& step,
                std::vector<std::string>& problems) {
    for (const auto& [name, feed] : step.feeds) {
        if (feed.constant) continue;
        const Line* other = project.findLine(feed.line);
        if (other == nullptr) {
            problems.push_back(fmt::format(
                "{} on {} reads the line \"{}\" as its {}, which is not in the project. Join another "
                "line.",
                step.id, line.name, feed.line, name));
            continue;
        }
        if (feed.after.empty()) continue;
        const bool found = std::any_of(other->steps.begin(), other->steps.end(),
                                       [&](const Shared<Step>& s) { return s->id == feed.after; });
        if (!found)
            problems.push_back(fmt::format(
                "{} on {} reads {} after a step \"{}\" that is not there; its end is read instead. Join "
                "it again.",
                step.id, line.name, other->name, feed.after));
    }
}

}  // namespace

std::vector<std::string> problemsOf(const Project& project) {
    std::vector<std::string> problems;
    const auto checkControls = [&](const StepSpec& spec, const std::string& step, const std::string& name,
                                   const ControlValue& value, const std::string& where) {
        const ControlSpec* control = spec.findControl(name);
        if (control == nullptr) return;
        if (const auto wrong = checkControl(*control, value))
            problems.push_back(
                fmt::format("{}.{} {} {}. The default is used until you set it.", step, name, where, *wrong));
    };
    for (const auto& line : project.lines) {
        for (std::size_t i = 0; i < line->steps.size(); ++i) {
            const Step& step = *line->steps[i];
            const StepSpec* spec = findStepSpec(step.type);
            if (spec == nullptr) {
                problems.push_back(fmt::format(
                    "{} on {} is a step \"{}\" that this program does not know. It passes its input on "
                    "and is kept in the file.",
                    step.id, line->name, step.type));
                continue;
            }
            if (spec->source != (i == 0))
                problems.push_back(fmt::format(
                    "{} on {} is not at its place: a source starts a line and no other step does. Move "
                    "it.",
                    step.id, line->name));
            if (!spec->fits(line->kind))
                problems.push_back(
                    fmt::format("{} on {} does not fit a {} line and passes its input on. Remove it.",
                                step.id, line->name, nameOf(line->kind)));
            for (const auto& [name, value] : step.controls)
                checkControls(*spec, step.id, name, value, fmt::format("on {}", line->name));
            checkFeeds(project, *line, step, problems);
        }
    }
    for (const auto& look : project.looks)
        for (const auto& [key, value] : look->changes) {
            const auto dot = key.find('.');
            const std::string step = key.substr(0, dot),
                              name = dot == std::string::npos ? "" : key.substr(dot + 1);
            const auto place = project.findStep(step);
            const StepSpec* spec = place ? findStepSpec(project.stepAt(*place).type) : nullptr;
            if (!place)
                problems.push_back(fmt::format(
                    "The look {} changes {}, which is not in the project. It is kept and has no effect.",
                    look->name, key));
            else if (spec != nullptr && name != "bypass")
                checkControls(*spec, step, name, value, fmt::format("in the look {}", look->name));
        }
    if (auto cycle = edits::findCycle(project)) problems.push_back(*cycle);
    return problems;
}

}  // namespace kettle
