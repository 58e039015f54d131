// The session's layers: adding, covering, masks, copies, their order, and how they are looked at.
#include <QFileInfo>
#include <algorithm>
#include <utility>

#include "app/session/session.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/exchange/bring_project.h"
#include "core/exchange/set_channels.h"
#include "core/steps/blend.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

QString nameOfLine(const Project& project, const std::string& id) {
    const Line* line = project.findLine(id);
    return line != nullptr ? QString::fromStdString(line->name) : QString();
}

/// What a channel is usually covered with, before anything is chosen, and the mode.
Step usualFill(const Line& line) {
    const ChannelSpec* channel = findChannel(line.channel);
    const bool isOwn = channel != nullptr && line.kind == Kind::Scalar;
    return plainSource(line.kind, isOwn ? channel->neutral : Vec3{0.5f, 0.5f, 0.5f});
}

/// A layer's own line for what a set lies in keeps how the set lies in this layer.
Step likeTheOthers(const Project& project, const std::string& layer, Step source) {
    for (const FillPlace& fill : fillsOf(project, layer)) {
        const Line* own = ownLineOf(project, *fill.step);
        if (own == nullptr || own->steps.front()->type != source.type ||
            own->steps.front()->set != source.set)
            continue;
        for (const auto& [name, value] : own->steps.front()->controls)
            if (name != kMapComponent.id && name != kGreen.id) source.controls.try_emplace(name, value);
        for (const auto& [name, joined] : own->steps.front()->feeds) source.feeds.try_emplace(name, joined);
        break;
    }
    return source;
}

}  // namespace

const Line* Session::selectedLayer() const {
    const Line* line = selectedLine();
    return line != nullptr && isLayer(*line) && headOf(*line).id == m_step ? line : nullptr;
}

std::vector<std::string> Session::selectedLayers() const {
    std::vector<std::string> chosen;
    const Line* first = selectedLayer();
    if (first == nullptr) return chosen;
    for (const Line* layer : layersOf(project(), first->surface))
        if (isSelected(headOf(*layer).id)) chosen.push_back(layer->id);
    return chosen;
}

edits::LayerWish Session::layerWish(const QString& name) const {
    edits::LayerWish wish;
    wish.name = name.toStdString();
    const Line* line = selectedLine();
    if (line != nullptr && project().findSurface(line->surface) != nullptr) wish.surface = line->surface;
    if (line == nullptr || line->channel.empty())
        if (wish.surface.empty() && !project().surfaces.empty())
            wish.surface = project().surfaces.front()->id;
    const auto order = layersOf(project(), wish.surface);
    const auto place = project().findStep(m_step);
    if (line == nullptr || !place || order.empty()) return wish;
    // Behind the chosen step: under the first layer whose fill stands further on its line.
    std::string over;
    if (isLayer(*line)) over = line->id;
    // A source is where choosing begins and says nothing: on top of all.
    if (!line->channel.empty() && place->step > 0) {
        over = layerOf(project().stepAt(*place));
        for (std::size_t i = place->step + 1; over.empty() && i < line->steps.size(); ++i)
            wish.below = wish.below.empty() ? layerOf(*line->steps[i]) : wish.below;
    }
    for (std::size_t i = 0; !over.empty() && i + 1 < order.size(); ++i)
        if (order[i]->id == over) wish.below = order[i + 1]->id;
    return wish;
}

Result<Project> Session::behindChosen(Project next, const std::string& layer) const {
    const auto chosen = next.findStep(m_step);
    if (!chosen || chosen->step == 0 || !layerOf(next.stepAt(*chosen)).empty()) return next;
    const Line& line = *next.lines[chosen->line];
    for (const FillPlace& fill : fillsOf(next, layer))
        if (fill.line == &line)
            if (auto moved = edits::moveFills(next, layer, {{line.id, chosen->step + 1}})) return moved;
    return next;
}

bool Session::takeLayer(const Target& to, Result<Project> next, const QString& name,
                        const std::string& layer) {
    if (!applyTo(to, std::move(next), name)) return false;
    if (const Line* line = project().findLine(layer)) selectStep(headOf(*line).id);
    return true;
}

void Session::addLayer() {
    const Target to = target();
    const edits::LayerWish wish =
        layerWish(tr("Layer %1").arg(layersOf(project(), layerWish({}).surface).size() + 1));
    std::string id, fill;
    auto next = edits::addLayer(to.project, to.look, wish, id);
    const Line* base = to.project.lineOfChannel(channel::kBaseColour, wish.surface);
    if (next && base != nullptr) next = edits::cover(*next, to.look, id, base->id, usualFill(*base), fill);
    if (next) next = behindChosen(std::move(*next), id);
    takeLayer(to, std::move(next), tr("Add a layer"), id);
}

