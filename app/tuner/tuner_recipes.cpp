// The tuner's rows for copies that differ, and for recipes.
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <unordered_map>

#include "app/editors/copies_plot.h"
#include "app/fields/rows.h"
#include "app/tuner/tuner_view.h"
#include "core/document/recipes.h"

namespace kettle {

const Recipe* TunerView::recipeOfStep() const {
    const auto shown = m_session.shownStep(m_step);
    return shown ? m_session.project().findRecipe(recipeOf(shown->type)) : nullptr;
}

void TunerView::addSection(QVBoxLayout& column, const std::string& section) {
    auto* title = new QLabel(section.empty() ? tr("More") : text(section), column.parentWidget());
    title->setObjectName(QStringLiteral("section"));
    column.addSpacing(4);
    column.addWidget(title);
}

void TunerView::addRecipeBar(QVBoxLayout& column, const Recipe& recipe) {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto add = [&](const QString& words, const QString& tip) {
        auto* button = new QPushButton(words, column.parentWidget());
        button->setToolTip(tip);
        row->addWidget(button);
        return button;
    };
    auto* open = add(tr("Open"), tr("Its steps stand on the board and can be set there (R)"));
    open->setCheckable(true);
    auto* unpack =
        add(tr("Unpack"), recipe.steps.size() == 1
                              ? tr("Gives its step back.")
                              : tr("Gives its %1 steps back in its place.").arg(recipe.steps.size()));
    auto* keep = add(tr("Keep"), tr("Keeps it in the library, where other projects can take it."));
    auto* update =
        add(tr("Update…"), tr("Takes what the library has under this name, and says what changes."));
    row->addStretch(1);
    column.addLayout(row);
    connect(unpack, &QPushButton::clicked, this, [this] { m_session.unpackRecipe(m_step); });
    connect(keep, &QPushButton::clicked, this, [this, id = recipe.id] { Q_EMIT keepRecipeWanted(text(id)); });
    connect(update, &QPushButton::clicked, this, [this, id = recipe.id] { Q_EMIT updateWanted(text(id)); });
    QString words = recipe.steps.size() == 1 ? tr("A recipe of one step.")
                                             : tr("A recipe of %1 steps.").arg(recipe.steps.size());
    if (recipe.edition > 1) words += tr(" Edition %1.").arg(recipe.edition);
    if (!recipe.note.empty()) words += QLatin1Char(' ') + text(recipe.note);
    column.addWidget(quietLabel(words, column.parentWidget()));
    open->setObjectName(QStringLiteral("open-recipe"));
    connect(open, &QPushButton::clicked, this, [this] { m_session.toggleOpen(m_step); });
    m_refreshers.push_back([this, open](const StepView&) {
        open->setChecked(m_session.isOpen(m_step));
        open->setText(m_session.isOpen(m_step) ? tr("Close") : tr("Open"));
    });
}

/// The way back from a step of a recipe to the recipe.
void TunerView::addRecipeBack(QVBoxLayout& column) {
    if (!m_session.isInner(m_step)) return;
    const auto inner = innerStep(m_session.project(), m_step);
    const Recipe* recipe = inner ? m_session.project().findRecipe(inner->recipe) : nullptr;
    if (recipe == nullptr) return;
    auto* back = new QPushButton(tr("Step of %1").arg(text(recipe->name)), column.parentWidget());
    back->setObjectName(QStringLiteral("recipe-back"));
    back->setToolTip(tr("Back to the recipe"));
    back->setProperty("left", true);
    connect(back, &QPushButton::clicked, this, [this, outer = inner->outer] { m_session.selectStep(outer); });
    column.addWidget(back);
}

void TunerView::addCopies(QVBoxLayout& column) {
    m_copies = new CopiesPlot(column.parentWidget());
    column.addWidget(m_copies);
    m_strip = new CopiesStrip(column.parentWidget());
    column.addWidget(m_strip);
    connect(m_strip, &CopiesStrip::chosen, this, [this](const QString& object, bool more) {
        std::set<std::string> names = more ? m_session.chosenObjects() : std::set<std::string>{};
        if (const std::string name = object.toStdString(); !names.erase(name)) names.insert(name);
        m_session.chooseObjects(std::move(names));
    });
    m_strip->setChosen(m_session.chosenObjects());
    m_refreshers.push_back([this](const StepView&) { askCopies(); });
}

void TunerView::askCopies() {
    const Line* line = m_session.selectedLine();
    if (m_copies == nullptr || line == nullptr) return;
    m_copiesNumber = m_service.askObjects(PictureService::ObjectsFor::Copies, m_session.projectWith(m_step),
                                          m_session.look(), line->id, m_step, m_session.resources());
}

namespace {

/// Those objects alone that a surface covers, for lines of it.
std::shared_ptr<const ObjectColours> onSurface(const std::shared_ptr<const ObjectColours>& all,
                                               const Project& project, const std::string& surface) {
    if (project.surfaces.empty() || project.findSurface(surface) == nullptr) return all;
    const std::vector<int> ofPart = surfacesOfParts(project, all->scene->mesh().parts);
    const std::vector<std::string> ids = surfaceIds(project);
    auto some = std::make_shared<ObjectColours>();
    some->scene = all->scene;
    some->kind = all->kind;
    for (std::size_t i = 0; i < all->ofObjects.size(); ++i) {
        const auto& parts = all->objects[i].parts;
        const bool isHere = std::any_of(parts.begin(), parts.end(), [&](std::size_t part) {
            return ofPart[part] >= 0 && ids[static_cast<std::size_t>(ofPart[part])] == surface;
        });
        if (!isHere) continue;
        some->objects.push_back(all->objects[i]);
        some->ofObjects.push_back(all->ofObjects[i]);
    }
    return some;
}

}  // namespace

void TunerView::showCopies(quint64 number, const std::shared_ptr<const ObjectColours>& all) {
    const Line* line = m_session.selectedLine();
    if (number != m_copiesNumber || m_copies == nullptr || !all || line == nullptr) return;
    const auto objects = onSurface(all, m_session.project(), line->surface);
    std::unordered_map<std::string, int> counted;
    for (std::size_t i = 0; i < all->objects.size(); ++i) counted[all->objects[i].name] = static_cast<int>(i);
    for (const auto& [name, given] : m_session.project().objects->objects) counted[name] = given;
    std::vector<int> numbers;
    for (const ModelObject& object : objects->objects) numbers.push_back(counted[object.name]);
    m_copies->setObjects(objects);
    m_strip->setObjects(objects, std::move(numbers));
}

}  // namespace kettle
