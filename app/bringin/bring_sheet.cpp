#include "app/bringin/bring_sheet.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QEvent>
#include <QFileInfo>
#include <QKeyEvent>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

#include "app/bringin/bring_row.h"
#include "app/style/file_choice.h"
#include "app/style/labels.h"
#include "app/style/theme.h"

namespace kettle {

BringSheet::BringSheet(Session& session, QWidget* parent)
    : QFrame(parent),
      m_session(session),
      m_title(new QLabel(tr("Bring in"), this)),
      m_summary(new QLabel(this)),
      m_doing(new QLabel(this)),
      m_area(new QScrollArea(this)),
      m_progress(new QProgressBar(this)),
      m_subFolders(new QCheckBox(tr("Sub-folders too"), this)),
      m_into(new QComboBox(this)),
      m_addFiles(new QPushButton(tr("Add files…"), this)),
      m_addFolder(new QPushButton(tr("Add a folder…"), this)),
      m_accept(new QPushButton(tr("Bring in"), this)),
      m_cancel(new QPushButton(tr("Cancel"), this)) {
    setObjectName(theme::kSheet);
    setAccessibleName(tr("Bring in"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 18, 24, 18);
    column->setSpacing(12);
    auto* head = new QHBoxLayout;
    head->setSpacing(12);
    m_title->setObjectName(QStringLiteral("title"));
    m_summary->setObjectName(QStringLiteral("quiet"));
    head->addWidget(m_title);
    head->addWidget(m_summary, 1);
    head->addWidget(m_addFiles);
    head->addWidget(m_addFolder);
    column->addLayout(head);
    m_area->setWidgetResizable(true);
    m_area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_area, 1);
    makeFoot(*column);
    connect(&m_reader, &BringReader::finished, this, &BringSheet::showPlan);
    connect(&m_reader, &BringReader::progress, this, [this](int done, int all) {
        m_progress->setRange(0, all);
        m_progress->setValue(done);
        m_doing->setText(tr("Reading %1 of %2 pictures").arg(done + 1).arg(all));
    });
    connect(m_addFiles, &QPushButton::clicked, this, [this] {
        const QString file =
            chooseFile(this, tr("Add a picture or a model"), {},
                       tr("Pictures and models (*.png *.tif *.tiff *.exr *.jpg *.jpeg *.tga *.bmp "
                          "*.hdr *.webp *.obj *.glb *.gltf *.ply);;All files (*)"));
        if (!file.isEmpty()) open({file}, true, m_surface);
    });
    connect(m_addFolder, &QPushButton::clicked, this, [this] {
        const QString folder = chooseFolder(this, tr("Folder of finished maps"), {});
        if (!folder.isEmpty()) open({folder}, true, m_surface);
    });
    parent->installEventFilter(this);
    hide();
}

void BringSheet::makeFoot(QVBoxLayout& column) {
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(6);
    column.addWidget(m_progress);
    auto* foot = new QHBoxLayout;
    foot->setSpacing(12);
    m_doing->setObjectName(QStringLiteral("quiet"));
    m_subFolders->setToolTip(tr("Looks in the folders inside the folder too; each gives sets of its own"));
    m_into->setAccessibleName(tr("Where it goes"));
    m_into->addItem(tr("as a new project"), false);
    m_into->addItem(tr("into this project"), true);
    m_accept->setObjectName(QStringLiteral("primary"));
    foot->addWidget(m_doing, 1);
    foot->addWidget(m_subFolders);
    foot->addWidget(m_into);
    foot->addWidget(m_cancel);
    foot->addWidget(m_accept);
    column.addLayout(foot);
    connect(m_subFolders, &QCheckBox::toggled, this,
            [this] { m_reader.read(m_paths, m_subFolders->isChecked(), m_session.resources()); });
    connect(m_accept, &QPushButton::clicked, this, &BringSheet::accept);
    connect(m_cancel, &QPushButton::clicked, this, [this] { hide(); });
}

void BringSheet::open(const QStringList& paths, bool add, const QString& surface) {
    const bool goesOn = add && isVisible();
    if (!goesOn) m_replaced.clear();
    m_paths = goesOn ? m_paths + paths : paths;
    m_paths.removeDuplicates();
    m_surface = surface;
    if (!goesOn) m_into->setCurrentIndex(surface.isEmpty() ? 0 : 1);
    begin();
}

void BringSheet::openInPlaceOf(const std::string& set, const QStringList& paths) {
    m_replaced = set;
    m_paths = paths;
    m_surface.clear();
    begin();
}

void BringSheet::begin() {
    if (!isVisible()) m_before = QApplication::focusWidget();
    m_plan.reset();
    const bool isNew = m_replaced.empty();
    m_title->setText(isNew ? tr("Bring in") : tr("Replace a set"));
    m_accept->setText(isNew ? tr("Bring in") : tr("Replace"));
    auto* blank = new QWidget;
    blank->setObjectName(QStringLiteral("content"));
    blank->setStyleSheet(QStringLiteral("QWidget#content { background: transparent; }"));
    m_area->setWidget(blank);
    m_summary->clear();
    m_progress->setRange(0, 0);
    m_progress->show();
    m_doing->setText(m_paths.size() == 1 ? tr("Reading %1 …").arg(QFileInfo(m_paths.front()).fileName())
                                         : tr("Reading …"));
    m_accept->setEnabled(false);
    m_into->setVisible(isNew && !m_session.project().lines.empty());
    m_subFolders->setVisible(std::any_of(m_paths.begin(), m_paths.end(),
                                         [](const QString& path) { return QFileInfo(path).isDir(); }));
    m_reader.read(m_paths, m_subFolders->isChecked(), m_session.resources());
    place();
    show();
    raise();
    m_cancel->setFocus();
}

void BringSheet::place() {
    const QRect room = parentWidget()->rect().adjusted(40, 24, -40, -24);
    setGeometry(room.width() > 1280 ? QRect(room.center().x() - 640, room.top(), 1280, room.height()) : room);
}

void BringSheet::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    m_reader.stop();
    if (m_before) m_before->setFocus();
}

void BringSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return hide();
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && m_accept->isEnabled())
        return accept();
    // The board's keys are none while the sheet lies over it.
    event->accept();
}

bool BringSheet::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible()) place();
    return QFrame::eventFilter(watched, event);
}

void BringSheet::showPlan(const std::shared_ptr<const Result<BringPlan>>& plan) {
    if (!isVisible()) return;
    m_progress->hide();
    if (!*plan) {
        m_doing->setText(theme::breakable(QString::fromStdString(plan->error().sentence)));
        m_summary->setText(tr("nothing to bring in"));
        Q_EMIT m_session.told(QString::fromStdString(plan->error().sentence), true);
        return;
    }
    m_plan = std::make_unique<BringPlan>(**plan);
    if (!m_learnt.empty()) recall(learntNames(), *m_plan);
    if (!m_surface.isEmpty() && !m_plan->sets.empty()) {
        m_plan->sets.front().surface = m_surface.toStdString();
        m_plan->sets.front().drives = true;
    }
    m_doing->setText(m_replaced.empty()
                         ? tr("Nothing is written to the sources. All of this can be changed later.")
                         : tr("Maps are matched by what they become; all steps and looks stay."));
    rebuild();
    m_accept->setEnabled(true);
    m_accept->setFocus();
}

void BringSheet::refreshSummary() {
    int pictures = 0, known = 0, toLook = 0;
    for (const PlannedSet& set : m_plan->sets)
        for (const PlannedMap& map : set.maps) {
            pictures += static_cast<int>(std::max<std::size_t>(1, map.tiles.size()));
            if (!map.isTaken && map.warning.empty()) continue;  // offered, or left out by hand
            if (map.name.isGuess || !map.warning.empty() || !map.name.isKnown)
                ++toLook;
            else
                ++known;
        }
    toLook += static_cast<int>(m_plan->leftOut.size());
    QString text = pictures == 1 ? tr("1 picture") : tr("%1 pictures").arg(pictures);
    if (m_plan->model) text = pictures == 0 ? tr("a model") : text + tr(" and a model");
    if (known > 0) text += tr(" · %1 recognised").arg(known);
    if (toLook > 0) text += tr(" · %1 to look at").arg(toLook);
    m_summary->setText(text);
}

void BringSheet::accept() {
    if (!m_plan || !m_accept->isEnabled()) return;
    const BringPlan plan = *m_plan;
    const bool intoThis = !m_into->isHidden() && m_into->currentData().toBool();
    const std::string replaced = m_replaced;
    if (replaced.empty() && !intoThis && m_mayLeave && !m_mayLeave()) return;
    hide();
    if (!m_learnt.empty()) learnNames();
    if (replaced.empty())
        m_session.takePlan(plan, intoThis);
    else
        m_session.replaceSet(replaced, plan);
}

LearntNames BringSheet::learntNames() {
    const auto names = readLearntNames(m_learnt);
    if (!names) Q_EMIT m_session.told(QString::fromStdString(names.error().sentence), true);
    return names ? *names : LearntNames();
}

void BringSheet::learnNames() {
    auto names = readLearntNames(m_learnt);
    if (!names) return;  // what somebody wrote there is not replaced
    const LearntNames before = *names;
    learn(*names, *m_plan);
    if (*names == before) return;
    if (const auto done = writeLearntNames(m_learnt, *names); !done)
        Q_EMIT m_session.told(QString::fromStdString(done.error().sentence), true);
}

}  // namespace kettle