void Session::addLayerOf(const std::string& set) {
    const TextureSet* from = project().findSet(set);
    if (from == nullptr) return;
    const Target to = target();
    std::string id;
    std::vector<std::string> lacking;
    auto next = edits::addLayer(to.project, to.look, layerWish(QString::fromStdString(from->name)), id);
    if (next) next = kettle::fillFromSet(*next, to.look, id, set, lacking);
    if (next) next = behindChosen(std::move(*next), id);
    takeLayer(to, std::move(next), tr("Layer of %1").arg(QString::fromStdString(from->name)), id);
}

void Session::addStamps(const QStringList& files) {
    std::vector<std::string> paths, ids;
    for (const QString& file : files) paths.push_back(file.toStdString());
    const Target to = target();
    auto next = kettle::addStamps(to.project, to.look, paths, layerWish(tr("Stamp")), resources(), ids);
    if (takeLayer(to, std::move(next),
                  files.size() == 1 ? tr("Add a stamp") : tr("Add %1 stamps").arg(files.size()),
                  ids.empty() ? std::string() : ids.back()))
        Q_EMIT told(
            tr("%1 lies where its alpha says; colours are read apart from alpha, whether the file keeps them "
               "multiplied or not.")
                .arg(QFileInfo(files.front()).fileName()),
            false);
}

void Session::addLayerOfPlan(const BringPlan& plan) {
    std::vector<std::string> notes, lacking, ids;
    const Target to = target();
    auto next = bringInto(to.project, plan, notes);
    if (!next) return static_cast<void>(apply(std::move(next), {}));
    std::vector<std::string> sets;
    for (const auto& set : next->sets)
        if (to.project.findSet(set->id) == nullptr) sets.push_back(set->id);
    edits::LayerWish wish = layerWish({});
    for (const std::string& set : sets) {
        std::string id;
        wish.name = next->findSet(set)->name;
        next = edits::addLayer(*next, to.look, wish, id);
        if (next) next = kettle::fillFromSet(*next, to.look, id, set, lacking);
        if (!next) break;
        ids.push_back(id);
    }
    takeLayer(to, std::move(next), tr("Lay over"), ids.empty() ? std::string() : ids.back());
}

void Session::layerFromSelection() {
    const auto steps = selection();
    const Target to = target();
    std::string id;
    const auto shown = shownStep(m_step);
    const StepSpec* spec = shown ? this->steps().find(shown->type) : nullptr;
    const QString name = spec != nullptr ? QString::fromStdString(spec->name) : tr("Layer");
    edits::LayerWish wish = layerWish(name);
    wish.below.clear();
    takeLayer(to, edits::layerFromSteps(to.project, to.look, steps, wish, id), tr("Layer from these steps"),
              id);
}

void Session::setCovered(const std::string& layer, const std::string& lineId, bool covered) {
    const Target to = target();
    const Line* line = to.project.findLine(lineId);
    if (line == nullptr) return;
    const QString name = QString::fromStdString(line->name);
    for (const FillPlace& fill : fillsOf(to.project, layer)) {
        if (fill.line->id != lineId) continue;
        if (!covered) apply(edits::uncover(project(), fill.step->id), tr("Uncover %1").arg(name));
        return;
    }
    if (!covered) return;
    // What the layer's set has for the channel, else what is usual there.
    Step source = usualFill(*line);
    bool isUsual = true;
    for (const FillPlace& fill : fillsOf(to.project, layer))
        if (const Line* own = ownLineOf(to.project, *fill.step); own != nullptr && isUsual)
            for (const SetChannel& has : channelsOfSet(to.project, own->steps.front()->set))
                if (has.channel == line->channel && !has.isGloss)
                    source = likeTheOthers(to.project, layer, has.source), isUsual = false;
    std::string made;
    auto next = edits::cover(to.project, to.look, layer, lineId, source, made);
    if (next && isUsual && line->kind == Kind::Normal)
        next = edits::setControl(*next, {}, made, kNormals.id, kNormals(NormalFill::Flatten).second);
    applyTo(to, std::move(next), tr("Cover %1").arg(name));
}

void Session::feedFromNew(const std::string& step, const std::string& feed, const std::string& name,
                          Kind kind, Step source) {
    const auto place = project().findStep(step);
    if (!place) return;
    const std::string& layer = layerOf(project().stepAt(*place));
    const QString what = tr("New %1").arg(QString::fromStdString(name));
    if (layer.empty() || feed != kOver.id)
        return static_cast<void>(applyFeed(
            edits::feedFromNewLine(project(), step, feed, name, kind, std::move(source)), step, feed, what));
    source = likeTheOthers(project(), layer, std::move(source));
    apply(edits::setFillSource(project(), step, std::move(source)), what);
}

