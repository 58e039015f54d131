// What is wrong with a project apart from its files.
#include <fmt/format.h>

#include <set>

#include "core/document/channels.h"
#include "core/document/handles.h"
#include "core/document/layers.h"
#include "core/document/network.h"
#include "core/document/recipes.h"
#include "core/engine/compile.h"
#include "core/steps/recipe_steps.h"

namespace kettle {
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
        for (const std::string& id : recipesInTurn(m_project.recipes))
            tell(
                "The recipe {} holds itself, through others or at once, and passes its input on. Unpack one "
                "of "
                "them.",
                m_project.findRecipe(id)->name);
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
            const ChannelSpec* channel = findChannel(line->channel);
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
        if (spec == nullptr && step.type.starts_with(kRecipe)) {
            tell(
                "{} on {} is a recipe \"{}\" that the project does not have. It passes its input on; take it "
                "from the library again, or remove it.",
                step.id, line.name, recipeOf(step.type));
            return;
        }
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
        for (const auto& [name, value] : step.unreadable)
            tell(
                "{}.{} on {} is {}, which is no value of a control. The default is used until you set it; "
                "the file keeps it.",
                step.id, name, line.name, value);
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
        if (step.type == kFill && name == kOver.id &&
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
        if (const StepSpec* spec = m_steps.find(step.type); spec != nullptr && address.control != kBypass.id)
            checkControl(*spec, step.id, address.control, value, fmt::format("in the look {}", look.name));
    }

    const Project& m_project;
    const Catalogue& m_steps;
    Network m_network;
    std::vector<std::string> m_problems;
};

}  // namespace

std::vector<std::string> problemsOf(const Project& project, const Catalogue& steps) {
    const Catalogue all = withRecipes(steps, project.recipes);
    return ProblemFinder(project, all).find();
}

}  // namespace kettle
