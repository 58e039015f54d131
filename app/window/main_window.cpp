#include "app/window/main_window.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QLabel>
#include <QMessageBox>
#include <QMimeData>
#include <QScrollArea>
#include <QSplitter>
#include <QStatusBar>
#include <QTimer>
#include <QToolButton>
#include <QUrl>
#include <QVBoxLayout>
#include <cmath>

#include "app/board/board_view.h"
#include "app/board/finder.h"
#include "app/bringin/bring_sheet.h"
#include "app/checks/checks_drawer.h"
#include "app/exporting/export_sheet.h"
#include "app/library/library_shelf.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/session/autosave.h"
#include "app/style/file_choice.h"
#include "app/style/theme.h"
#include "app/tuner/tuner_view.h"
#include "app/window/board_keys.h"
#include "app/window/history_list.h"
#include "app/window/message_bar.h"
#include "app/window/place_menu.h"
#include "app/window/recovery_bar.h"
#include "app/window/search_list.h"
#include "app/window/start_page.h"
#include "app/window/window_memory.h"
#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

QStringList toList(const std::vector<std::string>& names) {
    QStringList list;
    for (const std::string& n : names) list << QString::fromStdString(n);
    return list;
}

}  // namespace

MainWindow::MainWindow(const std::filesystem::path& dataFolder, QWidget* parent)
    : QMainWindow(parent), m_data(dataFolder) {
    m_pictures = std::make_unique<PictureService>(dataFolder / "models", dataFolder / "environments");
    m_session.setModels(m_pictures->facts());
    m_modelNames = toList(stemsIn(dataFolder / "models", {".obj", ".glb", ".gltf", ".ply"}));
    m_environmentNames = toList(stemsIn(dataFolder / "environments", {".exr"}));
    const std::filesystem::path card = dataFolder / "test_card" / "card.png";
    if (std::filesystem::exists(card)) m_session.setTestCard(QString::fromStdString(card.string()));
    makeViews();
    makeMenus();
    connectViews();
    setAcceptDrops(true);
    resize(1280, 800);
    refreshTitle();
    refreshStatus();
    m_board->setFocus();
}

MainWindow::~MainWindow() {
    // The views first: they speak to the pictures while they go.
    delete takeCentralWidget();
    m_pictures.reset();
}

void MainWindow::makeViews() {
    auto* page = new QWidget(this);
    page->setObjectName(QStringLiteral("paper"));
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    m_recovery = new RecoveryBar(m_session, page);
    column->addWidget(m_recovery);
    m_looks = new LooksStrip(m_session, page);
    column->addWidget(m_looks);
    auto* rule = new QFrame(page);
    rule->setFixedHeight(1);
    rule->setObjectName(QStringLiteral("rule"));
    column->addWidget(rule);
    m_columns = new QSplitter(Qt::Horizontal, page);
    m_rows = new QSplitter(Qt::Vertical, m_columns);
    m_previews = new QSplitter(Qt::Horizontal, m_rows);
    m_model = new ModelView(m_session, *m_pictures, m_modelNames, m_environmentNames, m_previews);
    m_flat = new FlatView(m_session, *m_pictures, m_previews);
    m_boardArea = new QScrollArea(m_rows);
    m_boardArea->setMinimumHeight(140);
    m_board = new BoardView(m_session, *m_boardArea);
    m_boardArea->setWidget(m_board);
    m_boardArea->setFocusProxy(m_board);
    m_tuner = new TunerView(m_session, *m_pictures, m_columns);
    for (QSplitter* s : {m_columns, m_rows, m_previews}) {
        s->setHandleWidth(1);
        s->setChildrenCollapsible(false);
    }
    m_previews->setSizes({580, 400});
    m_rows->setSizes({330, 340});
    m_columns->setSizes({972, 308});
    m_columns->setStretchFactor(0, 1);
    m_columns->setStretchFactor(1, 0);
    column->addWidget(m_columns, 1);
    m_start = new StartPage(page);
    column->addWidget(m_start, 1);
    m_dropHint = new QLabel(page);
    m_dropHint->setObjectName(QStringLiteral("drop"));
    m_dropHint->setAlignment(Qt::AlignCenter);
    m_dropHint->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_dropHint->hide();
    setCentralWidget(page);
    m_export = new ExportSheet(m_session, m_environmentNames, page);
    m_bring = new BringSheet(m_session, page);
    m_message = new MessageBar(page);
    m_bring->setMayLeave([this] { return mayLeave(); });
    m_history = new HistoryList(m_session, page);
    m_search = new SearchList(m_session, page);
    m_checks = new ChecksDrawer(m_session, m_boardArea);
    makeLibrary(page);
    makeDeciding(page);
    m_shownLabel = new QLabel(this);
    m_probeLabel = new QLabel(this);
    m_memoryLabel = new QLabel(this);
    for (QLabel* l : {m_shownLabel, m_probeLabel, m_memoryLabel}) {
        l->setObjectName(QStringLiteral("quiet"));
        l->setContentsMargins(12, 0, 12, 0);
    }
    statusBar()->addWidget(m_shownLabel);
    statusBar()->addWidget(m_probeLabel, 1);
    statusBar()->addPermanentWidget(m_memoryLabel);
    statusBar()->addPermanentWidget(m_libraryChip);
    statusBar()->addPermanentWidget(m_objectsChip);
    m_checksChip = new QToolButton(this);
    m_checksChip->setObjectName(QStringLiteral("status"));
    m_checksChip->setToolTip(tr("What looks wrong in the project (F8)"));
    statusBar()->addPermanentWidget(m_checksChip);
    statusBar()->setSizeGripEnabled(false);
    m_looksTimer = new QTimer(this);
    m_looksTimer->setSingleShot(true);
    m_looksTimer->setInterval(250);
}

