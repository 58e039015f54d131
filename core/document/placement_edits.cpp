#include "core/document/placement_edits.h"

#include "core/document/edits.h"
#include "core/document/layers.h"

namespace kettle::edits {
namespace {

bool isOn(const Step& step, const std::string& control) {
    const auto found = step.controls.find(control);
    const bool* on = found != step.controls.end() ? std::get_if<bool>(&found->second) : nullptr;
    return on != nullptr && *on;
}

/// Visits every step that reads a map of `set`, until `visit` is done.
template <class Visit>
void ofSet(const Project& project, const std::string& set, Visit&& visit) {
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (step->set == set && !set.empty()) visit(*step, *line);
}

}  // namespace

std::vector<std::string> lyingTogether(const Project& project, const std::string& look,
                                       const std::string& step, const std::string& apart) {
    const auto at = project.findStep(step);
    const Look* shown = project.findLook(look);
    if (!at || isOn(withLook(project, project.stepAt(*at), shown), apart)) return {step};
    // In a layer those of the layer: it lays the set in its own way.
    const auto layers = layersOfLines(project);
    const auto layerOfLine = [&](const Line& line) {
        const auto found = layers.find(line.id);
        return found != layers.end() ? found->second : std::string();
    };
    const std::string layer = layerOfLine(*project.lines[at->line]);
    std::vector<std::string> together;
    ofSet(project, project.stepAt(*at).set, [&](const Step& other, const Line& line) {
        if (layerOfLine(line) == layer && !isOn(withLook(project, other, shown), apart))
            together.push_back(other.id);
    });
    return together.empty() ? std::vector{step} : together;
}

Result<Project> setControls(const Project& project, const std::string& look,
                            const std::vector<std::string>& steps, const std::string& control,
                            const ControlValue& value) {
    Result<Project> next = project;
    for (const std::string& step : steps)
        if (next) next = setControl(*next, look, step, control, value);
    return next;
}

Result<Project> resetControls(const Project& project, const std::string& look,
                              const std::vector<std::string>& steps, const std::string& control) {
    Result<Project> next = project;
    for (const std::string& step : steps)
        if (next) next = resetControl(*next, look, step, control);
    return next;
}

Result<Project> shareFeed(const Project& project, const std::string& look, const std::string& step,
                          const std::string& feed, const std::string& apart) {
    Result<Project> next = project;
    const auto at = project.findStep(step);
    if (!at) return next;
    const auto& feeds = project.stepAt(*at).feeds;
    const auto joined = feeds.find(feed);
    for (const std::string& other : lyingTogether(project, look, step, apart))
        if (next && other != step)
            next = setFeed(*next, other, feed,
                           joined != feeds.end() ? std::optional(joined->second) : std::nullopt);
    return next;
}

Step mapStep(const Project& project, const std::string& set, const std::string& role,
             const std::vector<std::string>& controls, const std::vector<std::string>& feeds,
             const std::string& apart) {
    Step made;
    made.type = "map";
    made.set = set;
    made.role = role;
    const Step* like = nullptr;
    const auto layers = layersOfLines(project);
    ofSet(project, set, [&](const Step& other, const Line& line) {
        if (!layers.contains(line.id) && like == nullptr && other.type == made.type && !isOn(other, apart))
            like = &other;
    });
    if (like == nullptr) return made;
    for (const std::string& control : controls)
        if (const auto found = like->controls.find(control); found != like->controls.end())
            made.controls[control] = found->second;
    for (const std::string& feed : feeds)
        if (const auto found = like->feeds.find(feed); found != like->feeds.end())
            made.feeds[feed] = found->second;
    return made;
}

}  // namespace kettle::edits
