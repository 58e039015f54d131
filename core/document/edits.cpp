#include "core/document/edits.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <functional>
#include <numeric>
#include <set>
#include <utility>

#include "core/document/layers.h"
#include "core/document/network.h"

namespace kettle::edits {
namespace {

tl::unexpected<Error> noStep(const std::string& id) {
    return fail(ErrorKind::Refused, fmt::format("There is no step {} in the project. Choose another.", id));
}
tl::unexpected<Error> noLine(const std::string& id) {
    return fail(ErrorKind::Refused, fmt::format("There is no line {} in the project. Choose another.", id));
}

std::optional<std::size_t> lineIndex(const Project& p, const std::string& id) {
    for (std::size_t i = 0; i < p.lines.size(); ++i)
        if (p.lines[i]->id == id) return i;
    return std::nullopt;
}

Look* lookForWriting(Project& p, const std::string& id) {
    for (Shared<Look>& look : p.looks)
        if (look->id == id) return &look.edit();
    return nullptr;
}

Step& stepForWriting(Project& p, Project::Place at) {
    return p.lines[at.line].edit().steps[at.step].edit();
}

/// The project with a check for cycles; edits that touch the wiring end here.
Result<Project> checked(Project p) {
    if (auto cycle = findCycle(p)) return fail(ErrorKind::Refused, *cycle);
    return p;
}

/// Feeds that read the line after `step` read it after `instead` (empty: at its source's place, so the end is
/// meant).
void repoint(Project& p, const std::string& line, const std::string& step, const std::string& instead) {
    for (Shared<Line>& l : p.lines)
        for (std::size_t s = 0; s < l->steps.size(); ++s)
            for (const auto& [name, feed] : Step(*l->steps[s]).feeds)
                if (feed.line == line && feed.after == step)
                    l.edit().steps[s].edit().feeds[name].after = instead;
}

void dropChanges(Project& p, const std::string& step) {
    const std::string prefix = step + ".";
    const auto isOfStep = [&](const auto& change) { return change.first.starts_with(prefix); };
    std::erase_if(p.allLooks, isOfStep);
    for (Shared<Look>& look : p.looks)
        if (std::any_of(look->changes.begin(), look->changes.end(), isOfStep))
            std::erase_if(look.edit().changes, isOfStep);
}

/// The changes that an edit in this look goes to: those of all looks for what holds in all of them, else its
/// own. Null if there is no such look.
Changes* changesForWriting(Project& p, const std::string& look, const std::string& key) {
    Look* own = lookForWriting(p, look);
    if (own == nullptr) return nullptr;
    return p.allLooks.contains(key) && !own->changes.contains(key) ? &p.allLooks : &own->changes;
}

/// Which keys of changes are meant: one control's, or with "" all of a step's.
auto meaning(const std::string& step, const std::string& control) {
    return [prefix = step + ".", whole = step + "." + control, all = control.empty()](
               const std::string& key) { return all ? key.starts_with(prefix) : key == whole; };
}

/// Sets a change, or takes it out where the value below it is the same.
void change(Changes& changes, const Changes& below, const std::string& key, const ControlValue* base,
            ControlValue value) {
    const auto under = &changes == &below ? below.end() : below.find(key);
    const ControlValue* same = under != below.end() ? &under->second : base;
    if (same != nullptr && *same == value)
        changes.erase(key);
    else
        changes[key] = std::move(value);
}

}  // namespace

/// Steps made by hand are numbered: s1, s2.
constexpr const char* kStepStem = "s";

std::string freshId(const Project& p, const std::string& stem) {
    std::set<std::string_view> used;
    for (const auto& set : p.sets) used.insert(set->id);
    for (const auto& surface : p.surfaces) used.insert(surface->id);
    for (const auto& look : p.looks) used.insert(look->id);
    for (const auto& line : p.lines) {
        used.insert(line->id);
        for (const auto& step : line->steps) used.insert(step->id);
    }
    if (stem != kStepStem && !used.contains(stem)) return stem;
    for (int n = stem == kStepStem ? 1 : 2;; ++n)
        if (std::string id = stem == kStepStem ? fmt::format("s{}", n) : fmt::format("{}-{}", stem, n);
            !used.contains(id))
            return id;
}

std::string freshIdOf(const Project& p, const std::string& name, const std::string& otherwise) {
    std::string stem;
    for (const char c : name)
        stem += std::isalnum(static_cast<unsigned char>(c)) != 0
                    ? static_cast<char>(std::tolower(static_cast<unsigned char>(c)))
                    : '-';
    // "s" alone stands for a step's number.
    return freshId(p, stem.empty() || stem == kStepStem ? otherwise : stem);
}

Result<Project> insertStep(const Project& project, const std::string& look, const std::string& line,
                           std::size_t index, Step step) {
    Project p = project;
    const auto at = lineIndex(p, line);
    if (!at) return noLine(line);
    if (index > p.lines[*at]->steps.size())
        return fail(ErrorKind::Refused,
                    fmt::format("The line {} has no place {}. Choose a gap on the line.", line, index));
    if (project.findStep(step.id))
        return fail(ErrorKind::Refused,
                    fmt::format("The step id {} is taken. Give the step another.", step.id));
    // A layer's mask ends in its head; what is added behind that goes before it.
    if (isLayer(*p.lines[*at])) index = std::min(index, p.lines[*at]->steps.size() - 1);
    if (Look* l = look.empty() ? nullptr : lookForWriting(p, look); l != nullptr) {
        l->changes[step.id + ".bypass"] = step.bypass;
        step.bypass = true;
    }
    auto& steps = p.lines[*at].edit().steps;
    steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(index), Shared<Step>(std::move(step)));
    return checked(std::move(p));
}