void MainWindow::connectViews() {
    connect(&m_session, &Session::projectChanged, this, &MainWindow::askPictures);
    connect(&m_session, &Session::lookChanged, this, &MainWindow::askPictures);
    connect(&m_session, &Session::openedChanged, this, &MainWindow::askPictures);
    connect(&m_session, &Session::projectChanged, this, &MainWindow::refreshTitle);
    connect(&m_session, &Session::fileChanged, this, &MainWindow::refreshTitle);
    connect(&m_session, &Session::lookChanged, this, &MainWindow::refreshStatus);
    connect(&m_session, &Session::selectionChanged, this, &MainWindow::refreshStatus);
    connect(&m_session, &Session::viewChanged, this, &MainWindow::refreshStatus);
    connect(&m_session, &Session::mapsArrived, this, &MainWindow::askPictures);
    connect(&m_session, &Session::sourcesChanged, this, [this](const QStringList& names) {
        m_message->tell(names.size() == 1
                            ? tr("%1 has changed and was read again.").arg(names.front())
                            : tr("%1 files have changed and were read again.").arg(names.size()),
                        false);
    });
    connect(&m_session, &Session::readingMaps, this, &MainWindow::refreshStatus);
    connect(&m_session, &Session::told, m_message, &MessageBar::tell);
    connect(&m_session, &Session::progress, m_message, &MessageBar::tellProgress);
    connect(m_export, &ExportSheet::finished, m_message, &MessageBar::tell);
    connect(m_pictures.get(), &PictureService::failed, this,
            [this](const QString& sentence) { m_message->tell(sentence, true); });
    connect(m_pictures.get(), &PictureService::boardReady, this,
            [this](quint64 number, const std::shared_ptr<const CardPictures>& pictures) {
                m_boardShown = number;
                m_board->setPictures(pictures);
                m_tuner->setPictures(pictures);
                refreshStatus();
            });
    connect(m_pictures.get(), &PictureService::lookReady, m_looks, &LooksStrip::setPicture);
    connect(m_pictures.get(), &PictureService::probeReady, this, &MainWindow::showProbe);
    connect(m_model, &ModelView::stateChanged, this, &MainWindow::refreshStatus);
    connect(m_model, &ModelView::pointed, this, [this](double u, double v) {
        m_flat->setMark(QPointF(u, v));
        m_pointed = QPointF(u, v);
        probe(u, v);
    });
    connect(m_flat, &FlatView::pointed, this, [this](double u, double v) {
        m_model->setMark(QPointF(u - std::floor(u), v - std::floor(v)));
        m_pointed = QPointF(u, v);
        probe(u, v);
    });
    connect(m_model, &ModelView::pointerLeft, this, [this] {
        m_flat->setMark(std::nullopt);
        m_tuner->setProbe(nullptr);
    });
    connect(m_flat, &FlatView::pointerLeft, this, [this] {
        m_model->setMark(std::nullopt);
        m_tuner->setProbe(nullptr);
    });
    m_placeMenu = new PlaceMenu(m_session, *m_pictures, *this);
    connect(m_model, &ModelView::actionsWanted, m_placeMenu, &PlaceMenu::openOnModel);
    connect(m_flat, &FlatView::actionsWanted, m_placeMenu, &PlaceMenu::openOnFlat);
    m_pins = new PinnedProbes(m_session, *m_pictures, m_flat);
    connect(m_pins, &PinnedProbes::placesChanged, this, [this] { m_flat->setPins(m_pins->places()); });
    connect(m_flat, &FlatView::resized, m_pins,
            [this] { m_pins->move(8, m_flat->height() - m_pins->height() - 8); });
    connect(m_tuner, &TunerView::pickWanted, this, [this](bool ofSurface) {
        m_model->startPicking();
        m_flat->startPicking(ofSurface);
    });
    connect(m_flat, &FlatView::picked, m_tuner, &TunerView::picked);
    connect(m_model, &ModelView::picked, m_tuner, &TunerView::picked);
    connect(m_flat, &FlatView::pickingStopped, m_model, &ModelView::stopPicking);
    connect(m_model, &ModelView::pickingStopped, m_flat, &FlatView::stopPicking);
    // Looks are pictured once the hand rests.
    connect(m_looksTimer, &QTimer::timeout, this, [this] {
        m_pictures->askLooks(m_session.project(), m_session.resources());
        m_checksAsked = m_pictures->askChecks(m_session.project(), m_session.look(), m_session.resources());
    });
    connect(m_pictures.get(), &PictureService::checksReady, this,
            [this](quint64 number, const auto& findings) {
                if (number == m_checksAsked) m_checks->setFindings(findings);
            });
    connect(m_model, &ModelView::shapeShown, this, [this] {
        const Mesh* mesh = m_model->mesh();
        if (mesh != nullptr) m_board->setModelParts(mesh->parts, mesh->partMaterials);
        m_flat->setModel(m_model->scene());
    });
    connect(m_model, &ModelView::partChosen, this, &MainWindow::chooseObject);
    connectLibrary();
    connectDeciding();
    connect(m_board, &BoardView::surfacePointed, this, &MainWindow::lightSurface);
    connect(m_board, &BoardView::mapsWanted, this, [this](const QString& surface) {
        const QString folder = chooseFolder(this, tr("Folder of finished maps"), {});
        if (folder.isEmpty()) return;
        m_bring->open({folder}, false,
                      QString::fromStdString(surfaceName(m_session.project(), surface.toStdString())));
    });
    connect(m_board, &BoardView::otherSetWanted, this, [this](const QString& set) {
        const QString folder = chooseFolder(this, tr("Folder of the other set"), {});
        if (!folder.isEmpty()) m_bring->openInPlaceOf(set.toStdString(), {folder});
    });
    connect(m_board, &BoardView::otherSetDropped, this, [this](const QString& set, const QString& folder) {
        m_bring->openInPlaceOf(set.toStdString(), {folder});
    });
    connect(m_board, &BoardView::layOverDropped, &m_session, &Session::layOver);
    connect(m_board, &BoardView::stampsWanted, this, &MainWindow::addStamps);
    connect(m_board, &BoardView::nameWanted, this, [this] {
        if (m_session.selectedLayer() != nullptr) return m_tuner->editLayerName();
        if (LookButton* shown = m_looks->button(QString::fromStdString(m_session.look())))
            Q_EMIT shown->renameAsked();
    });
    connect(m_board, &BoardView::dropTold, this, [this](const QString& words) { showDropHint(words); });
    connect(m_board, &BoardView::dropGone, m_dropHint, &QWidget::hide);
    connect(m_start, &StartPage::bringInWanted, this, &MainWindow::bringIn);
    connect(m_start, &StartPage::openWanted, this, &MainWindow::openFile);
    connect(m_start, &StartPage::demoWanted, this, &MainWindow::openDemo);
    connect(m_start, &StartPage::projectWanted, &m_session, &Session::open);
    connect(&m_session, &Session::projectChanged, this, &MainWindow::showStart);
    connect(&m_session, &Session::fileChanged, this, [this] { m_isPictured = false; });
    connect(m_model, &ModelView::stateChanged, this, &MainWindow::keepPicture);
    showStart();
    m_pictures->warm(m_session.resources());
    connect(m_checks, &ChecksDrawer::changed, this, &MainWindow::refreshChecks);
    connect(m_checksChip, &QToolButton::clicked, this, [this] { m_checks->setOpen(!m_checks->isOpen()); });
    connect(&m_session, &Session::selectionChanged, m_flat, &FlatView::stopPicking);
    new BoardKeys(*this, *m_board, [this] {
        const bool isPicking = m_model->isPicking() || m_flat->isPicking();
        m_model->stopPicking();
        m_flat->stopPicking();
        if (isPicking) return true;
        // One thing at a time, the newest kind of looking first.
        if (m_session.showsTestCard()) return m_session.showTestCard(false), true;
        if (!m_session.channelsOff().empty()) return m_session.allChannelsOn(), true;
        if (m_session.lookHere() || !m_session.comparison()) return false;
        m_session.compare({});
        return true;
    });
    refreshChecks();
}

