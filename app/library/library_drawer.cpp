#include "app/library/library_drawer.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/library/library_list.h"
#include "app/style/file_choice.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "core/document/recipe_edits.h"
#include "core/exchange/kept_layers.h"
#include "core/steps/occlusion.h"

namespace kettle {
namespace {

constexpr int kWidth = 412;

/// What the model hides takes rays the first time, a second or so in which no other picture is made: a try
/// waits for no such thing.
bool waitsForRays(const std::vector<Shared<Step>>& steps, const std::vector<Shared<Line>>& lines,
                  const Project& project) {
    const auto isSlow = [](const Shared<Step>& step) {
        return step->type == kOcclusion || step->type == kShadowColour;
    };
    const auto hasSlow = [&](const std::vector<Shared<Line>>& all) {
        return std::any_of(all.begin(), all.end(), [&](const Shared<Line>& line) {
            return std::any_of(line->steps.begin(), line->steps.end(), isSlow);
        });
    };
    const bool asks = std::any_of(steps.begin(), steps.end(), isSlow) || hasSlow(lines);
    return asks && !hasSlow(project.lines);
}

/// The project with a recipe behind a step, for its picture; nothing if it does not fit there.
std::optional<Try> tryOf(const Project& project, const std::string& look, const std::string& after,
                         const Recipe& recipe) {
    const auto place = project.findStep(after);
    if (!place) return std::nullopt;
    const Line& line = *project.lines[place->line];
    if (std::find(recipe.kinds.begin(), recipe.kinds.end(), line.kind) == recipe.kinds.end())
        return std::nullopt;
    std::string id;
    Project next = edits::takeRecipe(project, recipe, id);
    Step step;
    step.id = "a try of the library", step.type = kRecipe + id;
    auto with = edits::insertStep(next, look, line.id, place->step + 1, step);
    if (!with) return std::nullopt;
    return Try{{}, std::move(*with), line.id, step.id};
}

/// The project with kept layers on a surface, for their picture on its base colour; nothing without one, or
/// where no set of the project fills them.
std::optional<Try> tryOf(const Project& project, const std::string& look, const std::string& surface,
                         const KeptLayer& layer) {
    const Line* base = project.lineOfChannel(channel::kBaseColour, surface);
    if (base == nullptr) return std::nullopt;
    Project layers = layer.layers;
    std::vector<std::string> ids, notes;
    if (!layer.slots().empty()) {
        auto filled = filledFrom(layer, project, setFor(layer, project), notes);
        if (!filled) return std::nullopt;
        layers = std::move(filled->layers);
    }
    auto with = edits::pasteLayers(project, look, layers, {layer.name, surface, ""}, ids, notes);
    if (!with) return std::nullopt;
    return Try{{}, std::move(*with), base->id, {}};
}

}  // namespace

LibraryDrawer::LibraryDrawer(Session& session, PictureService& pictures, LibraryShelf& shelf, QWidget* over)
    : Drawer(tr("Library"), kWidth, over),
      m_session(session),
      m_pictures(pictures),
      m_shelf(shelf),
      m_model(new LibraryModel(this)),
      m_list(new LibraryList(this)),
      m_soon(new QTimer(this)) {
    column().addWidget(makeTop());
    m_none = new QLabel(this);
    m_none->setObjectName(QStringLiteral("quiet"));
    m_none->setWordWrap(true);
    m_none->setContentsMargins(kMargin, 0, kMargin, 0);
    column().addWidget(m_none);
    m_list->setModel(m_model);
    m_list->setItemDelegate(new EntryDelegate(m_list));
    m_list->setViewMode(QListView::IconMode);
    m_list->setResizeMode(QListView::Adjust);
    m_list->setMovement(QListView::Static);
    m_list->setUniformItemSizes(true);
    m_list->setMouseTracking(true);
    m_list->setFrameShape(QFrame::NoFrame);
    m_list->setDragEnabled(true);
    m_list->setAcceptDrops(true);
    m_list->setDragDropMode(QAbstractItemView::DragDrop);
    m_list->viewport()->setAcceptDrops(true);  // a list whose entries stay put takes none by itself
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setAccessibleName(tr("Entries of the library"));
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    m_list->setObjectName(QStringLiteral("shelf"));
    column().addWidget(m_list, 1);
    column().addWidget(makeFoot());
    setFirst(m_search);

    // By a double click or Enter.
    connect(m_list, &QListView::activated, this, &LibraryDrawer::take);
    connect(m_list, &QWidget::customContextMenuRequested, this, &LibraryDrawer::openMenu);
    connect(m_list->selectionModel(), &QItemSelectionModel::currentChanged, this,
            &LibraryDrawer::refreshFoot);
    connect(m_list, &LibraryList::fileDropped, &m_shelf, &LibraryShelf::import);
    connect(m_list, &LibraryList::folderDropped, this,
            [this](const QModelIndex& index, const QString& folder) {
                m_session.layOverWith(folder, std::get<KeptLayer>(m_model->entry(index).content));
            });
    connect(&m_shelf, &LibraryShelf::changed, this, &LibraryDrawer::fill);
    m_soon->setSingleShot(true);
    m_soon->setInterval(200);
    connect(m_soon, &QTimer::timeout, this, &LibraryDrawer::askPictures);
    for (const auto signal : {&Session::projectChanged, &Session::lookChanged, &Session::selectionChanged})
        connect(&m_session, signal, this, [this] {
            if (isOpen()) m_soon->start();
        });
    connect(&m_session, &Session::projectChanged, this, [this] {
        if (isOpen()) fill();
    });
    connect(&m_pictures, &PictureService::tryReady, this,
            [this](quint64 number, const QString& key, const QImage& picture) {
                if (number == m_asked) m_model->setPicture(key, picture);
            });
}

QWidget* LibraryDrawer::makeTop() {
    auto* top = new QWidget(this);
    auto* rows = new QVBoxLayout(top);
    rows->setContentsMargins(kMargin, 0, kMargin, 0);
    rows->setSpacing(6);
    m_search = new QLineEdit(top);
    m_search->setPlaceholderText(tr("Find in the library"));
    m_search->setAccessibleName(tr("Find in the library"));
    m_search->setClearButtonEnabled(true);
    rows->addWidget(m_search);
    connect(m_search, &QLineEdit::textChanged, this, [this](const QString& words) {
        m_model->setSearch(words);
        if (m_model->rowCount() > 0) m_list->setCurrentIndex(m_model->index(0));
        refreshFoot();
    });
    connect(m_search, &QLineEdit::returnPressed, this, [this] { take(current()); });
    auto* kinds = new QHBoxLayout;
    kinds->setSpacing(4);
    const std::pair<EntryKind, QString> all[] = {{EntryKind::Recipe, tr("Recipes")},
                                                 {EntryKind::Layer, tr("Layers")},
                                                 {EntryKind::Ramp, tr("Ramps")},
                                                 {EntryKind::Palette, tr("Palettes")}};
    for (const auto& [kind, name] : all) {
        auto* button = new QToolButton(top);
        button->setText(name);
        button->setCheckable(true);
        button->setAutoExclusive(true);
        button->setChecked(kind == m_kind);
        connect(button, &QToolButton::clicked, this, [this, kind = kind] { showKind(kind); });
        kinds->addWidget(button);
        m_kinds.emplace_back(kind, button);
    }
    kinds->addStretch(1);
    auto* more = new QToolButton(top);
    more->setText(tr("More…"));
    more->setToolTip(tr("Import and export, and the folders of a team."));
    connect(more, &QToolButton::clicked, this, &LibraryDrawer::openMore);
    kinds->addWidget(more);
    rows->addLayout(kinds);
    return top;
}

QWidget* LibraryDrawer::makeFoot() {
    auto* foot = new QWidget(this);
    auto* row = new QHBoxLayout(foot);
    row->setContentsMargins(kMargin, 0, kMargin, 0);
    m_words = new QLabel(foot);
    m_words->setObjectName(QStringLiteral("quiet"));
    m_words->setWordWrap(true);
    m_words->setMinimumHeight(34);
    m_words->setAlignment(Qt::AlignVCenter | Qt::AlignLeft);
    row->addWidget(m_words, 1);
    m_take = new QPushButton(tr("Add"), foot);
    m_take->setToolTip(tr("Behind the chosen step (a double click does the same)"));
    connect(m_take, &QPushButton::clicked, this, [this] { take(current()); });
    row->addWidget(m_take);
    return foot;
}

void LibraryDrawer::opening() {
    if (m_shelf.entries().empty()) m_shelf.read();
    fill();
    m_soon->start();
}

void LibraryDrawer::showKind(EntryKind kind) {
    m_kind = kind;
    for (const auto& [of, button] : m_kinds) button->setChecked(of == kind);
    m_model->setKind(kind);
    refreshFoot();
    m_soon->start();
}

void LibraryDrawer::point(EntryKind kind, const QString& name) {
    m_search->clear();
    showKind(kind);
    m_pointed = name;
    fill();
}

void LibraryDrawer::fill() {
    const QString key = current().isValid() ? LibraryModel::keyOf(m_model->entry(current())) : QString();
    std::vector<LibraryEntry> entries;
    for (const auto& recipe : m_session.project().recipes) {
        LibraryEntry entry;
        entry.name = recipe->name;
        entry.purpose = recipe->purpose;
        entry.content = *recipe;
        entries.push_back(std::move(entry));
    }
    entries.insert(entries.end(), m_shelf.entries().begin(), m_shelf.entries().end());
    m_model->setEntries(std::move(entries));
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const QModelIndex index = m_model->index(row);
        const LibraryEntry& entry = m_model->entry(index);
        const bool isPointed =
            !m_pointed.isEmpty() && QString::fromStdString(entry.name) == m_pointed && !entry.file.empty();
        if (!isPointed && LibraryModel::keyOf(entry) != key) continue;
        m_list->setCurrentIndex(index);
        m_list->scrollTo(index);
        if (isPointed) {
            m_pointed.clear();
            break;
        }
    }
    refreshFoot();
}

