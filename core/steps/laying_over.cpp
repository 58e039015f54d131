#include "core/steps/laying_over.h"

#include <utility>

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
    return setFeed(*next, step, feed, std::get<Feed>(over.what));
}

}  // namespace kettle
