// The session, the library and the model's objects: recipes, kept layers, ramps, and numbers.
#include <QFileInfo>
#include <algorithm>
#include <utility>

#include "app/session/session.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/network.h"
#include "core/exchange/bring_project.h"
#include "core/exchange/kept_layers.h"
#include "core/exchange/palette.h"
#include "core/steps/ramp_remap.h"
#include "core/steps/recipe_steps.h"
#include "core/steps/vary.h"

namespace kettle {
namespace {

/// Which lines a recipe is for, in words: "colour or scalar".
QString kindsOf(const Recipe& recipe) {
    QStringList kinds;
    for (const Kind kind : recipe.kinds) kinds << QString::fromUtf8(nameOf(kind));
    return kinds.join(Session::tr(" or "));
}

/// Inputs that bear a channel's name are joined to that channel of the line's surface, where that makes no
/// ring.
void joinChannels(Project& project, const std::string& step, const Recipe& recipe, const Line& line) {
    for (const RecipeFeed& feed : recipe.feeds) {
        const Line* channel = project.lineOfChannel(feed.id, line.surface);
        if (findChannel(feed.id) == nullptr || channel == nullptr || channel->id == line.id) continue;
        Feed join;
        join.line = channel->id;
        if (auto joined = edits::setFeed(project, step, feed.id, join)) project = std::move(*joined);
    }
}

}  // namespace

void Session::addRecipe(const Recipe& recipe) {
    const auto place = project().findStep(m_step);
    if (!place) return;
    addRecipeAt(recipe, project().lines[place->line]->id, place->step + 1);
}

void Session::addRecipeAt(const Recipe& recipe, const std::string& lineId, std::size_t index) {
    const Line* line = project().findLine(lineId);
    if (line == nullptr) return;
    const QString name = QString::fromStdString(recipe.name);
    if (std::find(recipe.kinds.begin(), recipe.kinds.end(), line->kind) == recipe.kinds.end()) {
        Q_EMIT told(tr("%1 works on a %2 line, and %3 carries a %4. Choose a step of another line.")
                        .arg(name, kindsOf(recipe), QString::fromStdString(line->name),
                             QString::fromUtf8(nameOf(line->kind))),
                    true);
        return;
    }
    if (const std::string fault = faultOf(recipe, steps()); !fault.empty()) {
        Q_EMIT told(tr("The recipe %1 cannot be taken: %2.").arg(name, QString::fromStdString(fault)), true);
        return;
    }
    Target to = target();
    std::string id;
    to.project = edits::takeRecipe(to.project, recipe, id);
    Step step;
    step.type = kRecipe + id;
    std::vector<std::string> ids;
    auto next = edits::pasteSteps(to.project, to.look, lineId, index, {step}, ids);
    if (next && !ids.empty()) joinChannels(*next, ids.front(), recipe, *next->findLine(lineId));
    if (applyTo(to, std::move(next), tr("Add %1").arg(name)) && !ids.empty()) selectStep(ids.front());
}

void Session::insertEntry(const QString& file, const std::string& line, std::size_t index) {
    const LibraryEntry entry = readEntry(file.toStdString(), EntryOrigin::Own);
    if (!entry.problem.empty())
        return static_cast<void>(Q_EMIT told(QString::fromStdString(entry.problem), true));
    if (const auto* recipe = std::get_if<Recipe>(&entry.content)) return addRecipeAt(*recipe, line, index);
    if (const auto* layer = std::get_if<KeptLayer>(&entry.content)) return addKeptLayer(*layer);
    const QString name = QString::fromStdString(entry.name);
    if (const auto* ramp = std::get_if<NamedRampEntry>(&entry.content))
        insertRamp(line, index, ramp->ramp, name);
    else if (const auto* palette = std::get_if<Palette>(&entry.content))
        insertPalette(line, index, *palette);
}

void Session::insertPalette(const std::string& line, std::size_t index, const Palette& palette) {
    const Line* onto = project().findLine(line);
    if (onto == nullptr || onto->kind == Kind::Normal) return;
    insertSteps(line, index, {stepOf(palette, *onto)},
                tr("Palette %1").arg(QString::fromStdString(palette.name)));
}

bool Session::pasteColours(const QString& text) {
    const auto place = project().findStep(m_step);
    Palette palette;
    palette.colours = coloursIn(text.toStdString());
    if (!place || palette.colours.empty()) return false;
    const Line& line = *project().lines[place->line];
    const Step shown = *shownStep(m_step);
    const StepSpec* spec = steps().find(shown.type);
    if (line.kind != Kind::Colour || spec == nullptr) return false;
    const StepView view(*spec, shown, line.kind);
    for (const ControlSpec& control : spec->controls) {
        if (control.type != ControlType::Ramp || !view.isShown(control)) continue;
        // Objects get the colours themselves, no mixture of two.
        const bool isHeld = spec->editor == StepEditor::Copies ||
                            view[RampHandle{control.id.c_str()}].interpolation == RampInterpolation::Hold;
        setControl(m_step, control.id, rampOf(palette, isHeld));
        return true;
    }
    palette.name = tr("of %1 copied colours").arg(palette.colours.size()).toStdString();
    insertPalette(line.id, place->step + 1, palette);
    return true;
}

void Session::insertRamp(const std::string& line, std::size_t index, const Ramp& ramp, const QString& name) {
    const Line* onto = project().findLine(line);
    if (onto == nullptr || onto->kind == Kind::Normal) return;
    Step step;
    step.type = ramp_remap::kType;
    step.controls = {ramp_remap::kRamp(ramp)};
    insertSteps(line, index, {step}, tr("Ramp %1").arg(name));
}

void Session::selectTo(const std::string& step) {
    const auto from = project().findStep(m_step), to = project().findStep(step);
    if (!from || !to || from->line != to->line || isLayer(*project().lines[to->line]))
        return selectStep(step);
    m_beside.clear();
    const auto& steps = project().lines[to->line]->steps;
    for (std::size_t s = std::min(from->step, to->step); s <= std::max(from->step, to->step); ++s)
        if (steps[s]->id != m_step) m_beside.insert(steps[s]->id);
    Q_EMIT selectionChanged();
}

void Session::selectLine() {
    const Line* line = selectedLine();
    if (line == nullptr || line->steps.size() < 2 || isLayer(*line)) return;
    const std::string first = line->steps[1]->id, last = line->steps.back()->id;
    selectStep(first);
    selectTo(last);
}

bool Session::packSelection(const edits::PackWish& wish) {
    std::string step;
    std::vector<std::string> notes;
    auto next = edits::packSteps(project(), m_look, selection(), wish, step, notes);
    if (!apply(std::move(next), tr("Pack %1").arg(QString::fromStdString(wish.name)))) return false;
    m_beside.clear();
    m_step.clear();
    selectStep(step);
    if (!notes.empty()) tellNotes(tr("Packed."), notes);
    return true;
}

void Session::unpackRecipe(const std::string& step) {
    std::vector<std::string> ids;
    if (!apply(edits::unpackStep(project(), step, ids), tr("Unpack")) || ids.empty()) return;
    selectStep(ids.back());
    for (const std::string& id : ids)
        if (id != m_step) m_beside.insert(id);
    Q_EMIT selectionChanged();
}

void Session::updateRecipe(const std::string& id, const Recipe& newer) {
    std::vector<std::string> notes;
    auto next = edits::updateRecipe(project(), id, newer, notes);
    if (apply(std::move(next), tr("Update %1").arg(QString::fromStdString(newer.name))))
        tellNotes(tr("%1 is of edition %2 now.").arg(QString::fromStdString(newer.name)).arg(newer.edition),
                  notes);
}

void Session::addKeptLayer(const KeptLayer& layer) {
    KeptLayer filled = layer;
    std::vector<std::string> ids, notes;
    if (!layer.slots().empty()) {
        const std::string set = setFor(layer, project());
        if (set.empty()) {
            Q_EMIT told(tr("%1 reads a texture set, and the project has none that fits. Drop a folder of "
                           "maps on it in the "
                           "library.")
                            .arg(QString::fromStdString(layer.name)),
                        true);
            return;
        }
        auto done = filledFrom(layer, project(), set, notes);
        if (!done) return static_cast<void>(apply(fail(done.error()), {}));
        filled = std::move(*done);
    }
    const Target to = target();
    notes.clear();
    auto next = edits::pasteLayers(to.project, to.look, filled.layers, layerWish({}), ids, notes);
    if (takeLayer(to, std::move(next), tr("Add %1").arg(QString::fromStdString(layer.name)),
                  ids.empty() ? std::string() : ids.back()) &&
        !notes.empty())
        tellNotes(tr("%1 lies over the surface.").arg(QString::fromStdString(layer.name)), notes);
}

void Session::layOverWith(const QString& folder, const KeptLayer& layer) {
    layOver(folder);
    m_laysLike = layer;
}

void Session::addLayersLike(const BringPlan& plan, const KeptLayer& layer) {
    std::vector<std::string> notes, lacking, ids;
    Target to = target();
    auto brought = bringInto(to.project, plan, notes);
    if (!brought) return static_cast<void>(apply(std::move(brought), {}));
    std::string set;
    for (const auto& one : brought->sets)
        if (set.empty() && to.project.findSet(one->id) == nullptr) set = one->id;
    const auto filled = filledFrom(layer, *brought, set, lacking);
    if (!filled) return static_cast<void>(apply(fail(filled.error()), {}));
    std::string source;
    auto next = edits::pasteLayers(*brought, to.look, filled->layers, layerWish({}), ids, notes);
    if (next && !ids.empty()) {
        // What its set does is set at one of its maps, which is chosen.
        for (const FillPlace& fill : fillsOf(*next, ids.back()))
            if (const Line* own = ownLineOf(*next, *fill.step); own != nullptr && source.empty())
                source = own->steps.front()->id;
        const QString name = QString::fromStdString(brought->findSet(set)->name);
        if (auto named = edits::renameLayer(*next, ids.back(), name.toStdString())) next = std::move(named);
    }
    if (!takeLayer(to, std::move(next), tr("Lay over"), ids.empty() ? std::string() : ids.back())) return;
    if (!source.empty()) selectStep(source);
    for (const std::string& role : lacking)
        notes.push_back(tr("It has no %1.").arg(QString::fromStdString(role)).toStdString());
    tellNotes(tr("%1 lies over the surface.").arg(QFileInfo(m_bringing).fileName()), notes);
}

void Session::takeRamp(const Ramp& ramp, const QString& name) {
    const auto shown = shownStep(m_step);
    if (!shown) return;
    if (const StepSpec* spec = steps().find(shown->type))
        for (const ControlSpec& control : spec->controls)
            if (control.type == ControlType::Ramp) {
                const StepView view(*spec, *shown, selectedLine()->kind);
                if (shown->type == vary::kType && view[vary::kFrom] != vary::VariationSource::Ramp)
                    setControl(m_step, vary::kFrom.id, vary::kFrom(vary::VariationSource::Ramp).second);
                return setControl(m_step, control.id, ramp);
            }
    const auto place = project().findStep(m_step);
    const Line& line = *project().lines[place->line];
    if (line.kind == Kind::Normal) {
        Q_EMIT told(
            tr("A ramp gives colours or greys, and %1 carries a normal. Choose a step of another line.")
                .arg(QString::fromStdString(line.name)),
            true);
        return;
    }
    Step step;
    step.type = ramp_remap::kType;
    step.controls = {ramp_remap::kRamp(ramp)};
    insertSteps(line.id, place->step + 1, {step}, tr("Ramp %1").arg(name));
}

void Session::setNumbers(bool ofParts, const std::map<std::string, std::optional<int>>& numbers,
                         const QString& name) {
    apply(edits::setNumbers(project(), ofParts, numbers), name);
}

void Session::chooseObjects(std::set<std::string> names) {
    if (names == m_objects) return;
    m_objects = std::move(names);
    Q_EMIT objectsChanged();
}

void Session::showObject(const std::string& object) {
    if (project().view.object == object) return;
    ViewSettings view = project().view;
    view.object = object;
    apply(edits::setView(project(), view),
          object.empty() ? tr("Show the first object") : tr("Show %1").arg(QString::fromStdString(object)));
}

}  // namespace kettle