void Session::feedFromRampedCopy(const std::string& step, const std::string& feed) {
    apply(edits::feedFromRampedCopy(project(), step, feed), tr("Ramped copy"));
}

void Session::joinFeed(const std::string& step, const std::string& feed, std::optional<Feed> value) {
    const auto place = project().findStep(step);
    if (!place) return;
    const Line* own = feed == kOver.id ? ownLineOf(project(), project().stepAt(*place)) : nullptr;
    // A constant of a fill is a source of its own line, so that looks can change it.
    if (feed == kOver.id && value && value->constant && !layerOf(project().stepAt(*place)).empty())
        return feedFromNew(step, feed, project().lines[place->line]->name, project().lines[place->line]->kind,
                           usualFill(*project().lines[place->line]));
    auto next = edits::setFeed(project(), step, feed, std::move(value));
    if (next && own != nullptr) next = edits::removeLine(*next, own->id);
    applyFeed(std::move(next), step, feed, tr("Feed %1").arg(QString::fromStdString(feed)));
}

void Session::fillFromSet(const std::string& layer, const std::string& set) {
    const Target to = target();
    std::vector<std::string> lacking;
    const TextureSet* from = to.project.findSet(set);
    if (!applyTo(to, kettle::fillFromSet(to.project, to.look, layer, set, lacking), tr("Fill from a set")) ||
        lacking.empty() || from == nullptr)
        return;
    QStringList names;
    for (const std::string& name : lacking) names << QString::fromStdString(name).toLower();
    Q_EMIT told(tr("%1 has nothing for %2; the layer leaves that as it was.")
                    .arg(QString::fromStdString(from->name), names.join(QStringLiteral(", "))),
                false);
}

void Session::setMaskSource(const std::string& layer, Step source) {
    const Line* line = project().findLine(layer);
    if (line == nullptr) return;
    const std::string id = line->steps.front()->id;
    source = likeTheOthers(project(), layer, std::move(source));
    if (apply(edits::replaceSource(project(), layer, std::move(source)),
              tr("Mask of %1").arg(nameOfLine(project(), layer))))
        selectStep(id);
}

namespace {

/// A source that reads a picture as a mask; the picture becomes a set of `project`.
Result<Step> maskSource(Project& project, const std::filesystem::path& picture) {
    const auto reading = readingFor(picture, PicturePurpose::Mask);
    if (!reading) return fail(reading.error());
    const TextureSet set = setOfPicture(project, picture, "mask");
    project.sets.emplace_back(set);
    Step source;
    source.type = kMap;
    source.set = set.id;
    source.role = "mask";
    setReading(source, *reading);
    return source;
}

}  // namespace

void Session::setMaskFile(const std::string& layer, const QString& file) {
    Project next = project();
    auto source = maskSource(next, file.toStdString());
    if (!source) return static_cast<void>(apply(fail(source.error()), {}));
    if (apply(edits::replaceSource(next, layer, std::move(*source)),
              tr("Mask of %1").arg(nameOfLine(project(), layer))))
        selectStep(project().findLine(layer)->steps.front()->id);
}

void Session::joinMaskFile(const std::string& step, const QString& file) {
    Target to = target();
    const auto place = to.project.findStep(step);
    if (!place) return;
    if (const Line& line = *to.project.lines[place->line]; isLayer(line) && headOf(line).id == step) {
        setMaskFile(line.id, file);
        return selectStep(step);
    }
    auto source = maskSource(to.project, file.toStdString());
    if (!source) return static_cast<void>(apply(fail(source.error()), {}));
    const std::string name = to.project.sets.back()->name;
    auto next = edits::feedFromNewLine(to.project, step, "mask", name, Kind::Scalar, std::move(*source));
    if (applyTo(to, std::move(next), tr("Mask of %1").arg(QFileInfo(file).fileName()))) selectStep(step);
}

void Session::renameLayer(const std::string& layer, const QString& name) {
    const Line* line = project().findLine(layer);
    if (line == nullptr || QString::fromStdString(line->name) == name) return;
    apply(edits::renameLayer(project(), layer, name.trimmed().toStdString()), tr("Rename the layer"));
}

void Session::moveLayers(int way) {
    auto chosen = selectedLayers();
    if (way > 0) std::reverse(chosen.begin(), chosen.end());
    const std::uint64_t gesture = newGesture();
    for (const std::string& layer : chosen)
        if (!apply(edits::moveLayer(project(), layer, way), tr("Move %1").arg(nameOfLine(project(), layer)),
                   gesture))
            return;
}

