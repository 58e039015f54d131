#include "app/session/session.h"

#include <QDir>
#include <QFileInfo>
#include <utility>

#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/placement_edits.h"
#include "core/engine/compile.h"
#include "core/steps/recipe_steps.h"

namespace kettle {
namespace {
constexpr const char* kOwnPlace = "own-place";  ///< the Map step's switch
}  // namespace

Session::Session(QObject* parent) : QObject(parent) {
    // By the same store as every project's: what is read for the first one is read once.
    const Resources begun(QDir::currentPath().toStdString());
    m_resources = std::make_unique<Resources>(begun.folder(), m_store, begun.colours());
    connect(&m_reader, &BringReader::progress, this, [this](int done, int all) {
        Q_EMIT progress(
            tr("Reading the maps of %1: %2 of %3").arg(QFileInfo(m_bringing).fileName()).arg(done).arg(all));
    });
    connect(&m_reader, &BringReader::finished, this, [this](const auto& plan) { broughtIn(*plan); });
    connect(&m_pictureReader, &PictureReader::finished, this,
            [this](const QString& file, const auto& picture) { tookPicture(file, *picture); });
    connect(&m_watch, &SourceWatch::changed, this, &Session::sourcesChanged);
    connect(&m_watch, &SourceWatch::changed, this, &Session::mapsArrived);
    connect(&m_watch, &SourceWatch::changingChanged, this, &Session::readingMaps);
    m_store->onArrival([this](ImageStore::Arrived arrived) {
        QMetaObject::invokeMethod(this, [this, arrived] {
            const bool begins =
                arrived.all > 0 && m_arrived.all == 0;  // nothing that was not asked for is there
            m_arrived = arrived;
            Q_EMIT readingMaps();
            if (!begins) Q_EMIT mapsArrived();
        });
    });
}

Session::~Session() {
    m_store->onArrival({});
}

SourceWatch::Files Session::sourceFiles() const {
    SourceWatch::Files files;
    for (const auto& set : project().sets)
        for (const Map& map : set->maps) files.push_back(m_resources->fileOf(*set, map));
    for (const std::string* own : {&project().view.model, &project().view.environment})
        if (isFile(*own)) files.push_back(m_resources->folder() / *own);
    return files;
}

bool Session::apply(Result<Project> next, const QString& name, std::uint64_t gesture) {
    if (!next) {
        Q_EMIT told(QString::fromStdString(next.error().sentence), true);
        return false;
    }
    const Project before = project();
    m_history.push(std::move(*next), name.toStdString(), gesture);
    afterHistory(before);
    return true;
}

Session::Target Session::target() const {
    if (!isAsReceived()) return {project(), m_look};
    const std::string id = edits::freshId(project(), "look");
    auto begun =
        edits::addLook(project(), id, tr("Look %1").arg(project().looks.size() + 1).toStdString(), {});
    if (!begun) return {project(), m_look};
    return {std::move(*begun), id};
}

Session::Target Session::targetOf(const std::string& step) const {
    const auto place = project().findStep(step);
    const StepSpec* spec = place ? steps().find(project().stepAt(*place).type) : nullptr;
    if (spec != nullptr && spec->editor == StepEditor::MapFile) return {project(), {}};
    return target();
}

std::vector<std::string> Session::togetherWith(const Target& to, const std::string& step,
                                               const ControlSpec& control) const {
    if (!control.ofSet) return {step};
    return edits::lyingTogether(to.project, to.look, step, kOwnPlace);
}

bool Session::applyTo(const Target& to, Result<Project> next, const QString& name, std::uint64_t gesture) {
    if (!next) return apply(std::move(next), name, gesture);
    const bool isBegun = project().findLook(to.look) == nullptr && next->findLook(to.look) != nullptr;
    const Project before = project();
    m_history.push(std::move(*next), name.toStdString(), gesture);
    if (isBegun) m_look = to.look;
    afterHistory(before);
    if (isBegun) {
        Q_EMIT lookChanged();
        Q_EMIT lookBegun(QString::fromStdString(to.look));
    }
    return true;
}

std::string Session::nearestTo(const std::string& step, const Project& before) const {
    const auto place = before.findStep(step);
    if (!place) return {};
    for (std::size_t i = place->step; i-- > 0;)
        if (const std::string& id = before.lines[place->line]->steps[i]->id; project().findStep(id))
            return id;
    return {};
}

void Session::afterHistory(const Project& before) {
    if (!m_look.empty() && project().findLook(m_look) == nullptr) {
        m_lastLook = std::exchange(m_look, {});
        Q_EMIT lookChanged();
    }
    // A look that comes back is looked at again, as it was when it went.
    if (m_look.empty() && !m_lastLook.empty() && before.findLook(m_lastLook) == nullptr &&
        project().findLook(m_lastLook) != nullptr) {
        m_look = m_lastLook;
        Q_EMIT lookChanged();
    }
    refreshOpened();
    if (!m_step.empty() && !boardProject().findStep(m_step)) {
        const std::string outer = m_step.substr(0, m_step.find('/'));
        m_step = project().findStep(outer) ? outer : nearestTo(outer, before);
        m_beside.clear();
        Q_EMIT selectionChanged();
    }
    if (m_lookHere && !m_lookHere->after.empty() && !boardProject().findStep(m_lookHere->after))
        setLookHere(std::nullopt);
    const Line* viewed = project().findLine(m_viewedLayer);
    if (m_layerView != LayerView::All && (viewed == nullptr || !isLayer(*viewed)))
        viewLayer(LayerView::All, {});
    if (m_comparison && m_comparison->with == Comparison::With::Look && !otherSide()) compare({});
    refreshColours();
    refreshRecipes();
    Q_EMIT projectChanged();
}

void Session::setControl(const std::string& step, const std::string& control, ControlValue value,
                         std::uint64_t gesture) {
    if (isInner(step)) return setInner(step, control, value, gesture);
    const auto place = project().findStep(step);
    const StepSpec* spec = place ? steps().find(project().stepAt(*place).type) : nullptr;
    const ControlSpec* described = spec != nullptr ? spec->findControl(control) : nullptr;
    if (described == nullptr) return;
    // What a map is holds for all looks; how it lies is the artist's.
    const Target to = described->ofSet ? target() : targetOf(step);
    applyTo(to, edits::setControls(to.project, to.look, togetherWith(to, step, *described), control, value),
            tr("%1 of %2").arg(QString::fromStdString(described->name), QString::fromStdString(spec->name)),
            gesture);
}

void Session::resetControl(const std::string& step, const std::string& control) {
    if (isInner(step)) return resetInner(step, control);
    const auto place = project().findStep(step);
    const StepSpec* spec = place ? steps().find(project().stepAt(*place).type) : nullptr;
    const ControlSpec* described = spec != nullptr ? spec->findControl(control) : nullptr;
    if (described == nullptr) return;
    const Step& base = project().stepAt(*place);
    const ControlValue& byDefault = described->defaultOf(base.version);
    const Look* look = project().findLook(m_look);
    const auto own = base.controls.find(control);
    const bool isOfBase = look != nullptr && changeIn(project(), look, step + "." + control) == nullptr &&
                          own != base.controls.end() && !(own->second == byDefault);
    if (isOfBase) return setControl(step, control, byDefault);
    const Target to = described->ofSet ? target() : targetOf(step);
    applyTo(to, edits::resetControls(to.project, to.look, togetherWith(to, step, *described), control),
            tr("Reset"));
}

void Session::useNewestVersion(const std::string& step) {
    const auto inner = isInner(step) ? innerStep(project(), step) : std::nullopt;
    apply(inner ? edits::useNewestVersion(project(), *inner) : edits::useNewestVersion(project(), step),
          tr("Use the new version"));
}

bool Session::applyFeed(Result<Project> next, const std::string& step, const std::string& feed,
                        const QString& name, std::uint64_t gesture) {
    const auto place = next ? next->findStep(step) : std::nullopt;
    const StepSpec* spec = place ? steps().find(next->stepAt(*place).type) : nullptr;
    const auto isShared = [&](const FeedSpec& f) { return f.id == feed && f.ofSet; };
    if (spec != nullptr && std::any_of(spec->feeds.begin(), spec->feeds.end(), isShared))
        next = edits::shareFeed(*next, m_look, step, feed, kOwnPlace);
    return apply(std::move(next), name, gesture);
}

Step Session::newMapStep(const std::string& set, const std::string& role) const {
    std::vector<std::string> shared, feeds;
    if (const StepSpec* spec = steps().find("map")) {
        for (const ControlSpec& c : spec->controls)
            if (c.ofSet) shared.push_back(c.id);
        for (const FeedSpec& f : spec->feeds)
            if (f.ofSet) feeds.push_back(f.id);
    }
    return edits::mapStep(project(), set, role, shared, feeds, kOwnPlace);
}

Step Session::newMapStep(const std::string& set, const std::string& role, Kind kind,
                         PicturePurpose purpose) const {
    Step step = newMapStep(set, role);
    if (kind != Kind::Scalar) return step;
    // A map that cannot be read is named by its card; until then its last reading is kept.
    const auto reading = readingFor(project(), resources(), set, role, purpose);
    if (reading) setReading(step, *reading);
    return step;
}

void Session::insertStep(const std::string& line, std::size_t index, Step step) {
    const StepSpec* spec = steps().find(step.type);
    // Heads and fills come with their layer.
    if (spec == nullptr || step.type == kLayerHead || step.type == kFill) return;
    const std::string id = step.id = edits::freshId(project(), "s");
    // What it is for is joined where its name says what that is: the height of the same surface.
    if (const Line* own = project().findLine(line))
        for (const FeedSpec& feed : spec->feeds)
            if (const Line* of = feed.isMain ? project().lineOfChannel(feed.id, own->surface) : nullptr;
                of != nullptr && !step.feeds.contains(feed.id))
                step.feeds[feed.id].line = of->id;
    const Target to = target();
    if (applyTo(to, edits::insertStep(to.project, to.look, line, index, std::move(step)),
                tr("Add %1").arg(QString::fromStdString(spec->name))))
        selectStep(id);
}

void Session::removeLine(const std::string& id) {
    const Line* line = project().findLine(id);
    if (line == nullptr || isLayer(*line)) return;
    const QString name = QString::fromStdString(line->name);
    std::vector<std::string> own;
    for (const auto& step : line->steps)
        if (const Line* fill = layerOf(*step).empty() ? nullptr : ownLineOf(project(), *step))
            own.push_back(fill->id);
    auto next = edits::removeLine(project(), id);
    for (const std::string& fill : own)
        if (next) next = edits::removeLine(*next, fill);
    const auto& lines = project().lines;
    const auto at =
        std::find_if(lines.begin(), lines.end(), [&](const auto& l) { return l->id == id; }) - lines.begin();
    const auto neighbour = static_cast<std::size_t>(at > 0 ? at - 1 : at + 1);
    const std::string chosen = neighbour < lines.size() ? lines[neighbour]->steps.back()->id : std::string();
    if (apply(std::move(next), tr("Remove the line %1").arg(name)) && !project().findStep(m_step))
        selectStep(chosen);
}

void Session::removeStep(const std::string& step) {
    if (refuseInner(step)) return;
    const auto place = project().findStep(step);
    if (!place) return;
    const Line& line = *project().lines[place->line];
    if (isLayer(line) && headOf(line).id == step) return removeLayers();
    if (const Step& fill = project().stepAt(*place); !layerOf(fill).empty())
        return setCovered(layerOf(fill), line.id, false);
    // A line that holds nothing but its source goes with it.
    if (line.steps.size() == 1) return removeLine(line.id);
    const StepSpec* spec = steps().find(project().stepAt(*place).type);
    const std::string before =
        place->step > 0 ? project().lines[place->line]->steps[place->step - 1]->id : std::string();
    const QString name = spec != nullptr ? QString::fromStdString(spec->name) : QString::fromStdString(step);
    if (apply(edits::removeStep(project(), step), tr("Remove %1").arg(name))) selectStep(before);
}

void Session::toggleBypass(const std::string& step) {
    const auto shown = shownStep(step);
    if (!shown) return;
    if (isInner(step)) return setInner(step, kBypass.id, !shown->bypass, 0);
    const Target to = targetOf(step);
    applyTo(to, edits::setBypass(to.project, to.look, step, !shown->bypass),
            shown->bypass ? tr("Switch on") : tr("Bypass"));
}

std::vector<std::string> Session::selection() const {
    std::vector<std::string> chosen;
    if (isInner(m_step)) return {m_step};
    if (selectedLayer() != nullptr) {
        for (const std::string& layer : selectedLayers())
            chosen.push_back(headOf(*project().findLine(layer)).id);
        return chosen;
    }
    if (const Line* line = selectedLine())
        for (const auto& step : line->steps)
            if (isSelected(step->id)) chosen.push_back(step->id);
    return chosen;
}

void Session::toggleSelected(const std::string& step) {
    const auto place = project().findStep(step);
    if (!place || step == m_step) return;
    // Heads are chosen together, other steps with those of their line.
    const Line* layer = selectedLayer();
    const Line& other = *project().lines[place->line];
    const bool areHeads =
        layer != nullptr && isLayer(other) && headOf(other).id == step && other.surface == layer->surface;
    if (!areHeads && selectedLine() != &*project().lines[place->line]) return selectStep(step);
    if (m_beside.erase(step) == 0) m_beside.insert(step);
    Q_EMIT selectionChanged();
}

void Session::bypassSelection() {
    const auto chosen = selection();
    const auto first = shownStep(m_step);
    if (!first) return;
    if (chosen.size() == 1) return toggleBypass(m_step);
    const std::uint64_t gesture = newGesture();
    for (const std::string& step : chosen) {
        const Target to = targetOf(step);
        applyTo(to, edits::setBypass(to.project, to.look, step, !first->bypass),
                first->bypass ? tr("Switch on") : tr("Bypass"), gesture);
    }
}

void Session::removeSelection() {
    if (selectedLayer() != nullptr) return removeLayers();
    const auto chosen = selection();
    if (chosen.size() < 2) return removeStep(m_step);
    const Line* line = selectedLine();
    std::string before;
    for (const auto& step : line->steps) {
        if (isSelected(step->id) && step != line->steps.front()) break;
        before = step->id;
    }
    const std::string source = line->steps.front()->id;
    const std::uint64_t gesture = newGesture();
    for (const std::string& step : chosen)
        if (step != source)
            apply(layerOf(*shownStep(step)).empty() ? edits::removeStep(project(), step)
                                                    : edits::uncover(project(), step),
                  tr("Remove %1 steps").arg(chosen.size()), gesture);
    selectStep(before);
}

QString Session::copySelection() const {
    if (selectedLayer() != nullptr) return copyLayers();
    std::vector<Step> steps;
    for (const std::string& id : selection()) {
        const StepSpec* spec = this->steps().find(shownStep(id)->type);
        // A fill goes with its layer.
        if ((spec == nullptr || !spec->source) && layerOf(*shownStep(id)).empty())
            steps.push_back(*shownStep(id));
    }
    return steps.empty() ? QString()
                         : QString::fromStdString(stepsToText(steps, edits::recipesUsed(project(), steps)));
}

void Session::insertSteps(const std::string& line, std::size_t index, const std::vector<Step>& steps,
                          const QString& name, const std::optional<std::vector<Shared<Recipe>>>& recipes) {
    std::vector<std::string> ids;
    Target to = target();
    if (recipes) to.project.recipes = *recipes;
    auto next = edits::pasteSteps(to.project, to.look, line, index, steps, ids);
    if (!applyTo(to, std::move(next), name) || ids.empty()) return;
    selectStep(ids.back());
    for (const std::string& id : ids)
        if (id != m_step) m_beside.insert(id);
    Q_EMIT selectionChanged();
}

void Session::paste(const QString& text) {
    if (refuseInner(m_step)) return;
    if (pasteLayers(text)) return;
    std::vector<Shared<Recipe>> recipes;
    auto steps = stepsFromText(text.toStdString(), &recipes);
    if (!steps) {
        if (!pasteColours(text)) Q_EMIT told(QString::fromStdString(steps.error().sentence), true);
        return;
    }
    const auto place = project().findStep(m_step);
    if (!place) return;
    const Line& line = *project().lines[place->line];
    const Project taken = edits::takeSteps(project(), recipes, *steps);
    const Catalogue known = withRecipes(shippedSteps(), taken.recipes);
    std::vector<Step> fitting;
    for (const Step& step : *steps) {
        const StepSpec* spec = known.find(step.type);
        const bool isOfLayer = step.type == kLayerHead || step.type == kFill;
        if (spec != nullptr && spec->fits(line.kind) && !spec->source && !isOfLayer) fitting.push_back(step);
    }
    if (fitting.size() < steps->size())
        Q_EMIT told(tr("%1 of the %2 copied steps do not fit a %3 line and were left out.")
                        .arg(steps->size() - fitting.size())
                        .arg(steps->size())
                        .arg(QString::fromUtf8(nameOf(line.kind))),
                    true);
    if (!fitting.empty()) insertSteps(line.id, place->step + 1, fitting, tr("Paste"), taken.recipes);
}

void Session::duplicateSelection() {
    if (refuseInner(m_step)) return;
    if (selectedLayer() != nullptr) return duplicateLayers();
    const Line* line = selectedLine();
    if (line == nullptr) return;
    std::vector<Step> copies;
    std::size_t index = 0;
    for (std::size_t i = 1; i < line->steps.size(); ++i)
        if (isSelected(line->steps[i]->id) && layerOf(*line->steps[i]).empty())
            copies.push_back(*shownStep(line->steps[i]->id)), index = i + 1;
    if (!copies.empty()) insertSteps(line->id, index, copies, tr("Duplicate"));
}

void Session::moveStep(const std::string& step, const std::string& line, std::size_t index, bool asCopy) {
    const auto shown = shownStep(step);
    if (!shown) return;
    if (!layerOf(*shown).empty()) return moveFills(layerOf(*shown), {{line, index}});
    if (asCopy) return insertSteps(line, index, {*shown}, tr("Copy"));
    apply(edits::moveStep(project(), step, line, index), tr("Move"));
    Q_EMIT selectionChanged();
}

void Session::moveAlong(int way) {
    if (refuseInner(m_step)) return;
    if (selectedLayer() != nullptr) return moveLayers(way);
    const auto place = project().findStep(m_step);
    if (!place || place->step == 0) return;
    const Line& line = *project().lines[place->line];
    // The gap behind the next step, or the one before the step before; the source keeps its place.
    if (way < 0 ? place->step > 1 : place->step + 1 < line.steps.size())
        moveStep(m_step, line.id, way < 0 ? place->step - 1 : place->step + 2, false);
}

void Session::jump(std::size_t entry) {
    if (entry >= m_history.size() || entry == m_history.position()) return;
    const Project before = project();
    m_history.jump(entry);
    afterHistory(before);
}

void Session::undo() {
    if (!m_history.canUndo()) return;
    const Project before = project();
    m_history.undo();
    afterHistory(before);
}

void Session::redo() {
    if (!m_history.canRedo()) return;
    const Project before = project();
    m_history.redo();
    afterHistory(before);
}

void Session::setLook(const std::string& look) {
    if (look == m_look || (!look.empty() && project().findLook(look) == nullptr)) return;
    m_look = look;
    Q_EMIT lookChanged();
}

void Session::keepLook() {
    const std::string id = edits::freshId(project(), "look");
    const QString name = tr("Look %1").arg(project().looks.size() + 1);
    if (!apply(edits::addLook(project(), id, name.toStdString(), m_look), tr("Keep look"))) return;
    m_look = id;
    Q_EMIT lookChanged();
}

void Session::selectStep(const std::string& step) {
    if (step == m_step && m_beside.empty()) return;
    m_beside.clear();
    m_step = step;
    // What is shown in place of the surface follows the choice, so that walking a line shows it step by step.
    if (m_lookHere && selectedLine() != nullptr) m_lookHere = LookHere{selectedLine()->id, step, {}};
    Q_EMIT selectionChanged();
    if (m_lookHere) Q_EMIT viewChanged();
}

QString Session::baseName() const {
    return workedSteps() == 0 ? tr("As received") : tr("Base");
}

int Session::workedSteps() const {
    // Asked several times for a change: by the looks, the status and wherever it is told what a change
    // begins.
    if (m_worked.first != m_history.revision())
        m_worked = {m_history.revision(), m_workedSteps.of(project(), steps())};
    return m_worked.second;
}

bool Session::isAsReceived() const {
    return m_look.empty() && workedSteps() == 0;
}

void Session::holdInAllLooks(const std::string& step, const std::string& control, bool all) {
    if (all)
        apply(edits::holdInAllLooks(project(), m_look, step, control), tr("Hold in all looks"));
    else
        apply(edits::holdInOneLook(project(), m_look, step, control), tr("Hold in this look only"));
}

bool Session::holdsInAllLooks(const std::string& step, const std::string& control) const {
    const Look* look = project().findLook(m_look);
    const std::string key = step + "." + control;
    return look != nullptr && project().allLooks.contains(key) && !look->changes.contains(key);
}

}  // namespace kettle
