#include "core/steps/laying_over.h"

#include <fmt/format.h>

#include <utility>
#include <vector>

#include "core/document/edits.h"
#include "core/document/sources.h"
#include "core/steps/blend.h"
#include "core/steps/ramp_remap.h"

namespace kettle {

Step newSource(const StepSpec& spec, const Line& line, std::size_t index) {
    Step source;
    source.type = spec.type;
    if (index == 0 || index > line.steps.size() || line.kind != Kind::Colour) return source;
    for (const FeedSpec& feed : spec.feeds)
        if (feed.id == kOf.id) {
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
    copy.type = kBlend;
    copy.controls = {kBlendMode(BlendMode::Normal), kAmount(1)};
    copy.feeds[kOver.id].line = line.id;
    copy.feeds[kOver.id].after = line.steps[place->step - 1]->id;
    ramp.type = ramp_remap::kType;
    ramp.controls = {ramp_remap::kRamp(Ramp{{{0.2f, {0, 0, 0}}, {0.8f, {1, 1, 1}}}})};
    // A line begins with a source; the copy covers it wholly.
    source.type = line.kind == Kind::Colour ? kColourSource : kValueSource;
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
    blend.type = isNormal ? kStackNormals : kBlend;
    if (over.mode && !isNormal) put(blend.controls, kBlendMode(*over.mode));
    if (over.amount) put(blend.controls, kAmount(*over.amount));
    const std::string feed = isNormal ? kNormalDetail.id : kOver.id;
    auto next = insertStep(project, look, line, index, std::move(blend));
    if (!next) return next;
    if (const auto* source = std::get_if<NewSource>(&over.what))
        return feedFromNewLine(*next, step, feed, source->name, onto->kind, source->step);
    if (const auto* joined = std::get_if<Feed>(&over.what)) return setFeed(*next, step, feed, *joined);
    return feedFromRampedCopy(*next, step, feed);
}

}  // namespace kettle