Result<Project> pasteSteps(const Project& project, const std::string& look, const std::string& line,
                           std::size_t index, const std::vector<Step>& steps, std::vector<std::string>& ids) {
    if (index == 0)
        return fail(ErrorKind::Refused, "A line starts with its source. Paste the steps behind it.");
    Project next = project;
    ids.clear();
    for (Step step : steps) {
        step.id = freshId(next, "s");
        // A feed that cannot be kept is left off; the step says that nothing is joined.
        auto feeds = std::exchange(step.feeds, {});
        auto inserted = insertStep(next, look, line, index++, step);
        if (!inserted) return fail(inserted.error());
        next = std::move(*inserted);
        for (auto& [name, feed] : feeds) {
            if (!feed.constant && next.findLine(feed.line) == nullptr) continue;
            if (auto joined = setFeed(next, step.id, name, std::move(feed))) next = std::move(*joined);
        }
        ids.push_back(step.id);
    }
    return next;
}

Result<Project> feedFromNewLine(const Project& project, const std::string& step, const std::string& feed,
                                const std::string& name, Kind kind, Step source) {
    Line line;
    line.id = freshIdOf(project, name, "line");
    line.name = name;
    line.kind = kind;
    source.id = freshId(project, "s");
    line.steps.emplace_back(std::move(source));
    const std::string id = line.id;
    auto added = addLine(project, std::move(line));
    if (!added) return added;
    Feed joined;
    joined.line = id;
    return setFeed(*added, step, feed, joined);
}

Result<Project> removeStep(const Project& project, const std::string& step) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    if (at->step == 0)
        return fail(
            ErrorKind::Refused,
            fmt::format(
                "The first step of {} is its source and stays. Replace its map instead, or remove the line.",
                project.lines[at->line]->name));
    Project p = project;
    Line& line = p.lines[at->line].edit();
    const std::string before = line.steps[at->step - 1]->id;
    line.steps.erase(line.steps.begin() + static_cast<std::ptrdiff_t>(at->step));
    repoint(p, p.lines[at->line]->id, step, before);
    dropChanges(p, step);
    return p;
}

Result<Project> moveStep(const Project& project, const std::string& step, const std::string& line,
                         std::size_t index) {
    const auto at = project.findStep(step);
    const auto to = lineIndex(project, line);
    if (!at) return noStep(step);
    if (!to) return noLine(line);
    if (at->step == 0 || index == 0)
        return fail(ErrorKind::Refused, "A line starts with its source. Drop the step behind it.");
    if (project.stepAt(*at).type == kLayerHead && isLayer(*project.lines[at->line]))
        return fail(
            ErrorKind::Refused,
            fmt::format("{} is the head of a layer and stays at the end of its mask. Move the layer instead.",
                        project.lines[at->line]->name));
    if (isLayer(*project.lines[*to])) index = std::min(index, project.lines[*to]->steps.size() - 1);
    Project p = project;
    const Shared<Step> moved = p.lines[at->line]->steps[at->step];
    auto& from = p.lines[at->line].edit().steps;
    from.erase(from.begin() + static_cast<std::ptrdiff_t>(at->step));
    if (at->line == *to && index > at->step) --index;
    if (at->line != *to) repoint(p, p.lines[at->line]->id, step, p.lines[at->line]->steps[at->step - 1]->id);
    auto& into = p.lines[*to].edit().steps;
    if (index > into.size())
        return fail(ErrorKind::Refused, fmt::format("The line {} has no place {}.", line, index));
    into.insert(into.begin() + static_cast<std::ptrdiff_t>(index), moved);
    return checked(std::move(p));
}

