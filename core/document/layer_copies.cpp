// Copies of layers: a project of their own, which is text on the clipboard, and how it is put into another.
#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <unordered_map>
#include <utility>

#include "core/document/edits.h"
#include "core/document/handles.h"
#include "core/document/layer_edits.h"
#include "core/document/recipe_edits.h"

namespace kettle::edits {
namespace {

/// A line as a look shows it, in no surface.
Line shownLine(const Project& project, const Line& line, const Look* look) {
    Line shown = line;
    shown.surface.clear();
    for (Shared<Step>& step : shown.steps) step = Shared<Step>(withLook(project, *step, look));
    return shown;
}

/// The set as the project has it, by what it holds; added under an id of its own if it has none such.
std::string takeSet(Project& project, const TextureSet& set) {
    for (const auto& known : project.sets)
        if (known->folder == set.folder && known->maps == set.maps) return known->id;
    TextureSet taken = set;
    taken.id = freshId(project, set.id);
    project.sets.emplace_back(taken);
    return taken.id;
}

std::string freshName(const Project& project, const std::string& surface, const std::string& name) {
    std::set<std::string> used;
    for (const Line* layer : layersOf(project, surface)) used.insert(layer->name);
    if (!used.contains(name)) return name;
    for (int n = 2;; ++n)
        if (std::string next = fmt::format("{} {}", name, n); !used.contains(next)) return next;
}

/// Puts copied layers into a project.
class Paster {
public:
    Paster(const Project& into, const std::string& look, const Project& copied, const LayerWish& wish,
           std::vector<std::string>& notes)
        : m_project(into), m_look(look), m_copied(copied), m_wish(wish), m_notes(notes) {}

    Result<Project> paste(std::vector<std::string>& ids) {
        for (const auto& set : m_copied.sets) m_sets[set->id] = takeSet(m_project, *set);
        takeRecipes();
        const auto layers = layersOf(m_copied, {});
        for (const auto& line : m_copied.lines)
            if (line->channel.empty() && !isLayer(*line)) takeLine(*line);
        for (const Line* layer : layers) {
            if (auto done = pasteLayer(*layer); !done) return fail(done.error());
            ids.push_back(m_lines.at(layer->id));
        }
        joinFeeds();
        return std::move(m_project);
    }

private:
    /// The copied steps' recipes; those that the project has are used.
    void takeRecipes() {
        std::vector<Step> all;
        for (const auto& line : m_copied.lines)
            for (const auto& step : line->steps) all.push_back(*step);
        m_project = takeSteps(m_project, m_copied.recipes, all);
        for (const Step& step : all) m_types[step.id] = step.type;
    }
    Step taken(const Step& step) {
        Step made = step;
        made.type = m_types.at(step.id);
        made.id = freshId(m_project, step.type == kLayerHead ? "layer-head" : "s");
        m_steps[step.id] = made.id;
        if (const auto set = m_sets.find(step.set); set != m_sets.end()) made.set = set->second;
        m_feeds.emplace_back(made.id, std::exchange(made.feeds, {}));
        return made;
    }
    /// A line that drives no channel, with steps whose feeds are joined in the end.
    std::string takeLine(const Line& line) {
        Line made = line;
        made.surface = m_wish.surface;
        made.id = freshId(m_project, line.id);
        m_lines[line.id] = made.id;
        made.steps.clear();
        auto place = m_project.lines.end();
        if (isLayer(line)) {
            made.name = freshName(m_project, m_wish.surface, line.name);
            place = std::find_if(m_project.lines.begin(), m_project.lines.end(),
                                 [&](const auto& other) { return other->id == m_wish.below; });
        }
        const auto at = static_cast<std::size_t>(place - m_project.lines.begin());
        m_project.lines.insert(place, Shared<Line>(std::move(made)));
        for (const auto& step : line.steps) {
            Step one = taken(*step);
            m_project.lines[at].edit().steps.emplace_back(std::move(one));
        }
        return m_lines.at(line.id);
    }
    Result<void> pasteLayer(const Line& layer) {
        const std::string id = takeLine(layer);
        const std::string head = headOf(*m_project.findLine(id)).id;
        for (const FillPlace& fill : fillsOf(m_copied, layer.id)) {
            const Line* line = m_project.lineOfChannel(fill.line->channel, m_wish.surface);
            if (line == nullptr || line->surface != m_wish.surface) {
                m_notes.push_back(
                    fmt::format("The surface has no {}, so {} leaves it out.", fill.line->name, layer.name));
                continue;
            }
            std::string made;
            Feed none;
            none.constant = 0.0;
            auto next = coverFrom(m_project, {}, id, line->id, none, made);
            if (!next) return fail(next.error());
            m_project = std::move(*next);
            takeFill(made, *fill.step);
        }
        if (m_project.findLook(m_look) == nullptr) return {};
        for (Shared<Look>& look : m_project.looks)
            if (look->id == m_look) look.edit().changes[head + ".bypass"] = headOf(layer).bypass;
        const auto at = *m_project.findStep(head);
        m_project.lines[at.line].edit().steps[at.step].edit().bypass = true;
        return {};
    }
    /// The copied fill's controls and feeds for one that covers.
    void takeFill(const std::string& id, const Step& from) {
        const auto at = *m_project.findStep(id);
        Step& step = m_project.lines[at.line].edit().steps[at.step].edit();
        step.controls = from.controls;
        step.bypass = from.bypass;
        step.note = from.note;
        step.feeds.erase(kOver.id);
        m_steps[from.id] = id;
        auto feeds = from.feeds;
        feeds.erase(kMask.id);
        m_feeds.emplace_back(id, std::move(feeds));
    }
    void joinFeeds() {
        for (auto& [step, feeds] : m_feeds)
            for (auto& [name, feed] : feeds) {
                if (const auto line = m_lines.find(feed.line); line != m_lines.end())
                    feed.line = line->second;
                if (const auto tap = m_steps.find(feed.after); tap != m_steps.end()) feed.after = tap->second;
                if (auto joined = setFeed(m_project, step, name, feed))
                    m_project = std::move(*joined);
                else
                    m_notes.push_back(
                        fmt::format("{} of {} is not joined: {}", name, step, joined.error().sentence));
            }
    }