void MainWindow::keepUnsavedWork(const QString& folder) {
    m_autosave = std::make_unique<Autosave>(m_session, folder);
    m_recovery->offer(*m_autosave);
}

void MainWindow::learnNamesIn(const std::filesystem::path& file) {
    m_bring->learnNamesIn(file);
}

void MainWindow::remember(const QString& file) {
    m_memory = std::make_unique<WindowMemory>(file);
    const QList<QByteArray> shape = m_memory->shape();
    if (shape.size() == 4) {
        restoreGeometry(shape[0]);
        m_columns->restoreState(shape[1]);
        m_rows->restoreState(shape[2]);
        m_previews->restoreState(shape[3]);
    }
    m_board->finder().setRecent(m_memory->steps());
    m_shelf->setTeamFolders(m_memory->libraries());
    m_start->setMemory(m_memory.get());
    if (m_memory->isDusk()) setDusk(true);
    connect(&m_board->finder(), &Finder::chosen, this,
            [this] { m_memory->setSteps(m_board->finder().recent()); });
    connect(&m_session, &Session::fileChanged, this, [this] {
        if (!m_session.filePath().isEmpty()) m_memory->addProject(m_session.filePath());
    });
}

void MainWindow::askPictures() {
    if (m_session.project().lines.empty()) {
        m_looksTimer->stop();
        m_checksAsked = 0;
        return m_checks->setFindings(std::make_shared<const std::vector<Finding>>());
    }
    m_boardAsked = m_pictures->askBoard(m_session.picturedProject(), m_session.look(), m_session.resources(),
                                        devicePixelRatioF());
    m_looksTimer->start();
}

