#include "app/exporting/materials_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/style/file_choice.h"
#include "core/base/names.h"
#include "core/engine/source_files.h"
#include "core/handover/gltf.h"
#include "core/handover/material_format.h"
#include "core/handover/materialx.h"
#include "core/handover/materialx_network.h"

namespace kettle {

MaterialsPage::MaterialsPage(Session& session, QWidget* parent)
    : ExportPage(parent),
      m_session(session),
      m_lookList(new QVBoxLayout),
      m_format(new QComboBox(this)),
      m_size(new QComboBox(this)),
      m_jpeg(new QCheckBox(tr("Colours as JPEG"), this)),
      m_file(new QLineEdit(this)) {
    auto* lists = new QHBoxLayout(this);
    lists->setContentsMargins(0, 0, 0, 0);
    lists->setSpacing(32);
    addList(*lists, heading(tr("Looks"), this), m_lookList);
    const std::pair<MaterialFormat, QString> formats[] = {
        {MaterialFormat::Glb, tr("glTF with the model, one file (.glb)")},
        {MaterialFormat::Gltf, tr("glTF with the model, files apart (.gltf)")},
        {MaterialFormat::MaterialXBaked, tr("MaterialX, standard surface")},
        {MaterialFormat::MaterialXNetwork, tr("MaterialX, steps as nodes")},
        {MaterialFormat::MaterialXOpenPbr, tr("MaterialX, OpenPBR surface")}};
    for (const auto& [format, name] : formats) m_format->addItem(name, static_cast<int>(format));
    m_format->setObjectName(QStringLiteral("material-format"));
    for (const int size : {512, 1024, 2048, 4096}) m_size->addItem(tr("%1 px at most").arg(size), size);
    m_size->addItem(tr("as the sources"), 0);
    m_size->setCurrentIndex(2);
    m_jpeg->setToolTip(tr("Smaller, with a little loss; colours with opacity, and numbers, stay PNG."));
    m_file->setMinimumWidth(240);
    m_file->setObjectName(QStringLiteral("material-file"));
    auto* choose = new QPushButton(tr("Choose…"), this);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(8);
    int row = 0;
    const auto add = [&](const QString& title, QWidget* field, QWidget* extra = nullptr) {
        addRow(*form, row, heading(title, this), field, extra);
    };
    add(tr("Format"), m_format);
    add(tr("Textures"), m_size);
    form->addWidget(m_jpeg, row++, 1, 1, 2);
    add(tr("File"), m_file, choose);
    form->setRowStretch(row, 1);
    lists->addLayout(form, 1);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString ending = QFileInfo(m_usualFile).suffix();
        const QString file = chooseTarget(this, tr("Write materials to"), m_file->text(),
                                          tr("Materials (*.%1)").arg(ending), QLatin1Char('.') + ending);
        if (!file.isEmpty()) m_file->setText(file);
    });
    connect(m_format, &QComboBox::currentIndexChanged, this, &MaterialsPage::followFormat);
    connect(m_size, &QComboBox::currentIndexChanged, this, &ExportPage::changed);
    connect(m_jpeg, &QCheckBox::toggled, this, &ExportPage::changed);
    connect(m_file, &QLineEdit::textChanged, this, &ExportPage::changed);
}

MaterialFormat MaterialsPage::format() const {
    return static_cast<MaterialFormat>(m_format->currentData().toInt());
}

/// The file's ending, and what only one format has.
void MaterialsPage::followFormat() {
    const MaterialFormatInfo& info = infoOf(format());
    m_jpeg->setEnabled(info.hasModel);
    const QString name =
        m_session.filePath().isEmpty() ? tr("materials") : QFileInfo(m_session.filePath()).completeBaseName();
    const std::string stem = stemOf(name.toStdString(), "materials");
    const std::string usual = (m_session.resources().folder() / "exported" / stem).string() + info.extension;
    if (m_file->text().isEmpty() || m_file->text() == m_usualFile) {
        m_file->setText(QString::fromStdString(usual));
    } else {
        // A place of one's own keeps its name.
        const QFileInfo own(m_file->text());
        m_file->setText(own.path() + QLatin1Char('/') + own.completeBaseName() +
                        QString::fromStdString(usual.substr(usual.rfind('.'))));
    }
    m_usualFile = QString::fromStdString(usual);
    Q_EMIT changed();
}

