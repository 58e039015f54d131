#include "core/engine/compile.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <set>
#include <unordered_map>

#include "core/document/layers.h"
#include "core/document/network.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

class Compiler {
public:
    Compiler(const Project& project, const Look* look, const Rules& rules)
        : m_project(project),
          m_network(project),
          m_look(look),
          m_steps(rules.steps),
          m_context{&rules.colours, workingSpaceOf(project.colour.workingSpace)},
          m_values(m_network.size()) {}

    const Network& network() const { return m_network; }

    /// Emits everything that the roots need; their values are there then.
    void emit(const std::vector<Node>& roots) {
        m_network.walk(
            roots, [this](Node node) { return m_values[node] ? std::vector<Node>{} : read(node); },
            [this](Node node) {
                if (!m_values[node]) m_values[node] = emitted(node);
            },
            [](Node) {});
    }
    Value result(const std::string& line, const std::string& after) {
        const Node node = m_network.tap(line, after);
        if (node != kNoNode) return valueOf(node);
        const Line* found = m_network.findLine(line);
        return neutral(found != nullptr ? found->kind : Kind::Colour);
    }
    /// What a feed of a step brings, as the kind the step asks for; neutral if nothing is joined.
    Value fedTo(const std::string& stepId, const std::string& feed) {
        const Node node = m_network.find(stepId);
        if (node == kNoNode) return neutral(Kind::Scalar);
        const Step& step = m_network.step(node);
        const StepSpec* spec = m_steps.find(step.type);
        const auto joined = step.feeds.find(feed);
        if (spec == nullptr || joined == step.feeds.end()) return neutral(Kind::Scalar);
        Kind kind = m_network.line(node).kind;
        for (const FeedSpec& f : spec->feeds)
            if (f.id == feed) kind = f.kind.value_or(kind);
        return fed(joined->second, kind);
    }
    Value asKind(const Value& value, Kind kind) {
        if (value.kind == kind) return value;
        if (value.kind == Kind::Normal || kind == Kind::Normal) return neutral(kind);
        if (kind == Kind::Colour) return {kind, value.r, value.g, value.b, m_program.constant(1)};
        const Reg grey = componentOf(m_program, value, "luminance", m_context.space);
        return {kind, grey, grey, grey, kNoReg};
    }
    Value shownComponent(const Value& value, const std::string& component) {
        const bool isPlain = component == "alpha" || component == "hue" || component == "saturation" ||
                             component == "lightness" || value.kind == Kind::Scalar;
        Value seen = value;
        if (value.kind == Kind::Normal) seen = encodeNormal(m_program, value);
        const Reg one = componentOf(m_program, seen, component);
        Value grey{Kind::Scalar, one, one, one, kNoReg};
        return value.kind == Kind::Colour && !isPlain ? encodeValue(m_program, grey) : grey;
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
    /// What has been emitted; in a cycle, where it is read before it is there, the neutral value.
    Value valueOf(Node node) { return m_values[node] ? *m_values[node] : neutral(m_network.line(node).kind); }

    const StepSpec* working(Node node, const Step& shown) const {
        const StepSpec* spec = m_steps.find(shown.type);
        const bool works = spec != nullptr && spec->fits(m_network.line(node).kind) &&
                           !(shown.bypass && !spec->source) && !isIdleFill(node, shown);
        return works ? spec : nullptr;
    }
    /// A fill of a layer that is switched off, or one that cannot be laid here: neither its mask nor what it
    /// lays is looked at.
    bool isIdleFill(Node node, const Step& shown) const {
        if (shown.type != kFill) return false;
        const auto over = shown.feeds.find("over");
        const Line* laid = over == shown.feeds.end() || over->second.constant
                               ? nullptr
                               : m_network.findLine(over->second.line);
        if (laid != nullptr && (laid->kind == Kind::Normal) != (m_network.line(node).kind == Kind::Normal))
            return true;
        const Node head = m_network.endOf(layerOf(shown));
        return head != kNoNode && m_network.step(head).type == kLayerHead &&
               withLook(m_project, m_network.step(head), m_look).bypass;
    }
    /// A step as the look shows it. To the head of a layer that goes by height the heights are joined, and
    /// what the fill says of them.
    Step shownStep(Node node) const {
        Step step = withLook(m_project, m_network.step(node), m_look);
        const Node fillNode = m_network.heightFill(node);
        if (fillNode == kNoNode || m_network.before(fillNode) == kNoNode) return step;
        const Step fill = withLook(m_project, m_network.step(fillNode), m_look);
        const auto mode = fill.controls.find("mode");
        const auto over = fill.feeds.find("over");
        if (fill.bypass || mode == fill.controls.end() || over == fill.feeds.end() ||
            mode->second != ControlValue(std::string(kByHeight)))
            return step;
        step.feeds["height-over"] = over->second;
        Feed under;
        under.line = m_network.line(fillNode).id;
        under.after = m_network.step(m_network.before(fillNode)).id;
        step.feeds["height-under"] = std::move(under);
        for (const char* control : {"contrast", "softness"})
            if (const auto told = fill.controls.find(control); told != fill.controls.end())
                step.controls[control] = told->second;
        return step;
    }
    /// What a step reads as the look shows it: one that does not work reads no feeds.
    std::vector<Node> read(Node node) const {
        std::vector<Node> reads = m_network.inputs(node);
        if (working(node, withLook(m_project, m_network.step(node), m_look)) == nullptr)
            reads.assign(1, m_network.before(node));
        return reads;
    }
    Value emitted(Node node) {
        const Line& line = m_network.line(node);
        const Node before = m_network.before(node);
        const Value input = before != kNoNode ? valueOf(before) : neutral(line.kind);
        const Step step = shownStep(node);
        const StepSpec* spec = working(node, step);
        if (spec == nullptr) return input;
        Emitter emitter(
            StepView(*spec, step, line.kind), m_program, input, m_context,
            [this](const Feed& feed, Kind kind) { return fed(feed, kind); },
            [this](const Feed& feed, Kind kind) { return fedAround(feed, kind); });
        return spec->emit(emitter);
    }

    /// A feed's whole network once more on each of four sides. What does not depend on the place comes out as
    /// the same registers. Nothing beside a point that is itself beside one.
    std::optional<Surrounding> fedAround(const Feed& feed, Kind kind) {
        const Node root = m_network.of(feed);
        if (root == kNoNode || !m_program.offset().isNone()) return std::nullopt;
        const int net = ++m_nets;
        const auto beside = [&](int u, int v) {
            std::vector<std::optional<Value>> own(m_network.size());
            std::swap(own, m_values);
            m_program.setOffset({u, v, net});
            emit({root});
            const Value value = fed(feed, kind);
            m_program.setOffset({});
            std::swap(own, m_values);
            return value;
        };
        Surrounding s{beside(-1, 0), beside(1, 0), beside(0, -1), beside(0, 1), kNoReg};
        s.stride = m_program.source({SourceKind::Stride, {}, {}, {0, 0, net}}, 0);
        return s;
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
    Network m_network;
    const Look* m_look;
    const Catalogue& m_steps;
    EmitContext m_context;
    ProgramBuilder m_program;
    std::vector<std::optional<Value>> m_values;  ///< by node
    int m_nets = 0;                              ///< of points beside points, one for each relief
};

}  // namespace

Kind kindGiven(const Line& line) {
    const ChannelInfo* channel = findChannel(line.channel);
    return channel != nullptr ? channel->kind : line.kind;
}

Want wantOfLine(const Line& line, bool displayEncoded) {
    const Kind kind = kindGiven(line);
    return {line.id, "", kind == Kind::Scalar ? 1 : 3, displayEncoded, {}, kind};
}

Compiled compile(const Project& project, const Look* look, const std::vector<Want>& wants,
                 const Rules& rules) {
    Compiler compiler(project, look, rules);
    std::vector<Node> roots;
    for (const Want& want : wants) {
        const Network& network = compiler.network();
        // A feed is read for itself, also where the step does not work.
        if (want.feed.empty()) {
            roots.push_back(network.tap(want.line, want.after));
        } else if (const Node node = network.find(want.after); node != kNoNode) {
            const auto joined = network.step(node).feeds.find(want.feed);
            if (joined != network.step(node).feeds.end()) roots.push_back(network.of(joined->second));
        }
    }
    compiler.emit(roots);
    std::vector<Reg> outputs;
    std::unordered_map<Reg, int> planeOf;
    Compiled compiled;
    for (const Want& want : wants) {
        Value value = want.feed.empty() ? compiler.result(want.line, want.after)
                                        : compiler.fedTo(want.after, want.feed);
        if (want.as) value = compiler.asKind(value, *want.as);
        value = compiler.outside(value);
        if (!want.component.empty()) value = compiler.shownComponent(value, want.component);
        if (want.displayEncoded && value.kind == Kind::Colour) value = encodeValue(compiler.program(), value);
        if (value.kind == Kind::Normal && want.displayEncoded)
            value = encodeNormal(compiler.program(), value);
        const Reg alpha = value.a != kNoReg ? value.a : compiler.program().constant(1.0f);
        const std::array<Reg, 4> regs{value.r, value.g, value.b, alpha};
        std::array<int, 4> planes{-1, -1, -1, -1};
        for (int c = 0; c < want.components; ++c) {
            const auto k = static_cast<std::size_t>(c);
            const auto [at, isNew] = planeOf.try_emplace(regs[k], static_cast<int>(outputs.size()));
            planes[k] = at->second;
            if (isNew) outputs.push_back(regs[k]);
        }
        compiled.planes.push_back(planes);
    }
    compiled.program = compiler.program().finish(std::move(outputs));
    return compiled;
}

namespace {

/// Collects what is wrong with one project; one method for each sort of thing.
class ProblemFinder {
public:
    ProblemFinder(const Project& project, const Catalogue& steps)
        : m_project(project), m_steps(steps), m_network(project) {}

