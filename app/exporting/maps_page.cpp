#include "app/exporting/maps_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <algorithm>

#include "app/exporting/arrangement_editor.h"
#include "app/style/file_choice.h"
#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/base/names.h"
#include "core/engine/source_files.h"
#include "core/handover/gltf.h"

namespace kettle {

MapsPage::MapsPage(Session& session, QWidget* parent)
    : ExportPage(parent),
      m_session(session),
      m_lookList(new QVBoxLayout),
      m_surfaceList(new QVBoxLayout),
      m_channelList(new QVBoxLayout),
      m_surfaceTitle(heading(tr("Surfaces"), this)),
      m_format(new QComboBox(this)),
      m_size(new QComboBox(this)),
      m_compression(new QComboBox(this)),
      m_space(new QComboBox(this)),
      m_folder(new QLineEdit(this)),
      m_pattern(new QLineEdit(this)),
      m_eachObject(new QCheckBox(tr("One file for each object"), this)),
      m_arrangement(new QComboBox(this)),
      m_arrange(new QToolButton(this)),
      m_editor(new ArrangementEditor(this)),
      m_model(new QCheckBox(tr("The model too, with these looks (.glb)"), this)),
      m_sheet(new QCheckBox(tr("A contact sheet of these looks too (.png)"), this)),
      m_dither(new QCheckBox(tr("Dither 8 bits"), this)),
      m_manifest(new QCheckBox(tr("A manifest (.json)"), this)) {
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(0, 0, 0, 0);
    page->setSpacing(12);
    makeReadyChoices(*page);
    auto* lists = new QHBoxLayout;
    page->addLayout(lists);
    lists->setSpacing(32);
    addList(*lists, heading(tr("Looks"), this), m_lookList);
    addList(*lists, m_surfaceTitle, m_surfaceList);
    addList(*lists, heading(tr("Channels"), this), m_channelList);
    fillChoices();
    makeForm(*lists);
    makeEditor(*page);
}

void MapsPage::makeReadyChoices(QVBoxLayout& page) {
    auto* everything = new QToolButton(this);
    everything->setText(tr("All looks, packed, with model and sheet"));
    everything->setObjectName(QStringLiteral("all-packed"));
    everything->setToolTip(
        tr("Chooses everything for a hand-over below: all looks, packed files, the model as one GLB with "
           "the looks as variants, and a contact sheet"));
    connect(everything, &QToolButton::clicked, this, &MapsPage::chooseEverything);
    auto* ready = new QHBoxLayout;
    ready->addWidget(heading(tr("Ready choices"), this));
    ready->addSpacing(8);
    ready->addWidget(everything);
    ready->addStretch(1);
    page.addLayout(ready);
}

void MapsPage::fillChoices() {
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
    m_space->addItem(tr("as usual: sRGB, in EXR linear"), QString());
    for (const std::string& space : exportSpaces())
        m_space->addItem(QString::fromStdString(space), QString::fromStdString(space));
    m_space->setToolTip(
        tr("What colours are written in. PNG and EXR say so of themselves; a manifest does for all."));
    m_arrangement->setObjectName(QStringLiteral("arrangement"));
    m_arrangement->setToolTip(tr("Packed files hold several channels, one in each component"));
    m_arrange->setText(tr("Arrange…"));
    m_arrange->setObjectName(QStringLiteral("arrange"));
    m_arrange->setCheckable(true);
    m_arrange->setToolTip(tr("What each component of the packed files holds"));
    refreshArrangements();
}

void MapsPage::makeForm(QHBoxLayout& lists) {
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(8);
    m_pattern->setToolTip(
        tr("{set}, {surface}, {look}, {channel} and {object} are filled in; UDIM tiles get their number."));
    m_folder->setMinimumWidth(200);
    auto* choose = new QPushButton(tr("Choose…"), this);
    int row = 0;
    const auto add = [&](const QString& title, QWidget* field, QWidget* extra = nullptr) {
        addRow(*form, row, heading(title, this), field, extra);
    };
    add(tr("Format"), m_format);
    add(tr("Compression"), m_compression);
    add(tr("Longer side"), m_size);
    add(tr("Colours"), m_space);
    add(tr("Files"), m_arrangement, m_arrange);
    add(tr("File name"), m_pattern);
    add(tr("Folder"), m_folder, choose);
    m_eachObject->setToolTip(tr("Objects that share a place in the texture look alike on one flat map."));
    m_sheet->setToolTip(tr("contact-sheet.png in the same folder, as the page Pictures is set"));
    m_dither->setToolTip(
        tr("Soft gradients keep their steps apart by a fine pattern. For files of 8 bits alone."));
    m_manifest->setToolTip(tr("manifest.json beside the files: what is in each component, encoding, hash"));
    auto* two = new QHBoxLayout;
    two->setSpacing(24);
    two->addWidget(m_dither);
    two->addWidget(m_manifest);
    two->addStretch(1);
    form->addWidget(m_eachObject, row++, 1, 1, 2);
    form->addWidget(m_model, row++, 1, 1, 2);
    form->addWidget(m_sheet, row++, 1, 1, 2);
    form->addLayout(two, row++, 1, 1, 2);
    form->setRowStretch(row, 1);
    lists.addLayout(form, 1);
    for (QCheckBox* box : {m_model, m_sheet, m_dither, m_manifest, m_eachObject})
        connect(box, &QCheckBox::toggled, this, &ExportPage::changed);
    for (QComboBox* box : {m_size, m_space})
        connect(box, &QComboBox::currentIndexChanged, this, &ExportPage::changed);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString folder = chooseFolder(this, tr("Folder for the maps"), m_folder->text());
        if (!folder.isEmpty()) setFolder(folder);
    });
    connect(m_format, &QComboBox::currentIndexChanged, this, [this] {
        const FileFormat format = options().format;
        m_compression->setEnabled(format != FileFormat::Jpeg);
        m_dither->setEnabled(format == FileFormat::Png8 || format == FileFormat::Jpeg);
        Q_EMIT changed();
    });
    connect(m_folder, &QLineEdit::textChanged, this, &ExportPage::changed);
    connect(m_pattern, &QLineEdit::textChanged, this, &ExportPage::changed);
}