    Project m_project;
    const std::string& m_look;
    const Project& m_copied;
    const LayerWish& m_wish;
    std::vector<std::string>& m_notes;
    std::unordered_map<std::string, std::string> m_sets, m_lines, m_steps, m_types;
    std::vector<std::pair<std::string, Feeds>> m_feeds;
};

}  // namespace

Result<Project> copyLayers(const Project& project, const std::string& look,
                           const std::vector<std::string>& layers) {
    const Look* shown = project.findLook(look);
    Project copy;
    std::set<std::string> sets;
    const auto take = [&](Line line) {
        for (const auto& step : line.steps)
            if (!step->set.empty()) sets.insert(step->set);
        copy.lines.emplace_back(std::move(line));
    };
    for (const std::string& id : layers) {
        const Line* layer = project.findLine(id);
        if (layer == nullptr || !isLayer(*layer))
            return fail(ErrorKind::Refused,
                        fmt::format("There is no layer {} in the project. Choose another.", id));
        take(shownLine(project, *layer, shown));
        for (const FillPlace& fill : fillsOf(project, id)) {
            if (const Line* own = ownLineOf(project, *fill.step)) take(shownLine(project, *own, shown));
            // A line of the channel with nothing but the fill; two layers' fills keep their order on it.
            auto at = std::find_if(copy.lines.begin(), copy.lines.end(),
                                   [&](const auto& line) { return line->channel == fill.line->channel; });
            if (at == copy.lines.end()) {
                Line bare = *fill.line;
                bare.surface.clear();
                bare.steps.resize(1);
                at = copy.lines.insert(copy.lines.end(), Shared<Line>(std::move(bare)));
            }
            at->edit().steps.emplace_back(withLook(project, *fill.step, shown));
        }
    }
    for (const auto& set : project.sets)
        if (sets.contains(set->id)) copy.sets.push_back(set);
    std::vector<Step> steps;
    for (const auto& line : copy.lines)
        for (const auto& step : line->steps) steps.push_back(*step);
    copy.recipes = recipesUsed(project, steps);
    return copy;
}

Result<Project> pasteLayers(const Project& project, const std::string& look, const Project& copied,
                            const LayerWish& wish, std::vector<std::string>& ids,
                            std::vector<std::string>& notes) {
    ids.clear();
    if (layersOf(copied, {}).empty())
        return fail(ErrorKind::Refused, "There is no layer in what was copied. Copy one on the board first.");
    if (!wish.surface.empty() && project.findSurface(wish.surface) == nullptr)
        return fail(ErrorKind::Refused,
                    fmt::format("There is no surface {} in the project. Choose another.", wish.surface));
    return Paster(project, look, copied, wish, notes).paste(ids);
}

}  // namespace kettle::edits
