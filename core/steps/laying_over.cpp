#include "core/steps/laying_over.h"

#include <fmt/format.h>

#include <utility>
#include <vector>

#include "core/document/edits.h"

namespace kettle {

Step newSource(const StepSpec& spec, const Line& line, std::size_t index) {
    Step source;
    source.type = spec.type;
    if (index == 0 || index > line.steps.size() || line.kind != Kind::Colour) return source;
    for (const FeedSpec& feed : spec.feeds)
        if (feed.id == "of") {
            source.feeds[feed.id].line = line.id;
            source.feeds[feed.id].after = line.steps[index - 1]->id;
        }
    return source;
}

Result<Project> edits::feedFromRampedCopy(const Project& project, const std::string& step,
                                          const std::string& feed) {
    const auto place = project.findStep(step);
    if (!place || place->step == 0)
        return fail(ErrorKind::Refused, "Nothing comes in there that could be copied.");
    const Line& line = *project.lines[place->line];
    Step copy, ramp, source;
    copy.type = "blend";
    copy.controls["mode"] = std::string("normal");
    copy.controls["amount"] = 1.0;
    copy.feeds["over"].line = line.id;
    copy.feeds["over"].after = line.steps[place->step - 1]->id;
    ramp.type = "ramp-remap";
    ramp.controls["ramp"] = Ramp{{{0.2f, {0, 0, 0}}, {0.8f, {1, 1, 1}}}};
    // A line begins with a source; the copy covers it wholly.
    source.type = line.kind == Kind::Colour ? "colour" : "value";
    auto next = feedFromNewLine(project, step, feed, fmt::format("{}, ramped", line.name), line.kind, source);
    if (!next) return next;
    const std::string joined = next->stepAt(*next->findStep(step)).feeds.at(feed).line;
    std::vector<std::string> ids;
    return pasteSteps(*next, {}, joined, 1, {copy, ramp}, ids);
}

Result<Project> edits::layOver(const Project& project, const std::string& look, const std::string& line,
                               std::size_t index, const LaidOver& over, std::string& step) {
    const Line* onto = project.findLine(line);
    const bool isNormal = onto != nullptr && onto->kind == Kind::Normal;
    Step blend;
    blend.id = step = freshId(project, "s");
    blend.type = isNormal ? "stack-normals" : "blend";
    if (!over.mode.empty() && !isNormal) blend.controls["mode"] = over.mode;
    if (over.amount) blend.controls["amount"] = *over.amount;
    const std::string feed = isNormal ? "detail" : "over";
    auto next = insertStep(project, look, line, index, std::move(blend));
    if (!next) return next;
    if (const auto* source = std::get_if<NewSource>(&over.what))
        return feedFromNewLine(*next, step, feed, source->name, onto->kind, source->step);
    if (const auto* joined = std::get_if<Feed>(&over.what)) return setFeed(*next, step, feed, *joined);
    return feedFromRampedCopy(*next, step, feed);
}

}  // namespace kettle