QModelIndex LibraryDrawer::current() const {
    return m_list->currentIndex();
}

void LibraryDrawer::refreshFoot() {
    const QModelIndex index = current();
    const bool has = index.isValid() && index.row() < m_model->rowCount();
    m_none->setVisible(m_model->rowCount() == 0);
    m_none->setText(m_shelf.isReading() && m_shelf.entries().empty() ? tr("Reading the library …")
                    : !m_search->text().isEmpty()                    ? tr("Nothing here is called so.")
                                                  : tr("There is nothing of this kind yet."));
    const QString problem = has ? index.data(LibraryModel::Problem).toString() : QString();
    m_words->setText(!has                 ? tr("Drag one to a gap of a line, or double-click it.")
                     : !problem.isEmpty() ? problem
                     : index.data(LibraryModel::Purpose).toString().isEmpty()
                         ? index.data().toString()
                         : index.data(LibraryModel::Purpose).toString());
    m_take->setEnabled(has && problem.isEmpty() && !m_session.project().lines.empty());
}

void LibraryDrawer::askPictures() {
    std::vector<Try> tries;
    const Project& project = m_session.project();
    const Line* line = m_session.selectedLine();
    std::string surface = line != nullptr ? line->surface : std::string();
    if (project.findSurface(surface) == nullptr) surface = surfaceIds(project).front();
    for (int row = 0; row < m_model->rowCount() && tries.size() < 200; ++row) {
        const LibraryEntry& entry = m_model->entry(m_model->index(row));
        std::optional<Try> one;
        if (const auto* recipe = std::get_if<Recipe>(&entry.content);
            recipe != nullptr && !waitsForRays(recipe->steps, recipe->lines, project))
            one = tryOf(project, m_session.look(), m_session.selectedStep(), *recipe);
        if (const auto* layer = std::get_if<KeptLayer>(&entry.content);
            layer != nullptr && !waitsForRays({}, layer->layers.lines, project))
            one = tryOf(project, m_session.look(), surface, *layer);
        if (!one) continue;
        one->key = LibraryModel::keyOf(entry);
        tries.push_back(std::move(*one));
    }
    // What does not fit the line shows its own picture again.
    m_model->forgetPictures();
    m_list->viewport()->update();
    m_asked = m_pictures.askTries(std::move(tries), m_session.look(), m_session.resources());
}