    std::vector<std::string> find() {
        checkChannels();
        for (const std::string& surface : surfaceIds(m_project))
            if (std::string turned = layersInTurn(m_project, surface); !turned.empty())
                m_problems.push_back(std::move(turned));
        for (Node node = 0; node < m_network.size(); ++node) checkStep(node);
        for (const auto& look : m_project.looks)
            for (const auto& [key, value] : look->changes) checkChange(*look, key, value);
        if (auto cycle = findCycle(m_project)) m_problems.push_back(*cycle);
        return std::move(m_problems);
    }

private:
    template <class... Arguments>
    void tell(fmt::format_string<Arguments...> words, Arguments&&... arguments) {
        m_problems.push_back(fmt::format(words, std::forward<Arguments>(arguments)...));
    }

    void checkChannels() {
        std::set<std::string> driven;
        for (const auto& line : m_project.lines) {
            const ChannelInfo* channel = findChannel(line->channel);
            if (line->channel.empty()) continue;
            if (!line->surface.empty() && m_project.findSurface(line->surface) == nullptr)
                tell(
                    "The line {} belongs to a surface \"{}\" that is not in the project, so no part shows "
                    "it. "
                    "Take it off, or bring its set in again.",
                    line->name, line->surface);
            if (!driven.insert(line->surface + '\n' + line->channel).second)
                tell(
                    "The line {} drives {}, which another line drives already, and is not used. Take the "
                    "channel "
                    "off one of them.",
                    line->name, line->channel);
            if (channel == nullptr || channel->kind == line->kind) continue;
            const bool isNormal = channel->kind == Kind::Normal || line->kind == Kind::Normal;
            tell("The line {} carries a {} and {} takes a {}: {}. Let the line carry a {}.", line->name,
                 nameOf(line->kind), channel->name, nameOf(channel->kind),
                 isNormal                        ? "the channel stays neutral"
                 : channel->kind == Kind::Scalar ? "its luminance is used"
                                                 : "it is used as a grey",
                 nameOf(channel->kind));
        }
    }

