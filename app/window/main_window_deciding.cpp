// The main window and deciding: the sheet of candidates, from any control and from the strip of looks.
#include <algorithm>

#include "app/explore/explore_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/exporting/maps_page.h"
#include "app/exporting/materials_page.h"
#include "app/exporting/pictures_page.h"
#include "app/library/library_shelf.h"
#include "app/looks/looks_strip.h"
#include "app/preview/model_view.h"
#include "app/tuner/tuner_view.h"
#include "app/window/main_window.h"

namespace kettle {

void MainWindow::makeDeciding(QWidget* page) {
    m_explore = new ExploreSheet(m_session, *m_pictures, page);
    // As the model is seen; a picture that is narrower than the view's shows it from farther away.
    const auto view = [this](double aspect) {
        Camera camera = m_model->camera();
        const double own = static_cast<double>(m_model->width()) / std::max(1, m_model->height());
        camera.distance *= static_cast<float>(std::max(1.0, own / aspect));
        return camera;
    };
    m_explore->setView(view);
    m_export->maps().setScenes(m_pictures->sceneStore());
    m_export->maps().setShelf({[this]() -> const std::vector<LibraryEntry>& { return m_shelf->entries(); },
                               [this](const LibraryEntry& entry) { return m_shelf->keep(entry); },
                               [this](const LibraryEntry& entry) { return m_shelf->forget(entry); }});
    connect(m_shelf, &LibraryShelf::changed, &m_export->maps(), &MapsPage::refreshArrangements);
    m_export->materials().setScenes(m_pictures->sceneStore());
    m_export->pictures().setView(m_pictures->sceneStore(), m_data / "environments", view);
}

void MainWindow::connectDeciding() {
    connect(m_tuner, &TunerView::exploreWanted, this,
            [this](const QString& step, const QString& control, bool down) {
                m_explore->explore(step.toStdString(), control.toStdString(), down);
            });
    connect(m_looks, &LooksStrip::exploreWanted, m_explore, &ExploreSheet::open);
    connect(m_explore, &ExploreSheet::sheetWanted, m_export, &ExportSheet::openContactSheet);
}

}  // namespace kettle
