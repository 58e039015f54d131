#include "core/engine/compile.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <span>
#include <unordered_map>
#include <utility>

#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/layers.h"
#include "core/document/network.h"
#include "core/document/recipes.h"
#include "core/document/shown_steps.h"
#include "core/steps/blend.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

class Compiler {
public:
    /// `nets`: how many nets of points beside points the program has before.
    Compiler(const Project& project, const Look* look, const Rules& rules, ProgramBuilder& program,
             int nets = 0)
        : m_own(rules.network == nullptr ? std::optional<Network>(project) : std::nullopt),
          m_network(m_own ? *m_own : *rules.network),
          m_shown(project, look),
          m_steps(rules.steps),
          m_cancel(rules.cancel),
          m_context{&rules.colours, workingSpaceOf(project.colour.workingSpace)},
          m_program(&program),
          m_values(m_network.size()),
          m_nets(nets) {}

    const Network& network() const { return m_network; }
    bool isCancelled() const { return m_cancel != nullptr && m_cancel->isCancelled(); }

    /// Emits everything that the roots need; their values are there then.
    void emit(const std::vector<Node>& roots) {
        m_network.walk(
            roots,
            [this](Node node) { return m_values[node] || isCancelled() ? std::vector<Node>{} : read(node); },
            [this](Node node) {
                if (!m_values[node] && !isCancelled()) m_values[node] = emitted(node);
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
        return fed(joined->second, kind, numbersOf(step));
    }
    Value asKind(const Value& value, Kind kind) {
        if (value.kind == kind) return value;
        if (value.kind == Kind::Normal || kind == Kind::Normal) return neutral(kind);
        if (kind == Kind::Colour) return {kind, value.r, value.g, value.b, m_program->constant(1)};
        const Reg grey = componentOf(*m_program, value, Component::Luminance, m_context.space);
        return {kind, grey, grey, grey, kNoReg};
    }
    Value shownComponent(const Value& value, Component component) {
        Value seen = value;
        if (value.kind == Kind::Normal) seen = encodeNormal(*m_program, value);
        const Reg one = componentOf(*m_program, seen, component, {}, NumberSpace::DisplayEncoded);
        return {Kind::Scalar, one, one, one, kNoReg};
    }
    ProgramBuilder& program() { return *m_program; }
    /// A colour of linear Rec.709 in another space of the configuration.
    Value inSpace(const Value& value, const std::string& space) {
        if (space == encoding::kSrgb) return encodeValue(*m_program, value);
        return convertValue(*m_program, *m_context.colours, value, encoding::kLinear, space);
    }
    /// A result as the world outside the program knows it: colours in linear Rec.709.
    Value outside(const Value& value) {
        if (value.kind != Kind::Colour || m_context.space.isRec709()) return value;
        return transformValue(*m_program, value, m_context.space.toRec709);
    }

private:
    Value neutral(Kind kind) {
        if (kind == Kind::Normal)
            return {kind, m_program->constant(0), m_program->constant(0), m_program->constant(1), kNoReg};
        const Reg grey = m_program->constant(0.5f);
        return {kind, grey, grey, grey, kNoReg};
    }
    /// What has been emitted; in a cycle, where it is read before it is there, the neutral value.
    Value valueOf(Node node) { return m_values[node] ? *m_values[node] : neutral(m_network.line(node).kind); }

    const StepSpec* working(Node node, const Step& shown) {
        const StepSpec* spec = m_steps.find(shown.type);
        const bool works = spec != nullptr && spec->fits(m_network.line(node).kind) &&
                           !(shown.bypass && !spec->source) && !isIdleFill(node, shown);
        return works ? spec : nullptr;
    }
    /// A fill of a layer that is switched off, or one that cannot be laid here: neither its mask nor what it
    /// lays is looked at.
    bool isIdleFill(Node node, const Step& shown) {
        if (shown.type != kFill) return false;
        const auto over = shown.feeds.find(kOver.id);
        const Line* laid = over == shown.feeds.end() || over->second.constant
                               ? nullptr
                               : m_network.findLine(over->second.line);
        if (laid != nullptr && (laid->kind == Kind::Normal) != (m_network.line(node).kind == Kind::Normal))
            return true;
        const Node head = m_network.endOf(layerOf(shown));
        return head != kNoNode && m_network.step(head).type == kLayerHead &&
               m_shown.of(m_network.step(head)).bypass;
    }
    /// A step as the look shows it. To the head of a layer that goes by height the heights are joined, and
    /// what the fill says of them; that is a step of its own, kept in `own`.
    const Step& shownStep(Node node, std::optional<Step>& own) {
        const Step& shown = m_shown.of(m_network.step(node));
        const Node fillNode = m_network.heightFill(node);
        if (fillNode == kNoNode || m_network.before(fillNode) == kNoNode) return shown;
        const Step& fill = m_shown.of(m_network.step(fillNode));
        const auto mode = fill.controls.find(kFillMode.id);
        const auto over = fill.feeds.find(kOver.id);
        if (fill.bypass || mode == fill.controls.end() || over == fill.feeds.end() ||
            mode->second != kFillMode(BlendMode::ByHeight).second)
            return shown;
        Step& step = own.emplace(shown);
        step.feeds[kHeightOver.id] = over->second;
        Feed under;
        under.line = m_network.line(fillNode).id;
        under.after = m_network.step(m_network.before(fillNode)).id;
        step.feeds[kHeightUnder.id] = std::move(under);
        for (const NumberHandle control : {kHeightContrast, kHeightSoftness})
            if (const auto told = fill.controls.find(control.id); told != fill.controls.end())
                step.controls[control.id] = told->second;
        return step;
    }
    /// What a step reads as the look shows it: one that does not work reads no feeds.
    std::vector<Node> read(Node node) {
        if (working(node, m_shown.of(m_network.step(node))) == nullptr) return {m_network.before(node)};
        return m_network.inputs(node);
    }
    Value emitted(Node node) {
        const Line& line = m_network.line(node);
        const Node before = m_network.before(node);
        const Value input = before != kNoNode ? valueOf(before) : neutral(line.kind);
        std::optional<Step> own;
        const Step& step = shownStep(node, own);
        const StepSpec* spec = working(node, step);
        if (spec == nullptr) return input;
        const NumberSpace numbers = numbersOf(step);
        Emitter emitter(StepView(*spec, step, line.kind), *m_program, input, m_context,
                        {[=, this](const Feed& feed, Kind kind) { return fed(feed, kind, numbers); },
                         [=, this](const Feed& feed, Kind kind) { return fedAround(feed, kind, numbers); },
                         [=, this](const Feed& feed) { return fedApart(feed, numbers); }});
        m_program->setCancelling(step.version > 1);
        const Value result = spec->emit(emitter);
        m_program->setCancelling(true);
        return result;
    }
    /// The space in which a step's scalar inputs read a colour line: linear light in version 1.
    static NumberSpace numbersOf(const Step& step) {
        return step.version > 1 ? NumberSpace::DisplayEncoded : NumberSpace::LinearLight;
    }

    /// A feed's whole network once more on each of four sides. What does not depend on the place comes out as
    /// the same registers. Nothing beside a point that is itself beside one.
    std::optional<Surrounding> fedAround(const Feed& feed, Kind kind, NumberSpace numbers) {
        const Node root = m_network.of(feed);
        if (root == kNoNode || !m_program->offset().isNone()) return std::nullopt;
        const int net = ++m_nets;
        const auto beside = [&](int u, int v) {
            std::vector<std::optional<Value>> own(m_network.size());
            std::swap(own, m_values);
            m_program->setOffset({u, v, net});
            emit({root});
            const Value value = fed(feed, kind, numbers);
            m_program->setOffset({});
            std::swap(own, m_values);
            return value;
        };
        Surrounding s{beside(-1, 0), beside(1, 0), beside(0, -1), beside(0, 1), kNoReg};
        s.stride = m_program->source({PointAttribute::Stride, {0, 0, net}}, 0);
        return s;
    }

    /// A feed's whole network as a program of its own. Null where that is asked for within such a program
    /// within another, and so on: then it may be going round.
    std::shared_ptr<const Program> fedApart(const Feed& feed, NumberSpace numbers) {
        constexpr int kDeepest = 4;
        if (m_depth == kDeepest) return nullptr;
        ++m_depth;
        const int nets = std::exchange(m_nets, 0);  // so that it is the same wherever it is asked for
        ProgramBuilder own;
        std::vector<std::optional<Value>> values(m_network.size());
        std::swap(values, m_values);
        ProgramBuilder* const outer = std::exchange(m_program, &own);
        if (const Node root = m_network.of(feed); root != kNoNode) emit({root});
        auto made = std::make_shared<const Program>(own.finish({fed(feed, Kind::Scalar, numbers).r}));
        m_program = outer;
        std::swap(values, m_values);
        m_nets = nets;
        --m_depth;
        return made;
    }

    /// A feed as the kind a step asks for. A scalar read as a colour keeps its kind, so that a blend can tell
    /// a raw number from light.
    Value fed(const Feed& feed, Kind kind, NumberSpace numbers) {
        if (feed.constant) {
            if (const Colour* c = std::get_if<Colour>(&*feed.constant)) {
                const Vec3 v = m_context.space.fromLinear({c->r, c->g, c->b});
                return {Kind::Colour, m_program->constant(v.x), m_program->constant(v.y),
                        m_program->constant(v.z), m_program->constant(1)};
            }
            const double* number = std::get_if<double>(&*feed.constant);
            const Reg v = m_program->constant(number != nullptr ? static_cast<float>(*number) : 0.0f);
            return {Kind::Scalar, v, v, v, kNoReg};
        }
        const Value value = result(feed.line, feed.after);
        if (kind != Kind::Scalar || value.kind == Kind::Scalar) return value;
        const Reg one =
            componentOf(*m_program, value, componentNamed(feed.component), m_context.space, numbers);
        return {Kind::Scalar, one, one, one, kNoReg};
    }

    const std::optional<Network> m_own;
    const Network& m_network;
    ShownSteps m_shown;
    const Catalogue& m_steps;
    const CancelToken* m_cancel;
    EmitContext m_context;
    ProgramBuilder* m_program;
    std::vector<std::optional<Value>> m_values;  ///< by node
    int m_depth = 0;                             ///< of programs within programs
    int m_nets;                                  ///< of points beside points, one for each relief
};

}  // namespace

Kind kindGiven(const Line& line) {
    const ChannelSpec* channel = findChannel(line.channel);
    return channel != nullptr ? channel->kind : line.kind;
}

Want wantOfLine(const Line& line, bool displayEncoded) {
    const Kind kind = kindGiven(line);
    return {line.id, "", kind == Kind::Scalar ? 1 : 3, displayEncoded, {}, kind};
}

namespace {

/// The outputs of a program while it is made: each register once.
struct Outputs {
    std::vector<Reg> regs;
    std::unordered_map<Reg, int> planeOf;
    int add(Reg reg) {
        const auto [at, isNew] = planeOf.try_emplace(reg, static_cast<int>(regs.size()));
        if (isNew) regs.push_back(reg);
        return at->second;
    }
};

/// Emits what is wanted of a project without recipes; which outputs each want has.
std::vector<std::array<int, 4>> emitWants(Compiler& compiler, std::span<const Want> wants, Outputs& outputs) {
    std::vector<Node> roots;
    const Network& network = compiler.network();
    for (const Want& want : wants) {
        if (compiler.isCancelled()) break;
        // A feed is read for itself, also where the step does not work.
        if (want.feed.empty()) {
            roots.push_back(network.tap(want.line, want.after));
        } else if (const Node node = network.find(want.after); node != kNoNode) {
            const auto joined = network.step(node).feeds.find(want.feed);
            if (joined != network.step(node).feeds.end()) roots.push_back(network.of(joined->second));
        }
    }
    compiler.emit(roots);
    std::vector<std::array<int, 4>> planesOfWants;
    for (const Want& want : wants) {
        if (compiler.isCancelled()) {
            planesOfWants.push_back({-1, -1, -1, -1});
            continue;
        }
        Value value = want.feed.empty() ? compiler.result(want.line, want.after)
                                        : compiler.fedTo(want.after, want.feed);
        if (want.as) value = compiler.asKind(value, *want.as);
        value = compiler.outside(value);
        if (want.component) value = compiler.shownComponent(value, *want.component);
        if (value.kind == Kind::Colour && !want.space.empty())
            value = compiler.inSpace(value, want.space);
        else if (value.kind == Kind::Colour && want.displayEncoded)
            value = encodeValue(compiler.program(), value);
        if (value.kind == Kind::Normal && want.displayEncoded)
            value = encodeNormal(compiler.program(), value);
        const Reg alpha = value.a != kNoReg ? value.a : compiler.program().constant(1.0f);
        const std::array<Reg, 4> regs{value.r, value.g, value.b, alpha};
        std::array<int, 4> planes{-1, -1, -1, -1};
        for (int c = 0; c < want.components; ++c)
            planes[static_cast<std::size_t>(c)] = outputs.add(regs[static_cast<std::size_t>(c)]);
        planesOfWants.push_back(planes);
    }
    return planesOfWants;
}

/// What a project without recipes is compiled to; `count`: of the first wants.
CompiledTwice compilePlain(const Project& project, const Look* look, std::span<const Want> wants,
                           std::size_t count, const Rules& rules) {
    ProgramBuilder program;
    Compiler compiler(project, look, rules, program);
    Outputs outputs;
    CompiledTwice compiled;
    if (count > 0) {
        compiled.first.planes = emitWants(compiler, wants.first(count), outputs);
        compiled.first.program = program.finish(outputs.regs);
    }
    compiled.all.planes = compiled.first.planes;
    const auto more = emitWants(compiler, wants.subspan(count), outputs);
    compiled.all.planes.insert(compiled.all.planes.end(), more.begin(), more.end());
    compiled.all.program = program.finish(std::move(outputs.regs));
    return compiled;
}

/// What a program reads beside its points, net by net. Sides that read the same there share their nets;
/// others have their own, since a net's stride is that of all maps in it.
std::vector<SourceKey> besides(const Program& program) {
    std::vector<SourceKey> sources;
    for (const SourceKey& source : program.sources)
        if (!source.offset.isNone()) sources.push_back(source);
    return sources;
}

/// What an input of a recipe brings is asked of the first of its steps that reads it.
std::vector<Want> insideRecipes(const Project& project, std::vector<Want> wants) {
    for (Want& want : wants) {
        if (want.feed.empty()) continue;
        for (auto place = project.findStep(want.after); place; place.reset()) {
            std::string type = project.stepAt(*place).type, step = want.after;
            while (const Recipe* recipe = project.findRecipe(recipeOf(type))) {
                const auto feed = std::find_if(recipe->feeds.begin(), recipe->feeds.end(),
                                               [&](const RecipeFeed& f) { return f.id == want.feed; });
                if (feed == recipe->feeds.end()) break;
                const Address target = Address::of(feed->targets.front());
                const std::string inner(target.step);
                want.feed = std::string(target.control);
                type.clear();
                for (const auto& one : recipe->steps)
                    if (one->id == inner) type = one->type;
                if (inner != recipe->steps.back()->id) step += "/" + inner;
            }
            want.after = step;
        }
    }
    return wants;
}

}  // namespace

CompiledTwice compileTwice(const Project& project, const Look* look, const std::vector<Want>& wants,
                           std::size_t count, const Rules& rules) {
    if (!usesRecipes(project)) return compilePlain(project, look, wants, count, rules);
    const Opened open = withoutRecipes(project, look);
    Rules opened = rules;
    opened.network = nullptr;  // it is another project now
    return compilePlain(open.project, open.look ? &*open.look : nullptr, insideRecipes(project, wants), count,
                        opened);
}

Compiled compile(const Project& project, const Look* look, const std::vector<Want>& wants,
                 const Rules& rules) {
    return compileTwice(project, look, wants, 0, rules).all;
}

CompiledTogether compileTogether(const std::vector<CompileSide>& sides, const Rules& rules) {
    ProgramBuilder program;
    Outputs outputs;
    CompiledTogether together;
    std::vector<std::pair<std::vector<SourceKey>, int>> nets;  // what is read in them, how many were before
    int used = 0;
    for (const CompileSide& side : sides) {
        std::vector<SourceKey> read = besides(*side.alone);
        auto known = std::find_if(nets.begin(), nets.end(), [&](const auto& n) { return n.first == read; });
        if (known == nets.end()) {
            int own = 0;
            for (const SourceKey& source : read) own = std::max(own, source.offset.net);
            known = nets.insert(nets.end(), {std::move(read), used});
            used += own;
        }
        const Opened open = withoutRecipes(*side.project, side.look);
        Rules opened = rules;
        opened.network = nullptr;
        Compiler compiler(open.project, open.look ? &*open.look : nullptr, opened, program, known->second);
        together.planes.push_back(emitWants(compiler, insideRecipes(*side.project, *side.wants), outputs));
    }
    together.program = program.finish(std::move(outputs.regs));
    return together;
}

}  // namespace kettle