    void checkControl(const StepSpec& spec, const std::string& step, std::string_view name,
                      const ControlValue& value, const std::string& where) {
        const ControlSpec* control = spec.findControl(std::string(name));
        if (control == nullptr) return;
        if (const auto wrong = kettle::checkControl(*control, value))
            tell("{}.{} {} {}. The default is used until you set it.", step, name, where, *wrong);
    }

    void checkStep(Node node) {
        const Step& step = m_network.step(node);
        const Line& line = m_network.line(node);
        const StepSpec* spec = m_steps.find(step.type);
        if (spec == nullptr) {
            tell(
                "{} on {} is a step \"{}\" that this program does not know. It passes its input on and is "
                "kept "
                "in the file.",
                step.id, line.name, step.type);
            return;
        }
        if (spec->source != (m_network.index(node) == 0))
            tell("{} on {} is not at its place: a source starts a line and no other step does. Move it.",
                 step.id, line.name);
        if (!spec->fits(line.kind))
            tell("{} on {} does not fit a {} line and passes its input on. Remove it.", step.id, line.name,
                 nameOf(line.kind));
        for (const auto& [name, value] : step.controls)
            checkControl(*spec, step.id, name, value, fmt::format("on {}", line.name));
        for (const auto& [name, feed] : step.feeds) checkFeed(step, line, name, feed);
    }

    void checkFeed(const Step& step, const Line& line, const std::string& name, const Feed& feed) {
        if (feed.constant) return;
        const Line* other = m_network.findLine(feed.line);
        if (other == nullptr) {
            tell("{} on {} reads the line \"{}\" as its {}, which is not in the project. Join another line.",
                 step.id, line.name, feed.line, name);
            return;
        }
        if (step.type == kFill && name == "over" &&
            (other->kind == Kind::Normal) != (line.kind == Kind::Normal))
            tell(
                "{} on {} is filled from {}, which carries a {} and cannot be laid over a {}. Choose another "
                "fill.",
                step.id, line.name, other->name, nameOf(other->kind), nameOf(line.kind));
        if (feed.after.empty()) return;
        const Node tapped = m_network.find(feed.after);
        if (tapped == kNoNode || &m_network.line(tapped) != other)
            tell(
                "{} on {} reads {} after a step \"{}\" that is not there; its end is read instead. Join it "
                "again.",
                step.id, line.name, other->name, feed.after);
    }

    void checkChange(const Look& look, const std::string& key, const ControlValue& value) {
        const Address address = Address::of(key);
        const Node node = m_network.find(address.step);
        if (node == kNoNode) {
            tell("The look {} changes {}, which is not in the project. It is kept and has no effect.",
                 look.name, key);
            return;
        }
        const Step& step = m_network.step(node);
        if (const StepSpec* spec = m_steps.find(step.type); spec != nullptr && address.control != "bypass")
            checkControl(*spec, step.id, address.control, value, fmt::format("in the look {}", look.name));
    }

    const Project& m_project;
    const Catalogue& m_steps;
    Network m_network;
    std::vector<std::string> m_problems;
};

}  // namespace

std::vector<std::string> problemsOf(const Project& project, const Catalogue& steps) {
    return ProblemFinder(project, steps).find();
}

}  // namespace kettle