void MaterialsPage::refresh() {
    clear(m_looks);
    // Looks are what is handed over; as received only where there is nothing else.
    addLooks(m_looks, *m_lookList, m_session,
             [this](const std::string& look) { return !look.empty() || m_session.project().looks.empty(); });
    followFormat();
}

bool MaterialsPage::isReady() const {
    return !chosen(m_looks).empty() && !m_file->text().trimmed().isEmpty() &&
           !m_session.project().lines.empty();
}

QString MaterialsPage::summary() const {
    if (!isReady()) return tr("Choose at least one look, and a file.");
    const auto looks = chosen(m_looks).size();
    if (infoOf(format()).hasModel)
        return looks == 1 ? tr("The model with its textures.")
                          : tr("The model with %1 looks as variants; equal textures are one.").arg(looks);
    return tr("A document with %1 looks, its images in a folder beside it.").arg(looks);
}

QString MaterialsPage::command() const {
    const QFileInfo file(m_file->text().trimmed());
    QStringList words{QStringLiteral("--out"), file.path(), QStringLiteral("--format"),
                      QString::fromLatin1(infoOf(format()).id)};
    if (file.completeBaseName() != QFileInfo(m_usualFile).completeBaseName())
        words << QStringLiteral("--name") << file.completeBaseName();
    for (const std::string& look : chosen(m_looks))
        if (!look.empty()) words << QStringLiteral("--look") << QString::fromStdString(look);
    words << QStringLiteral("--size") << m_size->currentData().toString();
    if (m_jpeg->isEnabled() && m_jpeg->isChecked()) words << QStringLiteral("--jpeg");
    return commandOf(QStringLiteral("materials"), m_session, words);
}

ExportPage::Work MaterialsPage::work() const {
    return [project = m_session.project(), resources = m_session.resources(), scenes = m_scenes,
            looks = chosen(m_looks), base = m_session.baseName().toStdString(), format = format(),
            size = m_size->currentData().toInt(), isJpeg = m_jpeg->isChecked(),
            file = std::filesystem::path(m_file->text().trimmed().toStdString())](
               const CancelToken& cancel, const TellProgress& tell) -> Result<QString> {
        if (auto ready = makeReady(project, resources, file); !ready) return fail(ready.error());
        auto scene = scenes->load(project.view.model, project.view.unit, cancel);
        if (!scene) return fail(scene.error());
        const auto progress = [&](double part, const std::string& what) {
            tell(part * 0.9, QString::fromStdString(what));
        };
        Result<HandedOver> made = HandedOver{};
        if (infoOf(format).hasModel) {
            BakeOptions bake{looks, size, base};
            auto baked = bakeMaterials(project, resources, bake, cancel, progress);
            if (!baked) return fail(baked.error());
            made = writeGltf((*scene)->mesh(), project, *baked, looks, base,
                             {file, isJpeg, GltfOptions{}.quality, SourceFiles(project, resources)});
        } else if (format == MaterialFormat::MaterialXNetwork) {
            made = writeMaterialXNetwork(project, resources, (*scene)->mesh().parts, looks, base, size, file,
                                         cancel, progress);
        } else {
            const auto surface = format == MaterialFormat::MaterialXOpenPbr ? MaterialXSurface::OpenPbr
                                                                            : MaterialXSurface::Standard;
            made = writeMaterialX(project, resources, (*scene)->mesh().parts, looks, base, size,
                                  {file, surface}, cancel, progress);
        }
        if (!made) return fail(made.error());
        QString sentence =
            tr("%1 is written, with %2 looks.").arg(QString::fromStdString(file.string())).arg(looks.size());
        if (!made->notes.empty()) sentence += QLatin1Char(' ') + QString::fromStdString(made->notes.front());
        if (made->notes.size() > 1) sentence += tr(" (and %1 more)").arg(made->notes.size() - 1);
        return sentence;
    };
}

}  // namespace kettle