void LibraryDrawer::take(const QModelIndex& index) {
    if (!index.isValid() || index.row() >= m_model->rowCount()) return;
    // A copy: what is added makes the list anew.
    const LibraryEntry entry = m_model->entry(index);
    if (const auto* recipe = std::get_if<Recipe>(&entry.content))
        m_session.addRecipe(*recipe);
    else if (const auto* layer = std::get_if<KeptLayer>(&entry.content))
        m_session.addKeptLayer(*layer);
    else if (const auto* ramp = std::get_if<NamedRampEntry>(&entry.content))
        m_session.takeRamp(ramp->ramp, QString::fromStdString(entry.name));
    else if (const auto* palette = std::get_if<Palette>(&entry.content))
        m_session.takeRamp(rampOf(*palette, true), QString::fromStdString(entry.name));
}

void LibraryDrawer::openMenu(QPoint at) {
    const QModelIndex index = m_list->indexAt(at);
    if (!index.isValid()) return;
    m_list->setCurrentIndex(index);
    const LibraryEntry entry = m_model->entry(index);
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Add behind the chosen step"), this, [this, index] { take(index); })
        ->setEnabled(entry.problem.empty());
    if (const auto* palette = std::get_if<Palette>(&entry.content)) {
        const QString name = QString::fromStdString(entry.name);
        menu->addAction(tr("As a ramp with held stops"), this,
                        [this, p = *palette, name] { m_session.takeRamp(rampOf(p, true), name); });
        menu->addAction(tr("As a ramp that passes over"), this,
                        [this, p = *palette, name] { m_session.takeRamp(rampOf(p, false), name); });
    }
    menu->addAction(tr("Export…"), this, &LibraryDrawer::chooseExport)->setEnabled(entry.problem.empty());
    auto* keep = menu->addAction(tr("Keep as one's own"), this, [this, entry] { m_shelf.keep(entry); });
    keep->setEnabled(entry.problem.empty() && (entry.origin != EntryOrigin::Own || entry.file.empty()));
    auto* forget =
        menu->addAction(tr("Remove from the library"), this, [this, entry] { m_shelf.forget(entry); });
    forget->setEnabled(entry.origin == EntryOrigin::Own && !entry.file.empty());
    menu->popup(m_list->viewport()->mapToGlobal(at));
}

