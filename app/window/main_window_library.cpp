// The main window's library and objects: their drawers, the packing sheet, and what they tell each other.
#include <QMessageBox>
#include <QScrollArea>
#include <QStatusBar>
#include <QToolButton>

#include "app/board/board_view.h"
#include "app/fields/palette_shelf.h"
#include "app/library/library_drawer.h"
#include "app/library/pack_sheet.h"
#include "app/objects/objects_drawer.h"
#include "app/preview/model_view.h"
#include "app/tuner/tuner_view.h"
#include "app/window/main_window.h"
#include "app/window/message_bar.h"
#include "app/window/window_memory.h"

namespace kettle {

void MainWindow::makeLibrary(QWidget* page) {
    m_shelf = new LibraryShelf(m_data / "library", this);
    m_library = new LibraryDrawer(m_session, *m_pictures, *m_shelf, m_boardArea);
    m_objects = new ObjectsDrawer(m_session, *m_pictures, m_boardArea);
    m_pack = new PackSheet(m_session, *m_shelf, page);
    m_libraryChip = new QToolButton(this);
    m_libraryChip->setText(tr("library"));
    m_libraryChip->setToolTip(tr("Recipes, layers, ramps and palettes (F6)"));
    m_objectsChip = new QToolButton(this);
    m_objectsChip->setText(tr("objects"));
    m_objectsChip->setToolTip(tr("What the model is made of, and its numbers (F7)"));
    for (QToolButton* chip : {m_libraryChip, m_objectsChip}) chip->setObjectName(QStringLiteral("drawers"));
    m_shelf->read();
}

void MainWindow::connectLibrary() {
    connect(m_libraryChip, &QToolButton::clicked, this, [this] { m_library->setOpen(!m_library->isOpen()); });
    connect(m_objectsChip, &QToolButton::clicked, this, [this] { m_objects->setOpen(!m_objects->isOpen()); });
    connect(m_model, &ModelView::numberStarted, m_objects, &ObjectsDrawer::startNumber);
    connect(m_shelf, &LibraryShelf::told, m_message, &MessageBar::tell);
    connect(m_shelf, &LibraryShelf::changed, this, [this] {
        std::vector<Palette> palettes;
        std::vector<KeptLayer> layers;
        std::vector<NamedRampEntry> ramps;
        for (const LibraryEntry& entry : m_shelf->entries())
            if (const auto* layer = std::get_if<KeptLayer>(&entry.content))
                layers.push_back(*layer);
            else if (const auto* palette = std::get_if<Palette>(&entry.content))
                palettes.push_back(*palette);
            else if (const auto* ramp = std::get_if<NamedRampEntry>(&entry.content))
                ramps.push_back(*ramp);
        m_board->finder().setLibrary({m_shelf->recipes(), std::move(layers), std::move(ramps)});
        m_tuner->palettes().setKept(std::move(palettes));
        if (m_memory) m_memory->setLibraries(m_shelf->teamFolders());
    });
    m_pack->setPictureOf([this](const std::string& step) { return m_board->thumbnailOf(step); });
    connect(m_board, &BoardView::packWanted, m_pack, &PackSheet::open);
    connect(m_pack, &PackSheet::kept, this, [this](EntryKind kind, const QString& name) {
        m_library->setOpen(true);
        m_library->point(kind, name);
    });
    connect(&m_tuner->palettes(), &PaletteShelf::keepWanted, this, [this](const Palette& palette) {
        LibraryEntry entry;
        entry.kind = EntryKind::Palette;
        entry.name = palette.name;
        entry.content = palette;
        m_shelf->keep(entry);
    });
    connect(m_tuner, &TunerView::keepRecipeWanted, this, &MainWindow::keepRecipe);
    connect(m_tuner, &TunerView::updateWanted, this, &MainWindow::updateRecipe);
}

void MainWindow::chooseObject(const QString& part) {
    goToSurface(part);
    const Mesh* mesh = m_model->mesh();
    if (mesh == nullptr) return;
    const auto at = std::find(mesh->parts.begin(), mesh->parts.end(), part.toStdString());
    if (at == mesh->parts.end()) return;
    const auto index = static_cast<std::size_t>(at - mesh->parts.begin());
    const std::string object = index < mesh->partObjects.size() ? mesh->partObjects[index] : *at;
    std::set<std::string> names = m_session.chosenObjects();
    if (names.erase(object) == 0) names.insert(object);
    m_session.chooseObjects(std::move(names));
    // A number can be typed at once.
    m_model->setFocus();
}

void MainWindow::keepRecipe(const QString& id) {
    const Recipe* recipe = m_session.project().findRecipe(id.toStdString());
    if (recipe == nullptr) return;
    LibraryEntry entry;
    entry.name = recipe->name;
    entry.content = *recipe;
    m_shelf->keep(entry, m_board->thumbnailOf(m_session.selectedStep()));
}

void MainWindow::updateRecipe(const QString& id) {
    const Recipe* own = m_session.project().findRecipe(id.toStdString());
    if (own == nullptr) return;
    const Recipe* kept = m_shelf->recipe(own->name);
    const QString name = QString::fromStdString(own->name);
    if (kept == nullptr) {
        m_message->tell(
            tr("The library has no recipe %1. Keep this one there, and other projects can take it.")
                .arg(name),
            true);
        return;
    }
    const auto differences = edits::differencesOf(*own, *kept);
    if (differences.empty()) {
        m_message->tell(tr("%1 is as the library has it.").arg(name), false);
        return;
    }
    QStringList words;
    for (const std::string& difference : differences) words << QString::fromStdString(difference);
    QMessageBox box(QMessageBox::Question, tr("Update %1").arg(name),
                    tr("The library has edition %1 of %2; the project's is %3.")
                        .arg(kept->edition)
                        .arg(name)
                        .arg(own->edition),
                    QMessageBox::NoButton, this);
    box.setInformativeText(words.join(QStringLiteral("\n")));
    auto* update = box.addButton(tr("Update"), QMessageBox::AcceptRole);
    box.addButton(tr("Keep the project's"), QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() == update) m_session.updateRecipe(id.toStdString(), *kept);
}

}  // namespace kettle