void MapsPage::makeEditor(QVBoxLayout& page) {
    page.addWidget(m_editor);
    m_editor->hide();
    connect(m_arrangement, &QComboBox::currentIndexChanged, this, [this] {
        showArrangement();
        Q_EMIT changed();
    });
    connect(m_arrange, &QToolButton::toggled, this, [this](bool isOn) {
        m_editor->setVisible(isOn);
        showArrangement();
        Q_EMIT resized();
    });
    connect(m_editor, &ArrangementEditor::changed, this, [this] {
        m_changed = m_editor->arrangement();
        refreshArrangements();
        Q_EMIT resized();
        Q_EMIT changed();
    });
    connect(m_editor, &ArrangementEditor::keepWanted, this, &MapsPage::keepArrangement);
    connect(m_editor, &ArrangementEditor::forgetWanted, this, &MapsPage::forgetArrangement);
}

bool MapsPage::isWide() const {
    return hasSurfaces() || m_arrange->isChecked();
}

void MapsPage::setFolder(const QString& folder) {
    m_folder->setText(folder);
}

void MapsPage::refresh() {
    for (Boxes* list : {&m_looks, &m_surfaces, &m_channels}) clear(*list);
    addLooks(m_looks, *m_lookList, m_session,
             [this](const std::string& look) { return look == m_session.look(); });
    const Project& project = m_session.project();
    m_surfaceTitle->setVisible(project.surfaces.size() > 1);
    if (project.surfaces.size() > 1)
        for (const auto& surface : project.surfaces)
            addBox(m_surfaces, *m_surfaceList, surface->id, QString::fromStdString(surface->name), true);
    // A channel that several surfaces have is one choice.
    for (const auto& line : project.lines)
        if (!line->channel.empty() &&
            std::none_of(m_channels.begin(), m_channels.end(),
                         [&](const auto& known) { return known.first == line->channel; }))
            addBox(m_channels, *m_channelList, line->channel, QString::fromStdString(line->name), true);
    m_eachObject->setVisible(differsByObject(project));
    std::vector<std::string> present;
    for (const auto& [id, box] : m_channels) present.push_back(id);
    m_editor->setPresent(std::move(present));
    refreshArrangements();
    // A name that was not typed follows the project.
    const QString usual = QString::fromStdString(defaultPattern(project));
    if (m_pattern->text().isEmpty() || m_pattern->text() == m_usualPattern) m_pattern->setText(usual);
    m_usualPattern = usual;
    if (m_folder->text().isEmpty())
        setFolder(QString::fromStdString((m_session.resources().folder() / "exported").string()));
}

void MapsPage::chooseEverything() {
    for (auto& [id, box] : m_looks) box->setChecked(!id.empty() || m_looks.size() == 1);
    for (Boxes* boxes : {&m_surfaces, &m_channels})
        for (auto& [id, box] : *boxes) box->setChecked(true);
    m_arrangement->setCurrentIndex(1);
    m_model->setChecked(true);
    m_sheet->setChecked(true);
}