void Session::moveFills(const std::string& layer, const std::map<std::string, std::size_t>& targets) {
    apply(edits::moveFills(project(), layer, targets), tr("Move %1").arg(nameOfLine(project(), layer)));
}

void Session::removeLayers() {
    const auto chosen = selectedLayers();
    if (chosen.empty()) return;
    const Line& first = *project().findLine(chosen.front());
    const auto order = layersOf(project(), first.surface);
    std::string next;
    for (const Line* layer : order)
        if (std::find(chosen.begin(), chosen.end(), layer->id) == chosen.end()) next = headOf(*layer).id;
    if (next.empty())
        if (const Line* base = project().lineOfChannel(channel::kBaseColour, first.surface); base != nullptr)
            next = base->steps.back()->id;
    const std::uint64_t gesture = newGesture();
    const QString name = chosen.size() == 1 ? tr("Remove %1").arg(nameOfLine(project(), chosen.front()))
                                            : tr("Remove %1 layers").arg(chosen.size());
    for (const std::string& layer : chosen)
        if (!apply(edits::removeLayer(project(), layer), name, gesture)) return;
    const std::string left = project().findStep(next) ? next : std::string();
    selectStep(left);
}

QString Session::copyLayers() const {
    const auto copy = edits::copyLayers(project(), m_look, selectedLayers());
    return copy ? QString::fromStdString(projectToJson(*copy)) : QString();
}

bool Session::pasteLayers(const QString& text) {
    if (!text.contains(QLatin1String(kProjectFormat))) return false;
    const auto copy = projectFromJson(text.toStdString(), tr("The clipboard").toStdString());
    if (!copy) {
        Q_EMIT told(QString::fromStdString(copy.error().sentence), true);
        return true;
    }
    const Target to = target();
    std::vector<std::string> ids, notes;
    auto next = edits::pasteLayers(to.project, to.look, *copy, layerWish({}), ids, notes);
    if (!takeLayer(to, std::move(next), tr("Paste"), ids.empty() ? std::string() : ids.back())) return true;
    for (const std::string& id : ids)
        if (const Line* line = project().findLine(id)) m_beside.insert(headOf(*line).id);
    m_beside.erase(m_step);
    Q_EMIT selectionChanged();
    if (!notes.empty()) tellNotes(tr("Pasted, but not all of it."), notes);
    return true;
}

void Session::duplicateLayers() {
    pasteLayers(copyLayers());
}

void Session::viewLayer(LayerView how, const std::string& layer) {
    const bool isSame = how == m_layerView && layer == m_viewedLayer;
    const bool isStepping = how == LayerView::UpTo || how == LayerView::Below;
    const LayerView next = isSame && !isStepping ? LayerView::All : how;
    if (next == m_layerView && layer == m_viewedLayer) return;
    m_layerView = next;
    m_viewedLayer = next == LayerView::All ? std::string() : layer;
    Q_EMIT viewChanged();
}

void Session::stepThroughLayers(int way) {
    const auto order = layersOf(project(), layerWish({}).surface);
    // Layers that are off change nothing and are left out; below all is the bare surface.
    std::vector<std::string> on;
    for (const Line* layer : order)
        if (const auto head = shownStep(headOf(*layer).id); head && !head->bypass) on.push_back(layer->id);
    if (on.empty()) return;
    constexpr std::ptrdiff_t kBare = -1;
    const auto count = static_cast<std::ptrdiff_t>(on.size());
    std::ptrdiff_t next = way > 0 ? kBare : count - 1;
    if (m_layerView == LayerView::Below) next = kBare + way;
    if (m_layerView == LayerView::UpTo)
        next = std::find(on.begin(), on.end(), m_viewedLayer) - on.begin() + way;
    next = std::clamp(next, kBare, count - 1);
    if (next == kBare) return viewLayer(LayerView::Below, on.front());
    const std::string layer = on[static_cast<std::size_t>(next)];
    selectStep(headOf(*project().findLine(layer)).id);
    viewLayer(LayerView::UpTo, layer);
}

void Session::setNote(const std::string& id, const QString& note) {
    Project next = project();
    const std::string words = note.trimmed().toStdString();
    for (auto& look : next.looks)
        if (look->id == id) look.edit().note = words;
    for (auto& line : next.lines) {
        if (line->id == id) line.edit().note = words;
        for (std::size_t s = 0; s < line->steps.size(); ++s)
            if (line->steps[s]->id == id) line.edit().steps[s].edit().note = words;
    }
    apply(std::move(next), words.empty() ? tr("Take a note off") : tr("Note"));
}

}  // namespace kettle
