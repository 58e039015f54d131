// The menu bar: every action of the window, with its shortcut.
#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QDir>
#include <QFileInfo>
#include <QMenuBar>
#include <QScrollArea>

#include "app/board/board_view.h"
#include "app/checks/checks_drawer.h"
#include "app/compare/compare_menu.h"
#include "app/explore/explore_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/library/library_drawer.h"
#include "app/library/pack_sheet.h"
#include "app/looks/looks_strip.h"
#include "app/objects/objects_drawer.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/style/file_choice.h"
#include "app/style/theme.h"
#include "app/tuner/tuner_view.h"
#include "app/window/about_box.h"
#include "app/window/history_list.h"
#include "app/window/main_window.h"
#include "app/window/report.h"
#include "app/window/search_list.h"
#include "app/window/window_memory.h"

namespace kettle {

void MainWindow::makeMenus() {
    const auto add = [](QMenu* menu, const QString& name, const QKeySequence& keys, auto receiver,
                        auto slot) {
        auto* action = menu->addAction(name);
        action->setShortcut(keys);
        QObject::connect(action, &QAction::triggered, receiver, slot);
        return action;
    };
    auto* file = menuBar()->addMenu(tr("File"));
    add(file, tr("Bring in a folder of maps…"), QKeySequence(tr("Ctrl+B")), this, [this] { bringIn(); });
    add(file, tr("Bring in a picture or a model…"), QKeySequence(tr("Ctrl+Shift+B")), this, [this] {
        const QString given =
            chooseFile(this, tr("Bring in a picture or a model"), {},
                       tr("Pictures and models (*.png *.tif *.tiff *.exr *.jpg *.jpeg *.tga "
                          "*.bmp *.hdr *.webp *.obj *.glb *.gltf *.ply);;All files (*)"));
        if (!given.isEmpty()) take({given});
    });
    add(file, tr("Open…"), QKeySequence::Open, this, [this] { openFile(); });
    m_recent = file->addMenu(tr("Open again"));
    connect(file, &QMenu::aboutToShow, this, &MainWindow::fillRecentMenu);
    add(file, tr("Find missing files in a folder…"), {}, this, [this] {
        const QString folder = chooseFolder(this, tr("Look for missing files in"), {});
        if (!folder.isEmpty()) m_session.lookForMissing(folder);
    });
    file->addSeparator();
    add(file, tr("Save"), QKeySequence::Save, this, [this] { saveFile(false); });
    add(file, tr("Save as…"), QKeySequence(tr("Ctrl+Shift+S")), this, [this] { saveFile(true); });
    file->addSeparator();
    add(file, tr("Export…"), QKeySequence(tr("Ctrl+E")), m_export, [this] { m_export->open(); });
    add(file, tr("Close the project"), QKeySequence::Close, this, [this] {
        if (mayLeave()) m_session.close();
    });
    file->addSeparator();
    add(file, tr("Quit"), QKeySequence::Quit, this, [this] { close(); });
    auto* edit = menuBar()->addMenu(tr("Edit"));
    m_undo = add(edit, tr("Undo"), QKeySequence::Undo, &m_session, [this] { m_session.undo(); });
    m_redo =
        add(edit, tr("Redo"), QKeySequence(tr("Ctrl+Shift+Z")), &m_session, [this] { m_session.redo(); });
    add(edit, tr("History…"), QKeySequence(tr("Ctrl+H")), m_history, [this] { m_history->open(); });
    add(edit, tr("Find in the project…"), QKeySequence::Find, m_search, [this] { m_search->open(); });
    edit->addSeparator();
    const auto copy = [this] {
        const QString text = m_session.copySelection();
        if (!text.isEmpty()) QApplication::clipboard()->setText(text);
        return !text.isEmpty();
    };
    add(edit, tr("Copy steps"), QKeySequence::Copy, m_board, copy);
    add(edit, tr("Cut steps"), QKeySequence::Cut, m_board, [this, copy] {
        if (copy()) m_session.removeSelection();
    });
    add(edit, tr("Paste steps"), QKeySequence::Paste, m_board,
        [this] { m_session.paste(QApplication::clipboard()->text()); });
    add(edit, tr("Duplicate steps"), QKeySequence(tr("Ctrl+D")), m_board,
        [this] { m_session.duplicateSelection(); });
    auto* line = menuBar()->addMenu(tr("Line"));
    // What stands behind a tab is a key of the board itself: it works there and is only shown here.
    add(line, tr("Add a step behind this one…\t/"), {}, m_board, [this] { m_board->openFinder(); });
    add(line, tr("Bypass this step\tX"), {}, &m_session, [this] { m_session.bypassSelection(); });
    add(line, tr("Remove this step\tDel"), {}, &m_session, [this] { m_session.removeSelection(); });
    add(line, tr("Move it towards the source"), QKeySequence(tr("Alt+Left")), &m_session,
        [this] { m_session.moveAlong(-1); });
    add(line, tr("Move it towards the surface"), QKeySequence(tr("Alt+Right")), &m_session,
        [this] { m_session.moveAlong(1); });
    add(line, tr("Choose all its steps"), QKeySequence::SelectAll, m_board,
        [this] { m_session.selectLine(); });
    add(line, tr("Pack as a recipe…"), QKeySequence(tr("Ctrl+Shift+P")), m_pack, [this] { m_pack->open(); });
    line->addSeparator();
    add(line, tr("Fold this line\tF"), {}, m_board, [this] {
        if (m_session.selectedLine() != nullptr) m_board->toggleFold(m_session.selectedLine()->id);
    });
    line->addSeparator();
    add(line, tr("Look here"), QKeySequence(tr("Ctrl+Return")), &m_session,
        [this] { m_session.toggleLookHere(); });
    add(line, tr("Back to surface\tEsc"), {}, &m_session, [this] { m_session.setLookHere(std::nullopt); });
    line->addSeparator();
    add(line, tr("Pin a probe under the pointer"), QKeySequence(Qt::Key_P), this, [this] {
        if (m_pointed) m_pins->pin(*m_pointed);
    });
    add(line, tr("Take all pinned probes off"), {}, this, [this] { m_pins->clear(); });
    auto* layer = menuBar()->addMenu(tr("Layer"));
    layer->setToolTipsVisible(true);
    connect(layer, &QMenu::aboutToShow, this, [this, layer] {
        layer->clear();
        m_board->fillLayerMenu(*layer);
    });
    auto* surface = menuBar()->addMenu(tr("Surface"));
    surface->setToolTipsVisible(true);
    connect(surface, &QMenu::aboutToShow, this, [this, surface] {
        surface->clear();
        const Line* chosen = m_session.selectedLine();
        std::string id = chosen != nullptr ? chosen->surface : std::string();
        if (id.empty() && !m_session.project().surfaces.empty())
            id = m_session.project().surfaces.front()->id;
        m_board->fillSurfaceMenu(*surface, id);
    });
    auto* look = menuBar()->addMenu(tr("Look"));
    add(look, tr("Keep look"), QKeySequence(tr("Ctrl+K")), m_looks, [this] { m_looks->keep(); });
    add(look, tr("Explore…"), QKeySequence(Qt::Key_E), m_explore, [this] { m_explore->open(); });
    add(look, tr("Contact sheet…"), QKeySequence(tr("Ctrl+Shift+E")), m_export,
        [this] { m_export->openContactSheet(); });
    auto* view = menuBar()->addMenu(tr("View"));
    add(view, tr("Fill the window with the model"), QKeySequence(Qt::Key_F9), this,
        [this] { fill(m_model); });
    add(view, tr("Fill the window with the flat map"), QKeySequence(Qt::Key_F10), this,
        [this] { fill(m_flat); });
    add(view, tr("Fill the window with the board"), QKeySequence(Qt::Key_F11), this,
        [this] { fill(m_boardArea); });
    add(view, tr("Fill the window with the tuner"), QKeySequence(Qt::Key_F12), this,
        [this] { fill(m_tuner); });
    view->addSeparator();
    add(view, tr("Library"), QKeySequence(Qt::Key_F6), this,
        [this] { m_library->setOpen(!m_library->isOpen()); });
    add(view, tr("Objects"), QKeySequence(Qt::Key_F7), this,
        [this] { m_objects->setOpen(!m_objects->isOpen()); });
    add(view, tr("Checks"), QKeySequence(Qt::Key_F8), this,
        [this] { m_checks->setOpen(!m_checks->isOpen()); });
    view->addSeparator();
    auto* compare = view->addMenu(tr("Compare"));
    connect(compare, &QMenu::aboutToShow, this, [this, compare] {
        compare->clear();
        fillCompareMenu(*compare, m_session, this);
    });
    add(view, tr("Change the compared sides"), QKeySequence(Qt::Key_C), &m_session, [this] {
        // Without a comparison the key begins one with the untouched original.
        if (m_session.comparison())
            m_session.swapSides();
        else if (!m_session.project().lines.empty())
            m_session.compare(Comparison{});
    });
    add(view, tr("Keep this picture"), QKeySequence(tr("Ctrl+Shift+K")), m_model,
        [this] { m_model->keepPicture(); });
    add(view, tr("All channels on\tEsc"), {}, &m_session, [this] { m_session.allChannelsOn(); });
    view->addSeparator();
    add(view, tr("Frame the model"), {}, m_model, [this] { m_model->frameModel(); });
    add(view, tr("Fit the flat map"), {}, m_flat, [this] { m_flat->fit(); });
    add(view, tr("Fit the board\tHome"), {}, m_board, [this] { m_board->fitAll(); });
    auto* worked = add(view, tr("Only lines with steps of their own"), {}, m_board,
                       [this](bool on) { m_board->setOnlyWorked(on); });
    worked->setCheckable(true);
    view->addSeparator();
    // What colour lines compute in; the numbers outside stay as they are.
    auto* spaces = view->addMenu(tr("Working space"));
    for (const std::string& name : workingSpaceNames())
        add(spaces, QString::fromStdString(name), {}, &m_session, [this, name] {
            Project next = m_session.project();
            next.colour.workingSpace = name;
            m_session.apply(next, tr("Working space"));
        })->setCheckable(true);
    connect(spaces, &QMenu::aboutToShow, this, [this, spaces] {
        for (QAction* a : spaces->actions())
            a->setChecked(a->text().toStdString() == m_session.project().colour.workingSpace);
    });
    auto* configuration = view->addMenu(tr("Colour configuration"));
    connect(configuration, &QMenu::aboutToShow, this,
            [this, configuration] { fillConfigurationMenu(configuration); });
    view->addSeparator();
    m_dusk = add(view, tr("Dusk, for a dark room"), {}, this, [this](bool on) { setDusk(on); });
    m_dusk->setCheckable(true);
    makeHelpMenu();
}

void MainWindow::makeHelpMenu() {
    auto* help = menuBar()->addMenu(tr("Help"));
    m_report = new Report(m_session, {}, this);
    help->addAction(tr("Copy details for a report"), this, [this] {
        QApplication::clipboard()->setText(m_report->details());
        Q_EMIT m_session.told(tr("Version, machine and the last problems are on the clipboard."), false);
    });
    help->addSeparator();
    help->addAction(tr("About Pale Kettle"), this, [this] { showAbout(this); });
}

void MainWindow::prepareIn(const std::filesystem::path& folder) {
    ImageStore& store = m_session.resources().store();
    store.prepareIn(folder, true);
    auto [prepared, keeps] = store.prepared();
    m_pictures->sceneStore()->prepareIn(std::move(prepared), keeps);
}

void MainWindow::keepLog(const QString& file) {
    delete m_report;
    m_report = new Report(m_session, file, this);
}

void MainWindow::setDusk(bool on) {
    theme::choose(on ? theme::Theme::Dusk : theme::Theme::Pale);
    m_dusk->setChecked(on);
    if (m_memory) m_memory->setDusk(on);
    // What paints its own pictures of colours and tones does so anew.
    m_tuner->rebuildForTheme();
    refreshStatus();
}

void MainWindow::fillRecentMenu() {
    m_recent->clear();
    const QStringList files = m_memory ? m_memory->projects() : QStringList();
    for (const QString& path : files) {
        if (path == m_session.filePath()) continue;
        const QFileInfo info(path);
        auto* action = m_recent->addAction(
            tr("%1  in  %2").arg(info.fileName(), QDir(info.absolutePath()).dirName()), this, [this, path] {
                if (mayLeave()) m_session.open(path);
            });
        action->setToolTip(path);
    }
    m_recent->setToolTipsVisible(true);
    m_recent->setEnabled(!m_recent->isEmpty());
}

void MainWindow::fillConfigurationMenu(QMenu* menu) {
    menu->clear();
    const std::string& own = m_session.project().colour.configuration;
    const bool isSet = qEnvironmentVariableIsSet("OCIO");
    auto* standard = menu->addAction(isSet ? tr("That of $OCIO") : tr("The shipped one"), &m_session,
                                     [this] { m_session.chooseConfiguration({}); });
    standard->setCheckable(true);
    standard->setChecked(own.empty());
    if (!own.empty()) {
        auto* chosen = menu->addAction(QString::fromStdString(own));
        chosen->setCheckable(true);
        chosen->setChecked(true);
    }
    menu->addSeparator();
    menu->addAction(tr("Choose a file…"), this, [this] {
        const QString file = chooseFile(this, tr("Choose a colour configuration"), {},
                                        tr("OpenColorIO configurations (*.ocio);;All files (*)"));
        if (!file.isEmpty()) m_session.chooseConfiguration(file);
    });
}

}  // namespace kettle