bool MainWindow::isSettled() const {
    if (m_session.project().lines.empty()) return m_pictures->isIdle();  // there is nothing to picture
    return m_model->isCurrent() && m_flat->isCurrent() && m_boardAsked == m_boardShown &&
           m_pictures->isIdle() && !m_looksTimer->isActive();
}

void MainWindow::fill(QWidget* view) {
    m_filled = m_filled == view ? nullptr : view;
    const bool all = m_filled == nullptr;
    m_model->setVisible(all || m_filled == m_model);
    m_flat->setVisible(all || m_filled == m_flat);
    m_previews->setVisible(all || m_filled == m_model || m_filled == m_flat);
    m_boardArea->setVisible(all || m_filled == m_boardArea);
    m_rows->setVisible(all || m_filled != m_tuner);
    m_tuner->setVisible(all || m_filled == m_tuner);
    if (m_filled != nullptr) m_filled->setFocus();
}

void MainWindow::lightSurface(const QString& surface) {
    m_model->setLit(surface.isEmpty() ? std::nullopt : std::optional(surface.toStdString()));
}

void MainWindow::goToSurface(const QString& part) {
    const std::vector<int> surfaces = surfacesOfParts(m_session.project(), {part.toStdString()});
    const std::vector<std::string> ids = surfaceIds(m_session.project());
    if (surfaces.front() < 0) {
        m_message->tell(tr("%1 has no surface. Give it to one in the menu of a surface's heading.").arg(part),
                        false);
        return;
    }
    const std::string& id = ids[static_cast<std::size_t>(surfaces.front())];
    // On the surface at hand the chosen step stays.
    const Line* chosen = m_session.selectedLine();
    if (chosen == nullptr || chosen->surface != id) m_board->showSurface(id);
    const QString name = QString::fromStdString(surfaceName(m_session.project(), id));
    m_probeLabel->setText(name.isEmpty() ? part : tr("%1, of the surface %2").arg(part, name));
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    m_message->place();
}

