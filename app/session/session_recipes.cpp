// The session and recipes that are looked into: what is chosen and shown within them, and what is set there.
#include "app/session/session.h"
#include "core/document/recipes.h"

namespace kettle {

bool Session::isInner(const std::string& step) const {
    return m_opened && step.find('/') != std::string::npos && !project().findStep(step) &&
           m_opened->shown.findStep(step).has_value();
}

const Project& Session::projectWith(const std::string& step) const {
    return isInner(step) ? m_opened->computed : project();
}

void Session::refreshOpened() {
    m_opened.reset();
    if (m_toOpen.empty()) return;
    m_opened = withOpen(project(), m_toOpen);
    m_toOpen = m_opened->steps;
    if (m_toOpen.empty()) m_opened.reset();
}

void Session::toggleOpen(const std::string& step) {
    const auto shown = shownStep(step);
    if (!shown || project().findRecipe(recipeOf(shown->type)) == nullptr) return;
    if (m_toOpen.erase(step) > 0) {
        // What stands within it goes too.
        std::erase_if(m_toOpen, [&](const std::string& inner) { return inner.starts_with(step + "/"); });
    } else {
        m_toOpen.insert(step);
    }
    refreshOpened();
    if (!boardProject().findStep(m_step)) selectStep(step);
    if (m_lookHere && !m_lookHere->after.empty() && !boardProject().findStep(m_lookHere->after))
        setLookHere(std::nullopt);
    Q_EMIT openedChanged();
}

const Line* Session::selectedLine() const {
    if (const auto place = project().findStep(m_step)) return &*project().lines[place->line];
    if (!isInner(m_step)) return nullptr;
    const Line& line = *m_opened->shown.lines[m_opened->shown.findStep(m_step)->line];
    const Line* own = project().findLine(line.id);
    return own != nullptr ? own : &line;
}

std::optional<Step> Session::shownStep(const std::string& id) const {
    const Project& from = isInner(id) ? m_opened->shown : project();
    const auto place = from.findStep(id);
    if (!place) return std::nullopt;
    return withLook(from, from.stepAt(*place), from.findLook(m_look));
}

void Session::setInner(const std::string& step, const std::string& control, const ControlValue& value,
                       std::uint64_t gesture) {
    const auto inner = innerStep(project(), step);
    if (!inner) return;
    const ControlPlace place = controlPlace(project(), *inner, control);
    if (!place.inner) return setControl(place.step, place.control, value, gesture);
    const Recipe* recipe = project().findRecipe(place.inner->recipe);
    apply(edits::setInner(project(), *place.inner, place.control, value),
          tr("Change %1").arg(QString::fromStdString(recipe->name)), gesture);
}

void Session::resetInner(const std::string& step, const std::string& control) {
    const auto inner = innerStep(project(), step);
    if (!inner) return;
    const ControlPlace place = controlPlace(project(), *inner, control);
    if (!place.inner) return resetControl(place.step, place.control);
    apply(edits::resetInner(project(), *place.inner, place.control), tr("Reset"));
}

bool Session::refuseInner(const std::string& step) {
    const auto inner = isInner(step) ? innerStep(project(), step) : std::nullopt;
    const Recipe* recipe = inner ? project().findRecipe(inner->recipe) : nullptr;
    if (recipe == nullptr) return false;
    Q_EMIT told(tr("This step belongs to the recipe %1. Unpack the recipe to add, move or remove steps.")
                    .arg(QString::fromStdString(recipe->name)),
                true);
    return true;
}

}  // namespace kettle