bool MapsPage::wantsSheet() const {
    return m_sheet->isChecked();
}

bool MapsPage::hasCompanions() const {
    return m_model->isChecked() || m_sheet->isChecked();
}

ExportOptions MapsPage::options() const {
    ExportOptions o;
    o.folder = m_folder->text().toStdString();
    o.pattern = m_pattern->text().toStdString();
    o.size = m_size->currentData().toInt();
    fileFormatOf(m_format->currentData().toString().toStdString(), o.format);
    compressionOf(m_compression->currentData().toString().toStdString(), o.choices.compression);
    o.eachObject = m_eachObject->isVisibleTo(this) && m_eachObject->isChecked();
    o.packed = arrangement().files;
    o.space = m_space->currentData().toString().toStdString();
    o.dither = m_dither->isChecked();
    o.manifest = m_manifest->isChecked();
    o.looks = chosen(m_looks);
    o.surfaces = chosen(m_surfaces);
    o.channels = chosen(m_channels);
    return o;
}

bool MapsPage::isReady() const {
    const ExportOptions o = options();
    return !o.looks.empty() && (m_surfaces.empty() || !o.surfaces.empty()) && !o.channels.empty() &&
           !o.folder.empty() && !o.pattern.empty();
}

QString MapsPage::summary() const {
    const ExportOptions o = options();
    std::size_t steps = 0;
    for (const auto& line : m_session.project().lines) steps += line->steps.size();
    // A plan walks the network for each file; of a vast one that would be felt under the hand.
    if (isReady() && steps < 2000) {
        // By the headers alone; what cannot be planned is told when it is begun.
        const auto items = planExport(m_session.project(), m_session.resources(), o);
        if (items) {
            const auto bytes = bytesExpected(*items, m_session.project(), o.format, o.choices.compression);
            const auto room = freeRoom(o.folder);
            const bool fits = !room || *room > bytes;
            return tr("%1 files, about %2; %3. The source maps stay as they are; finished files replace "
                      "older ones of the "
                      "same name.")
                .arg(items->size())
                .arg(QString::fromStdString(sizeInWords(bytes)))
                .arg(fits ? tr("the disk has room")
                          : tr("the disk has only %1 left").arg(QString::fromStdString(sizeInWords(*room))));
        }
    }
    return isReady()
               ? tr("Looks: %1, channels: %2. The source maps stay as they are; finished files replace older "
                    "ones of the same name.")
                     .arg(o.looks.size())
                     .arg(o.channels.size())
               : tr("Choose at least one look and one channel, and a folder and a name for the files.");
}

ExportPage::Work MapsPage::work() const {
    return [project = m_session.project(), resources = m_session.resources(), o = options(),
            scenes = m_model->isChecked() ? m_scenes : nullptr, base = m_session.baseName().toStdString(),
            stem = stemOf(QFileInfo(m_session.filePath()).completeBaseName().toStdString(), "model")](
               const CancelToken& cancel, const TellProgress& tell) -> Result<QString> {
        const double maps = scenes ? 0.6 : 1;
        auto made = exportMaps(project, resources, o, cancel, [&](const ExportProgress& p) {
            tell(p.fraction * maps, QString::fromStdString(p.what));
        });
        if (!made) return fail(made.error());
        if (scenes) {
            auto scene = scenes->load(project.view.model, project.view.unit, cancel);
            if (!scene) return fail(scene.error());
            const BakeOptions bake{o.looks, o.size, base};
            auto baked =
                bakeMaterials(project, resources, bake, cancel, [&](double part, const std::string& what) {
                    tell(maps + part * 0.35, QString::fromStdString(what));
                });
            if (!baked) return fail(baked.error());
            const auto file = o.folder / (stem + ".glb");
            GltfOptions options;
            options.file = file;
            options.sources = SourceFiles(project, resources);
            auto model = writeGltf((*scene)->mesh(), project, *baked, o.looks, base, options);
            if (!model) return fail(model.error());
            made->files.push_back(file);
            made->notes.insert(made->notes.end(), model->notes.begin(), model->notes.end());
        }
        QString sentence = tr("Exported %1 files to %2.")
                               .arg(made->files.size())
                               .arg(QString::fromStdString(o.folder.string()));
        if (!made->unchanged.empty())
            sentence += tr(" %1 of them were up to date.").arg(made->unchanged.size());
        if (!made->notes.empty()) {
            sentence += QLatin1Char(' ') + QString::fromStdString(made->notes.front());
            if (made->notes.size() > 1) sentence += tr(" (and %1 more)").arg(made->notes.size() - 1);
        }
        return sentence;
    };
}

}  // namespace kettle
