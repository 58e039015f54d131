// Patterns laid over a line, and lines that push the surface out.
#include "app/session/session.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/layers.h"
#include "core/document/sources.h"
#include "core/steps/blend.h"

namespace kettle {

void Session::blendOver(const std::string& line, std::size_t index, const LaidOver& over,
                        const QString& name) {
    const Target to = target();
    std::string step;
    if (applyTo(to, edits::layOver(to.project, to.look, line, index, over, step), name)) selectStep(step);
}

bool Session::canPushOut(const std::string& step) const {
    const auto place = project().findStep(step);
    if (!place) return false;
    const Line& line = *project().lines[place->line];
    return line.kind != Kind::Normal && line.channel != channel::kHeight && !isLayer(line);
}

void Session::pushOutBy(const std::string& step) {
    const auto place = project().findStep(step);
    if (!place || !canPushOut(step)) return;
    const Line& line = *project().lines[place->line];
    const ChannelSpec& channel = *findChannel("height");
    Feed by;
    by.line = line.id;
    if (place->step + 1 < line.steps.size()) by.after = step;
    if (line.kind == Kind::Colour) by.component = "luminance";
    const Target to = target();
    Result<Project> next = to.project;
    std::string surface = line.surface;
    const Line* height = next->lineOfChannel(channel::kHeight, surface);
    if (height == nullptr && surface.empty() && !next->surfaces.empty()) surface = next->surfaces.front()->id;
    if (height == nullptr) height = next->lineOfChannel(channel::kHeight, surface);
    std::string heightId = height != nullptr ? height->id : std::string(), end;
    std::size_t index = height != nullptr ? height->steps.size() : 1;
    if (height == nullptr) {
        Line made;
        made.id = heightId = edits::freshId(*next, "height");
        made.name = channel.name, made.kind = channel.kind, made.channel = channel::kHeight,
        made.surface = surface;
        Step first = plainSource(channel.kind, channel.neutral);
        first.id = edits::freshId(*next, "height-value");
        made.steps.emplace_back(std::move(first));
        next = edits::addLine(*next, std::move(made));
    }
    Step over;
    over.id = end = edits::freshId(*next, "pushed");
    over.type = kBlend;
    if (next) next = edits::insertStep(*next, to.look, heightId, index, std::move(over));
    if (next) next = edits::setFeed(*next, end, kOver.id, by);
    if (next && next->view.displacement == 0) {
        ViewSettings view = next->view;
        view.displacement = 0.3;  // cm: deep enough to be seen on what a hand can hold
        next = edits::setView(*next, view);
    }
    if (applyTo(to, std::move(next), tr("Push out by %1").arg(QString::fromStdString(line.name))))
        selectStep(end);
}

}  // namespace kettle