void LibraryDrawer::openMore() {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Import a file…"), this, &LibraryDrawer::chooseImport);
    menu->addAction(tr("Export the chosen…"), this, &LibraryDrawer::chooseExport)
        ->setEnabled(current().isValid());
    menu->addSeparator();
    menu->addAction(tr("Add a team's folder…"), this, &LibraryDrawer::chooseTeamFolder);
    for (const QString& folder : m_shelf.teamFolders())
        menu->addAction(tr("Leave %1").arg(folder), this, [this, folder] {
            QStringList folders = m_shelf.teamFolders();
            folders.removeAll(folder);
            m_shelf.setTeamFolders(folders);
        });
    menu->popup(QCursor::pos());
}

void LibraryDrawer::chooseImport() {
    const QString file = chooseFile(this, tr("Import into the library"), {},
                                    tr("Entries of a library (*.json);;All files (*)"));
    if (!file.isEmpty()) m_shelf.import(file);
}

void LibraryDrawer::chooseExport() {
    const QModelIndex index = current();
    if (!index.isValid()) return;
    const LibraryEntry entry = m_model->entry(index);
    const QString folder = chooseFolder(this, tr("Export to"), {});
    if (folder.isEmpty()) return;
    const auto kept = keepEntry(folder.toStdString(), entry);
    if (kept)
        Q_EMIT m_session.told(tr("Wrote %1.").arg(QString::fromStdString(kept->string())), false);
    else
        Q_EMIT m_session.told(QString::fromStdString(kept.error().sentence), true);
}

void LibraryDrawer::chooseTeamFolder() {
    const QString folder = chooseFolder(this, tr("A team's library"), {});
    if (folder.isEmpty()) return;
    m_shelf.setTeamFolders(m_shelf.teamFolders() + QStringList{QFileInfo(folder).absoluteFilePath()});
}

}  // namespace kettle