void MainWindow::refreshTitle() {
    const QString name =
        m_session.filePath().isEmpty() ? tr("new project") : QFileInfo(m_session.filePath()).fileName();
    setWindowTitle(tr("%1[*] – Pale Kettle").arg(name));
    setWindowModified(m_session.isModified() && !m_session.project().lines.empty());
    const History& h = m_session.history();
    m_undo->setEnabled(h.canUndo());
    m_redo->setEnabled(h.canRedo());
    m_undo->setText(h.canUndo() ? tr("Undo: %1").arg(QString::fromStdString(h.undoName())) : tr("Undo"));
    m_redo->setText(h.canRedo() ? tr("Redo: %1").arg(QString::fromStdString(h.redoName())) : tr("Redo"));
}

void MainWindow::refreshStatus() {
    if (m_session.project().lines.empty()) {
        m_shownLabel->clear();
        m_probeLabel->clear();
        return m_memoryLabel->clear();
    }
    const Look* look = m_session.project().findLook(m_session.look());
    QString text = look != nullptr ? QString::fromStdString(look->name) : m_session.baseName();
    const Line* layer = m_session.project().findLine(m_session.viewedLayer());
    const QString name = layer != nullptr ? QString::fromStdString(layer->name) : QString();
    text += m_session.lookHere() ? tr(" · one step shown")
            : m_session.layerView() == LayerView::UpTo
                ? tr(" · surface up to %1 (, and . step through, Esc returns)").arg(name)
            : m_session.layerView() == LayerView::Below
                ? tr(" · bare surface (, and . step through, Esc returns)")
            : m_session.layerView() == LayerView::Only ? tr(" · only %1 (Esc returns)").arg(name)
            : m_session.layerView() == LayerView::Mask ? tr(" · mask of %1 (Esc returns)").arg(name)
                                                       : tr(" · surface");
    if (m_session.showsTestCard()) text += tr(" · test card");
    if (const std::size_t off = m_session.channelsOff().size(); off > 0)
        text += off == 1 ? tr(" · 1 channel off") : tr(" · %1 channels off").arg(off);
    if (m_session.comparison()) text += tr(" · compared with %1").arg(m_session.sideName(true));
    m_shownLabel->setText(text + QStringLiteral(" · ") + m_model->state());
    const ImageStore::Arrived arrived = m_session.arrived();
    const std::size_t megabytes = m_session.resources().store().bytesInUse() >> 20;
    // What was kept prepared lies on disk and takes no memory that anybody would miss.
    m_memoryLabel->setText(arrived.all > 0
                               ? tr("Reading the maps: %1 of %2").arg(arrived.read).arg(arrived.all)
                           : megabytes > 0 ? tr("%1 MB of maps").arg(megabytes)
                                           : QString());
}

void MainWindow::refreshChecks() {
    const int count = m_checks->toLookAt();
    m_checksChip->setText(count == 0 ? tr("checks") : tr("! checks (%1)").arg(count));
    theme::setWarning(m_checksChip, count != 0);
    m_checksChip->setAccessibleName(tr("Checks: %1 to look at").arg(count));
}

void MainWindow::probe(double u, double v) {
    const Line* line = m_session.selectedLine();
    if (line == nullptr) return;
    m_pictures->askProbe(m_session.project(), m_session.look(), line->id, m_session.selectedStep(), u, v,
                         m_session.resources());
}

void MainWindow::showProbe(const ProbeAnswer& a) {
    QString text = tr("at %1, %2").arg(a.u, 0, 'f', 3).arg(a.v, 0, 'f', 3);
    if (a.hasBefore) text += tr(" · before %1").arg(probeNumbers(a.before));
    text += tr(" · after %1").arg(probeNumbers(a.after));
    if (a.after.kind == Kind::Colour) {
        const auto& x = a.after.linear;
        const Hsv hsv = hsvOf({a.after.shown[0], a.after.shown[1], a.after.shown[2]});
        text += QStringLiteral(" · %1 · HSV %2° %3 %4")
                    .arg(QString::fromStdString(hexOfLinear(x[0], x[1], x[2])))
                    .arg(hsv.hue, 0, 'f', 0)
                    .arg(hsv.saturation, 0, 'f', 2)
                    .arg(hsv.value, 0, 'f', 2);
    }
    m_probeLabel->setText(text);
    m_tuner->setProbe(&a);
}

}  // namespace kettle