Result<Project> setControl(const Project& project, const std::string& look, const std::string& step,
                           const std::string& control, ControlValue value) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    if (!isStorable(value))
        return fail(ErrorKind::Refused,
                    fmt::format("{} of {} cannot be that large, or no number at all. Choose a smaller one.",
                                control, step));
    Project p = project;
    if (look.empty()) {
        stepForWriting(p, *at).controls[control] = std::move(value);
        return p;
    }
    const std::string key = step + "." + control;
    Changes* changes = changesForWriting(p, look, key);
    if (changes == nullptr)
        return fail(ErrorKind::Refused, fmt::format("There is no look {}. Choose another.", look));
    const Step& base = project.stepAt(*at);
    const auto under = base.controls.find(control);
    change(*changes, p.allLooks, key, under != base.controls.end() ? &under->second : nullptr,
           std::move(value));
    return p;
}

Result<Project> resetControl(const Project& project, const std::string& look, const std::string& step,
                             const std::string& control) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    Project p = project;
    const std::string key = step + "." + control;
    if (Changes* changes = look.empty() ? nullptr : changesForWriting(p, look, key); changes != nullptr)
        changes->erase(key);
    else
        stepForWriting(p, *at).controls.erase(control);
    return p;
}

Result<Project> useNewestVersion(const Project& project, const std::string& step) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    Project p = project;
    stepForWriting(p, *at).version = kNewestStepVersion;
    return p;
}

Result<Project> setBypass(const Project& project, const std::string& look, const std::string& step,
                          bool bypass) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    if (at->step == 0)
        return fail(ErrorKind::Refused,
                    "The source of a line cannot be bypassed: nothing would be left to pass on.");
    Project p = project;
    const std::string key = step + ".bypass";
    Changes* changes = look.empty() ? nullptr : changesForWriting(p, look, key);
    if (changes == nullptr) {
        stepForWriting(p, *at).bypass = bypass;
        return p;
    }
    const ControlValue base = project.stepAt(*at).bypass;
    change(*changes, p.allLooks, key, &base, bypass);
    return p;
}

Result<Project> holdInAllLooks(const Project& project, const std::string& look, const std::string& step,
                               const std::string& control) {
    if (!project.findStep(step)) return noStep(step);
    Project p = project;
    Look* own = lookForWriting(p, look);
    if (own == nullptr)
        return fail(ErrorKind::Refused, "Choose a look first: as received nothing is changed.");
    const auto isMeant = meaning(step, control);
    for (const auto& [key, value] : Changes(own->changes))
        if (isMeant(key)) p.allLooks[key] = value;
    for (Shared<Look>& other : p.looks)
        if (std::any_of(other->changes.begin(), other->changes.end(),
                        [&](const auto& c) { return isMeant(c.first); }))
            std::erase_if(other.edit().changes, [&](const auto& c) { return isMeant(c.first); });
    return p;
}

Result<Project> holdInOneLook(const Project& project, const std::string& look, const std::string& step,
                              const std::string& control) {
    if (!project.findStep(step)) return noStep(step);
    Project p = project;
    Look* own = lookForWriting(p, look);
    if (own == nullptr)
        return fail(ErrorKind::Refused, "Choose a look first: as received nothing is changed.");
    const auto isMeant = meaning(step, control);
    for (const auto& [key, value] : p.allLooks)
        if (isMeant(key)) own->changes.try_emplace(key, value);
    std::erase_if(p.allLooks, [&](const auto& c) { return isMeant(c.first); });
    return p;
}

Result<Project> setFeed(const Project& project, const std::string& step, const std::string& feed,
                        std::optional<Feed> value) {
    const auto at = project.findStep(step);
    if (!at) return noStep(step);
    Project p = project;
    if (!value) {
        stepForWriting(p, *at).feeds.erase(feed);
        return p;
    }
    if (!value->constant) {
        const Line* line = project.findLine(value->line);
        if (line == nullptr) return noLine(value->line);
        const auto tap = value->after.empty() ? std::nullopt : project.findStep(value->after);
        if (!value->after.empty() && (!tap || &*project.lines[tap->line] != line))
            return noStep(value->after);
    }
    stepForWriting(p, *at).feeds[feed] = std::move(*value);
    return checked(std::move(p));
}

