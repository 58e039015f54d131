#include "app/exporting/export_sheet.h"
#include "app/style/file_choice.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace kettle {
namespace {

QLabel* heading(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    return label;
}

}  // namespace

ExportSheet::ExportSheet(Session& session, QWidget* parent)
    : QFrame(parent),
      m_session(session),
      m_lookList(new QVBoxLayout),
      m_surfaceList(new QVBoxLayout),
      m_channelList(new QVBoxLayout),
      m_surfaceTitle(heading(tr("Surfaces"), this)),
      m_format(new QComboBox(this)),
      m_size(new QComboBox(this)),
      m_compression(new QComboBox(this)),
      m_folder(new QLineEdit(this)),
      m_pattern(new QLineEdit(this)),
      m_eachObject(new QCheckBox(tr("One file for each object"), this)),
      m_summary(new QLabel(this)),
      m_doing(new QLabel(this)),
      m_progress(new QProgressBar(this)),
      m_start(new QPushButton(tr("Export"), this)),
      m_close(new QPushButton(tr("Close"), this)) {
    setObjectName(QStringLiteral("sheet"));
    setAccessibleName(tr("Export"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(12);
    auto* title = new QLabel(tr("Export maps"), this);
    title->setObjectName(QStringLiteral("title"));
    column->addWidget(title);

    auto* lists = new QHBoxLayout;
    lists->setSpacing(32);
    const auto addList = [&](QLabel* name, QVBoxLayout* list) {
        auto* part = new QVBoxLayout;
        part->setSpacing(6);
        part->addWidget(name);
        list->setSpacing(6);
        part->addLayout(list);
        part->addStretch(1);
        lists->addLayout(part);
    };
    addList(heading(tr("Looks"), this), m_lookList);
    addList(m_surfaceTitle, m_surfaceList);
    addList(heading(tr("Channels"), this), m_channelList);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(8);
    const std::pair<const char*, QString> formats[] = {
        {"png8", tr("PNG, 8 bit")},          {"png16", tr("PNG, 16 bit")},    {"tiff16", tr("TIFF, 16 bit")},
        {"exr-half", tr("EXR, half float")}, {"exr-float", tr("EXR, float")}, {"jpeg", tr("JPEG")}};
    for (const auto& [id, name] : formats) m_format->addItem(name, QString::fromLatin1(id));
    m_size->addItem(tr("as the sources"), 0);
    for (const int size : {512, 1024, 2048, 4096, 8192}) m_size->addItem(tr("%1 px").arg(size), size);
    m_compression->addItem(tr("fast"), QStringLiteral("fast"));
    m_compression->addItem(tr("small, slower"), QStringLiteral("small"));
    m_compression->addItem(tr("none"), QStringLiteral("none"));
    m_compression->setToolTip(tr("All are without loss. JPEG has its own, at quality 95."));
    m_pattern->setToolTip(
        tr("{set}, {surface}, {look}, {channel} and {object} are filled in; UDIM tiles get their number."));
    m_folder->setMinimumWidth(200);
    auto* choose = new QPushButton(tr("Choose…"), this);
    int row = 0;
    const auto add = [&](const QString& name, QWidget* field, QWidget* extra = nullptr) {
        field->setAccessibleName(name);
        form->addWidget(heading(name, this), row, 0);
        form->addWidget(field, row, 1, 1, extra != nullptr ? 1 : 2);
        if (extra != nullptr) form->addWidget(extra, row, 2);
        ++row;
    };
    add(tr("Format"), m_format);
    add(tr("Compression"), m_compression);
    add(tr("Longer side"), m_size);
    add(tr("File name"), m_pattern);
    add(tr("Folder"), m_folder, choose);
    form->addWidget(m_eachObject, row++, 1, 1, 2);
    m_eachObject->setToolTip(tr("Objects that share a place in the texture look alike on one flat map."));
    connect(m_eachObject, &QCheckBox::toggled, this, &ExportSheet::refreshSummary);
    form->setRowStretch(row, 1);
    lists->addLayout(form, 1);
    column->addLayout(lists);

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
    buttons->addWidget(m_close);
    buttons->addWidget(m_start);
    m_start->setObjectName(QStringLiteral("primary"));
    column->addLayout(buttons);

    connect(choose, &QPushButton::clicked, this, [this] {
        const QString folder = chooseFolder(this, tr("Folder for the maps"), m_folder->text());
        if (!folder.isEmpty()) setFolder(folder);
    });
    connect(m_start, &QPushButton::clicked, this, &ExportSheet::start);
    connect(m_close, &QPushButton::clicked, this, [this] { m_running ? stop() : hide(); });
    connect(m_format, &QComboBox::currentIndexChanged, this, &ExportSheet::refreshSummary);
    connect(m_size, &QComboBox::currentIndexChanged, this, &ExportSheet::refreshSummary);
    connect(m_folder, &QLineEdit::textChanged, this, &ExportSheet::refreshSummary);
    connect(m_pattern, &QLineEdit::textChanged, this, &ExportSheet::refreshSummary);
    hide();
}

ExportSheet::~ExportSheet() {
    m_cancel.cancel();
    if (m_thread.joinable()) m_thread.join();
}

void ExportSheet::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    if (m_before) m_before->setFocus();
}

void ExportSheet::open() {
    if (!isVisible()) m_before = QApplication::focusWidget();
    if (m_running) {
        show();
        raise();
        return;
    }
    fillLists();
    if (m_folder->text().isEmpty())
        setFolder(QString::fromStdString((m_session.resources().folder() / "exported").string()));
    m_progress->hide();
    m_doing->clear();
    refreshSummary();
    setFixedWidth(std::min(m_surfaces.empty() ? 720 : 880, parentWidget()->width() - 48));
    layout()->activate();  // the lists are new; their room is not known before
    adjustSize();
    move((parentWidget()->width() - width()) / 2, std::max(40, (parentWidget()->height() - height()) / 2));
    show();
    raise();
    m_start->setFocus();
}

void ExportSheet::setFolder(const QString& folder) {
    m_folder->setText(folder);
}

void ExportSheet::fillLists() {
    for (auto* list : {&m_looks, &m_surfaces, &m_channels}) {
        for (auto& [id, box] : *list) delete box;
        list->clear();
    }
    const auto add = [&](auto& list, QVBoxLayout* layout, const std::string& id, const QString& name,
                         bool checked) {
        auto* box = new QCheckBox(name, this);
        box->setChecked(checked);
        box->setFixedHeight(18);
        connect(box, &QCheckBox::toggled, this, &ExportSheet::refreshSummary);
        layout->addWidget(box);
        list.emplace_back(id, box);
    };
    add(m_looks, m_lookList, {}, m_session.baseName(), m_session.look().empty());
    for (const auto& look : m_session.project().looks)
        add(m_looks, m_lookList, look->id, QString::fromStdString(look->name), look->id == m_session.look());
    const Project& project = m_session.project();
    m_surfaceTitle->setVisible(project.surfaces.size() > 1);
    if (project.surfaces.size() > 1)
        for (const auto& surface : project.surfaces)
            add(m_surfaces, m_surfaceList, surface->id, QString::fromStdString(surface->name), true);
    // A channel that several surfaces have is one choice.
    for (const auto& line : project.lines)
        if (!line->channel.empty() &&
            std::none_of(m_channels.begin(), m_channels.end(),
                         [&](const auto& known) { return known.first == line->channel; }))
            add(m_channels, m_channelList, line->channel, QString::fromStdString(line->name), true);
    m_eachObject->setVisible(differsByObject(project));
    // A name that was not typed follows the project.
    const QString usual = QString::fromStdString(defaultPattern(project));
    if (m_pattern->text().isEmpty() || m_pattern->text() == m_usualPattern) m_pattern->setText(usual);
    m_usualPattern = usual;
}

ExportOptions ExportSheet::options() const {
    ExportOptions o;
    o.folder = m_folder->text().toStdString();
    o.pattern = m_pattern->text().toStdString();
    o.size = m_size->currentData().toInt();
    fileFormatOf(m_format->currentData().toString().toStdString(), o.format);
    compressionOf(m_compression->currentData().toString().toStdString(), o.choices.compression);
    o.eachObject = m_eachObject->isVisibleTo(this) && m_eachObject->isChecked();
    o.looks.clear();
    for (const auto& [id, box] : m_looks)
        if (box->isChecked()) o.looks.push_back(id);
    for (const auto& [id, box] : m_surfaces)
        if (box->isChecked()) o.surfaces.push_back(id);
    for (const auto& [id, box] : m_channels)
        if (box->isChecked()) o.channels.push_back(id);
    return o;
}

void ExportSheet::refreshSummary() {
    const ExportOptions o = options();
    const bool ready = !o.looks.empty() && (m_surfaces.empty() || !o.surfaces.empty()) &&
                       !o.channels.empty() && !o.folder.empty() && !o.pattern.empty();
    m_start->setEnabled(ready && !m_running);
    m_compression->setEnabled(o.format != FileFormat::Jpeg);
    m_summary->setText(
        ready ? tr("Looks: %1, channels: %2. The source maps stay as they are; finished files replace older "
                   "ones of the same name.")
                    .arg(o.looks.size())
                    .arg(o.channels.size())
              : tr("Choose at least one look and one channel, and a folder and a name for the files."));
}

void ExportSheet::start() {
    if (m_running) return;
    if (m_thread.joinable()) m_thread.join();
    m_running = true;
    m_cancel = CancelToken();
    m_progress->setValue(0);
    m_progress->show();
    m_close->setText(tr("Stop"));
    m_start->setEnabled(false);
    const auto tell = [this](const ExportProgress& p) {
        QMetaObject::invokeMethod(
            this,
            [this, p] {
                if (!m_running) return;
                m_progress->setValue(std::max(m_progress->value(), static_cast<int>(p.fraction * 1000)));
                m_doing->setText(QString::fromStdString(p.what));
            },
            Qt::QueuedConnection);
    };
    m_thread = std::thread([this, project = m_session.project(), resources = m_session.resources(),
                            o = options(), cancel = m_cancel, tell] {
        const GiveWay giveWay;
        const auto made = exportMaps(project, resources, o, cancel, tell);
        QString sentence = made ? tr("Exported %1 files to %2.")
                                      .arg(made->files.size())
                                      .arg(QString::fromStdString(o.folder.string()))
                                : QString::fromStdString(made.error().sentence);
        if (made && !made->notes.empty()) {
            sentence += QLatin1Char(' ') + QString::fromStdString(made->notes.front());
            if (made->notes.size() > 1) sentence += tr(" (and %1 more)").arg(made->notes.size() - 1);
        }
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
