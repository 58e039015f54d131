#include "core/analysis/effects.h"

#include <algorithm>
#include <cstring>
#include <unordered_set>

#include "core/document/layers.h"
#include "core/document/shown_steps.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Equal, but for what is lost on the way to the numbers of a display and back; also if neither is a number.
bool isSame(float x, float y) {
    constexpr float kLost = 2e-6f;
    return x == y || std::fabs(x - y) <= kLost * std::max(1.0f, std::fabs(x)) ||
           (std::isnan(x) && std::isnan(y));
}

bool equalPlanes(const Sampled& s, std::size_t a, std::size_t b, int components) {
    for (std::size_t c = 0; c < static_cast<std::size_t>(components); ++c) {
        const float *x = s.plane(a, c), *y = s.plane(b, c);
        if (x == y) continue;
        for (std::size_t i = 0; i < s.count; ++i)
            if (!isSame(x[i], y[i])) return false;
    }
    return true;
}

bool isJoined(const Step& step, const char* feed) {
    const auto at = step.feeds.find(feed);
    return at != step.feeds.end() && !at->second.constant;
}

}  // namespace

EffectWants::EffectWants(const Project& project, const Network& network, const Look* look,
                         const Catalogue& steps, std::vector<Want>& wants, const Which& which) {
    const auto add = [&](Want want) {
        wants.push_back(std::move(want));
        return wants.size() - 1;
    };
    ShownSteps shown(project, look);
    const Node end = std::min(network.size(), which.first + std::min(which.count, network.size()));
    for (Node node = which.first; node < end && !which.cancel.isCancelled(); ++node) {
        const Line& line = network.line(node);
        const Step& step = shown.of(network.step(node));
        const StepSpec* spec = steps.find(step.type);
        if (spec == nullptr || step.bypass || !spec->fits(line.kind)) continue;
        // The fills of a layer that is off are off with it.
        if (const Node head = network.endOf(layerOf(step));
            head != kNoNode && shown.of(network.step(head)).bypass)
            continue;
        Asked asked;
        asked.step = step.id;
        if (spec->noEffect) asked.declared = spec->noEffect(StepView(*spec, step, line.kind));
        asked.components = line.kind == Kind::Scalar ? 1 : 4;
        // A source takes nothing in, and a layer may lie everywhere: all that can be said of them is what
        // they declare.
        const Node before = network.before(node);
        asked.changesAnyway = spec->source || before == kNoNode || spec->editor == StepEditor::Layer;
        if (!asked.changesAnyway) {
            asked.before = add({line.id, network.step(before).id, asked.components});
            asked.after = add({line.id, step.id, asked.components});
            if (isJoined(step, "mask"))
                asked.mask = static_cast<int>(add({line.id, step.id, 1, false, "mask"}));
            for (const FeedSpec& feed : spec->feeds)
                if (feed.isMain && isJoined(step, feed.id.c_str()))
                    asked.over = static_cast<int>(
                        add({line.id, step.id, line.kind == Kind::Scalar ? 1 : 3, false, feed.id}));
        }
        m_asked.push_back(std::move(asked));
    }
}

std::vector<std::pair<std::string, std::string>> EffectWants::reasons(const Sampled& s) const {
    std::vector<std::pair<std::string, std::string>> found;
    for (const Asked& a : m_asked) {
        if (!a.declared.empty()) {
            found.emplace_back(a.step, a.declared);
            continue;
        }
        if (a.changesAnyway) continue;
        if (!s.sameRegisters(a.before, a.after) && !equalPlanes(s, a.before, a.after, a.components)) continue;
        const auto blackMask = [&] {
            const float* mask = s.plane(static_cast<std::size_t>(a.mask), 0);
            return std::all_of(mask, mask + s.count, [](float x) { return x == 0; });
        };
        if (a.mask >= 0 && s.count > 0 && blackMask())
            found.emplace_back(a.step, "the mask is black everywhere");
        else if (a.over >= 0 &&
                 equalPlanes(s, a.before, static_cast<std::size_t>(a.over), std::min(a.components, 3)))
            found.emplace_back(a.step, "both inputs are equal");
        else
            found.emplace_back(a.step, "nothing that comes in is changed by it");
    }
    return found;
}

bool WorkedSteps::isAtWork(const Line& line, const Step& step, const Catalogue& steps) const {
    const StepSpec* spec = steps.find(step.type);
    if (spec == nullptr || spec->source || step.bypass) return false;
    if (!m_bypassed.empty() && m_bypassed.contains(layerOf(step))) return false;
    const StepView view(*spec, step, line.kind);
    const bool wasBroughtIn = spec->isAsReceived && spec->isAsReceived(view);
    return !wasBroughtIn && (!spec->noEffect || spec->noEffect(view).empty());
}

int WorkedSteps::countOf(const Line& line, const Line* before, std::vector<bool>& works,
                         const Catalogue& steps) const {
    works.resize(line.steps.size());
    int count = 0;
    for (std::size_t i = 0; i < line.steps.size(); ++i) {
        const bool isKnown =
            before != nullptr && i < before->steps.size() && before->steps[i].sameAs(line.steps[i]);
        if (!isKnown) works[i] = isAtWork(line, *line.steps[i], steps);
        count += works[i] ? 1 : 0;
    }
    return count;
}

int WorkedSteps::of(const Project& project, const Catalogue& steps) {
    std::unordered_set<std::string> bypassed;  // layers
    for (const auto& line : project.lines)
        if (isLayer(*line) && headOf(*line).bypass) bypassed.insert(line->id);
    if (bypassed != m_bypassed) m_lines.clear();
    m_bypassed = std::move(bypassed);
    std::size_t at = 0;
    int count = 0;
    for (const auto& line : project.lines) {
        if (line->channel.empty()) continue;
        const bool isNew = at == m_lines.size();
        if (isNew) m_lines.emplace_back();
        Known& known = m_lines[at++];
        if (isNew || !known.line.sameAs(line)) {
            const bool isOfSameKind = !isNew && known.line->kind == line->kind;
            known.count = countOf(*line, isOfSameKind ? &*known.line : nullptr, known.works, steps);
            known.line = line;
        }
        count += known.count;
    }
    m_lines.resize(at);
    return count;
}

int workedSteps(const Project& project, const Catalogue& steps) {
    return WorkedSteps().of(project, steps);
}

std::map<std::string, std::string> stepsWithoutEffect(const Project& project, const Look* look,
                                                      const Resources& resources, const PointSet& points,
                                                      const CancelToken& cancel) {
    constexpr std::size_t kAtATime = 400;
    const Network network(project);
    std::map<std::string, std::string> found;
    for (std::size_t first = 0; first < network.size() && !cancel.isCancelled(); first += kAtATime) {
        std::vector<Want> wants;
        const EffectWants effects(project, network, look, resources.steps(), wants,
                                  {first, kAtATime, cancel});
        const Sampled sampled = sampleWants(project, look, wants, resources, points, cancel, &network);
        if (cancel.isCancelled()) break;
        for (auto& reason : effects.reasons(sampled)) found.insert(std::move(reason));
    }
    return found;
}

}  // namespace kettle