Result<Project> addLine(const Project& project, Line line) {
    if (project.findLine(line.id) != nullptr)
        return fail(ErrorKind::Refused,
                    fmt::format("The line id {} is taken. Give the line another.", line.id));
    Project p = project;
    p.lines.emplace_back(std::move(line));
    return checked(std::move(p));
}

Result<Project> removeLine(const Project& project, const std::string& line) {
    const auto at = lineIndex(project, line);
    if (!at) return noLine(line);
    for (const auto& other : project.lines)
        for (const auto& step : other->steps)
            for (const auto& [name, feed] : step->feeds)
                if (other->id != line && !feed.constant && feed.line == line)
                    return fail(ErrorKind::Refused,
                                fmt::format("{} is read by {} of {}. Take that input off first.",
                                            project.lines[*at]->name, name, other->name));
    Project p = project;
    for (const auto& step : project.lines[*at]->steps) dropChanges(p, step->id);
    p.lines.erase(p.lines.begin() + static_cast<std::ptrdiff_t>(*at));
    return p;
}

Result<Project> addLook(const Project& project, const std::string& id, const std::string& name,
                        const std::string& copyOf) {
    if (id.empty() || project.findLook(id) != nullptr)
        return fail(ErrorKind::Refused, fmt::format("The look id {} is taken. Give the look another.", id));
    Look look{id, name, {}, {}};
    if (const Look* source = project.findLook(copyOf); source != nullptr) look.changes = source->changes;
    Project p = project;
    p.looks.emplace_back(std::move(look));
    return p;
}

Result<Project> removeLook(const Project& project, const std::string& look) {
    Project p = project;
    const auto removed = std::erase_if(p.looks, [&](const Shared<Look>& l) { return l->id == look; });
    if (removed == 0)
        return fail(ErrorKind::Refused, fmt::format("There is no look {}. Choose another.", look));
    return p;
}

Result<Project> renameLook(const Project& project, const std::string& look, const std::string& name) {
    Project p = project;
    Look* l = lookForWriting(p, look);
    if (l == nullptr || name.empty())
        return fail(ErrorKind::Refused, "A look needs a name. Type one, or keep the old one.");
    l->name = name;
    return p;
}

Result<Project> addMap(const Project& project, const std::string& set, const std::string& file,
                       std::string& role) {
    Project p = project;
    for (auto& s : p.sets) {
        if (s->id != set) continue;
        const std::string wanted = role;
        for (int i = 2; findMap(*s, role) != nullptr; ++i) role = fmt::format("{}-{}", wanted, i);
        s.edit().maps.push_back({role, file, "auto", {}});
        return p;
    }
    return fail(ErrorKind::Refused,
                fmt::format("There is no set {} in the project. Bring one in first.", set));
}

namespace {
Result<Project> changeMap(const Project& project, const std::string& set, const std::string& role,
                          const std::function<void(Map&)>& change) {
    Project p = project;
    for (Shared<TextureSet>& s : p.sets)
        if (s->id == set)
            for (std::size_t m = 0; m < s->maps.size(); ++m)
                if (s->maps[m].role == role) return change(s.edit().maps[m]), p;
    return fail(ErrorKind::Refused, fmt::format("The set {} has no map {}. Choose another.", set, role));
}
}  // namespace

Result<Project> setFile(const Project& project, const std::string& set, const std::string& role,
                        const std::string& file) {
    return changeMap(project, set, role, [&](Map& map) {
        map.file = file;
        map.channels.clear();  // another file's
    });
}

Result<Project> setEncoding(const Project& project, const std::string& set, const std::string& role,
                            const std::string& encoding) {
    return changeMap(project, set, role, [&](Map& map) { map.encoding = encoding; });
}

Result<Project> setMapChannels(const Project& project, const std::string& set, const std::string& role,
                               const std::string& channels) {
    return changeMap(project, set, role, [&](Map& map) { map.channels = channels; });
}

Project setView(const Project& project, ViewSettings view) {
    Project p = project;
    p.view = std::move(view);
    return p;
}

}  // namespace kettle::edits
