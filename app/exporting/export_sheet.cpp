#include "app/exporting/export_sheet.h"

#include <QApplication>
#include <QButtonGroup>
#include <QClipboard>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/exporting/maps_page.h"
#include "app/exporting/materials_page.h"
#include "app/exporting/pictures_page.h"
#include "app/style/theme.h"

namespace kettle {

ExportSheet::ExportSheet(Session& session, const QStringList& environments, QWidget* parent)
    : QFrame(parent),
      m_tabs(new QButtonGroup(this)),
      m_stack(new QStackedWidget(this)),
      m_maps(new MapsPage(session, m_stack)),
      m_materials(new MaterialsPage(session, m_stack)),
      m_pictures(new PicturesPage(session, environments, m_stack)),
      m_summary(new QLabel(this)),
      m_doing(new QLabel(this)),
      m_progress(new QProgressBar(this)),
      m_start(new QPushButton(tr("Export"), this)),
      m_close(new QPushButton(tr("Close"), this)),
      m_copy(new QPushButton(tr("Copy as a command"), this)) {
    setObjectName(theme::kSheet);
    setAccessibleName(tr("Export"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(12);
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    auto* title = new QLabel(tr("Export"), this);
    title->setObjectName(QStringLiteral("title"));
    head->addWidget(title);
    head->addSpacing(12);
    addPage(m_maps, tr("Maps"), *head);
    addPage(m_materials, tr("Materials"), *head);
    addPage(m_pictures, tr("Pictures"), *head);
    head->addStretch(1);
    column->addLayout(head);
    column->addWidget(m_stack, 1);
    m_summary->setWordWrap(true);
    m_summary->setObjectName(QStringLiteral("quiet"));
    column->addWidget(m_summary);
    m_progress->setRange(0, 1000);
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(6);
    column->addWidget(m_progress);
    auto* buttons = new QHBoxLayout;
    m_doing->setObjectName(QStringLiteral("quiet"));
    buttons->addWidget(m_doing, 1);
    buttons->addWidget(m_copy);
    buttons->addWidget(m_close);
    buttons->addWidget(m_start);
    m_start->setObjectName(QStringLiteral("primary"));
    column->addLayout(buttons);
    connect(m_tabs, &QButtonGroup::idClicked, this, &ExportSheet::showPage);
    connect(m_start, &QPushButton::clicked, this, &ExportSheet::start);
    connect(m_close, &QPushButton::clicked, this, [this] { m_running ? stop() : hide(); });
    m_copy->setToolTip(tr("The same for the batch tool, in a script or on a farm, onto the clipboard"));
    connect(m_copy, &QPushButton::clicked, this, &ExportSheet::copyCommand);
    m_tabs->button(0)->setChecked(true);
    hide();
}

ExportSheet::~ExportSheet() {
    m_cancel.cancel();
    if (m_thread.joinable()) m_thread.join();
}

void ExportSheet::addPage(ExportPage* page, const QString& name, QHBoxLayout& tabs) {
    auto* tab = new QToolButton(this);
    tab->setText(name);
    tab->setCheckable(true);
    tab->setObjectName(QStringLiteral("page"));
    m_tabs->addButton(tab, m_stack->addWidget(page));
    tabs.addWidget(tab);
    connect(page, &ExportPage::changed, this, &ExportSheet::refreshSummary);
    connect(page, &ExportPage::resized, this, &ExportSheet::fit);
}

ExportPage& ExportSheet::page() const {
    return *static_cast<ExportPage*>(m_stack->currentWidget());
}

void ExportSheet::showPage(int index) {
    m_stack->setCurrentIndex(index);
    m_tabs->button(index)->setChecked(true);
    refreshSummary();
    fit();
}

/// As high as the page that is shown needs.
void ExportSheet::fit() {
    for (int i = 0; i < m_stack->count(); ++i)
        m_stack->widget(i)->setSizePolicy(QSizePolicy::Preferred, i == m_stack->currentIndex()
                                                                      ? QSizePolicy::Preferred
                                                                      : QSizePolicy::Ignored);
    const bool isWide = m_stack->currentIndex() > 0 || m_maps->isWide();
    setFixedWidth(std::min(isWide ? 880 : 720, parentWidget()->width() - 48));
    m_stack->layout()->invalidate();  // pages that are not shown have not told it of their new policy
    m_stack->updateGeometry();
    layout()->activate();  // the lists are new; their room is not known before
    adjustSize();
    move((parentWidget()->width() - width()) / 2, std::max(40, (parentWidget()->height() - height()) / 2));
}

void ExportSheet::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    if (m_before) m_before->setFocus();
}

void ExportSheet::open() {
    if (!isVisible()) m_before = QApplication::focusWidget();
    if (!m_running) {
        for (int i = 0; i < m_stack->count(); ++i) static_cast<ExportPage*>(m_stack->widget(i))->refresh();
        m_progress->hide();
        m_doing->clear();
        refreshSummary();
        fit();
    }
    show();
    raise();
    if (!m_running) m_start->setFocus();
}

void ExportSheet::openContactSheet(const QStringList& looks) {
    if (m_running) return open();
    m_stack->setCurrentWidget(m_pictures);
    m_tabs->button(m_stack->currentIndex())->setChecked(true);
    open();
    m_pictures->chooseSheet(looks);
}

void ExportSheet::setFolder(const QString& folder) {
    m_maps->setFolder(folder);
}

void ExportSheet::refreshSummary() {
    m_start->setEnabled(page().isReady() && !m_running);
    m_summary->setText(page().summary());
    m_copy->setEnabled(page().isReady() && !m_running && !page().command().isEmpty());
    m_copy->setVisible(m_stack->currentWidget() != m_pictures);
}

void ExportSheet::copyCommand() {
    QGuiApplication::clipboard()->setText(page().command());
    const bool isPart = &page() == m_maps && m_maps->hasCompanions();
    m_doing->setText(isPart
                         ? tr("Copied, for the maps alone: the model and the contact sheet have commands of "
                              "their own, materials and sheet.")
                         : tr("Copied: paste it into a terminal or a script."));
}

/// The page's work; for maps with a contact sheet that of both, one after the other.
ExportPage::Work ExportSheet::work() const {
    if (&page() != m_maps || !m_maps->wantsSheet()) return page().work();
    const ExportOptions options = m_maps->options();
    return [maps = m_maps->work(), sheet = m_pictures->sheetWork(options.looks, options.folder)](
               const CancelToken& cancel, const TellProgress& tell) -> Result<QString> {
        constexpr double kOfMaps = 0.8;
        auto made = maps(cancel, [&](double part, const QString& what) { tell(part * kOfMaps, what); });
        if (!made) return made;
        auto written = sheet(
            cancel, [&](double part, const QString& what) { tell(kOfMaps + part * (1 - kOfMaps), what); });
        if (!written) return written;
        return *made + QLatin1Char(' ') + *written;
    };
}

void ExportSheet::start() {
    if (m_running || !page().isReady()) return;
    if (m_thread.joinable()) m_thread.join();
    m_running = true;
    m_cancel = CancelToken();
    m_progress->setValue(0);
    m_progress->show();
    m_close->setText(tr("Stop"));
    m_start->setEnabled(false);
    const auto tell = [this](double fraction, const QString& what) {
        QMetaObject::invokeMethod(
            this,
            [this, fraction, what] {
                if (!m_running) return;
                m_progress->setValue(std::max(m_progress->value(), static_cast<int>(fraction * 1000)));
                m_doing->setText(what);
            },
            Qt::QueuedConnection);
    };
    m_thread = std::thread([this, work = work(), cancel = m_cancel, tell] {
        const GiveWay giveWay;
        const Result<QString> made = guarded("export", [&] { return work(cancel, tell); });
        const QString sentence = made ? *made : QString::fromStdString(made.error().sentence);
        const bool isError = !made && made.error().kind != ErrorKind::Cancelled;
        QMetaObject::invokeMethod(
            this, [this, sentence, isError] { end(sentence, isError); }, Qt::QueuedConnection);
    });
}

void ExportSheet::stop() {
    m_cancel.cancel();
    m_doing->setText(tr("Stopping…"));
}

void ExportSheet::end(const QString& sentence, bool isError) {
    m_running = false;
    m_close->setText(tr("Close"));
    m_start->setEnabled(true);
    m_progress->hide();
    m_doing->clear();
    if (!isError)
        hide();
    else
        m_summary->setText(sentence);
    Q_EMIT finished(sentence, isError);
}

void ExportSheet::keyPressEvent(QKeyEvent* event) {
    const bool isEnter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (event->key() == Qt::Key_Escape)
        m_running ? stop() : hide();
    else if (isEnter && m_start->hasFocus() && m_start->isEnabled())
        start();
    else
        QFrame::keyPressEvent(event);
}

}  // namespace kettle
