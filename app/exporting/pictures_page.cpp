#include "app/exporting/pictures_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QSpinBox>

#include "app/paper/sheet_paper.h"
#include "app/style/file_choice.h"
#include "core/base/names.h"
#include "core/engine/source_files.h"

namespace kettle {
namespace {

constexpr const char* kSheetName = "contact-sheet.png";

QImage imageOf(const Picture& picture) {
    return QImage(reinterpret_cast<const uchar*>(picture.pixels.data()), picture.width, picture.height,
                  picture.width * 4, QImage::Format_RGB32)
        .copy();
}

/// "turned.0007.png" of "turned.png".
std::filesystem::path numbered(const std::filesystem::path& file, int number) {
    std::filesystem::path name = file;
    name.replace_extension();
    name += QStringLiteral(".%1").arg(number, 4, 10, QLatin1Char('0')).toStdString();
    name += file.extension();
    return name;
}

}  // namespace

PicturesPage::PicturesPage(Session& session, const QStringList& environments, QWidget* parent)
    : ExportPage(parent),
      m_session(session),
      m_environments(environments),
      m_lookList(new QVBoxLayout),
      m_viewList(new QVBoxLayout),
      m_lightList(new QVBoxLayout),
      m_viewTitle(heading(tr("Views"), this)),
      m_lightTitle(heading(tr("Lights"), this)),
      m_columnsTitle(heading(tr("Columns"), this)),
      m_framesTitle(heading(tr("Frames"), this)),
      m_what(new QComboBox(this)),
      m_size(new QComboBox(this)),
      m_surround(new QComboBox(this)),
      m_columns(new QSpinBox(this)),
      m_frames(new QSpinBox(this)),
      m_names(new QCheckBox(tr("Names"), this)),
      m_differences(new QCheckBox(tr("Differences to the first"), this)),
      m_heading(new QCheckBox(tr("Project and date"), this)),
      m_file(new QLineEdit(this)) {
    auto* lists = new QHBoxLayout(this);
    lists->setContentsMargins(0, 0, 0, 0);
    lists->setSpacing(32);
    addList(*lists, heading(tr("Looks"), this), m_lookList);
    addList(*lists, m_viewTitle, m_viewList);
    addList(*lists, m_lightTitle, m_lightList);
    addBox(m_views, *m_viewList, "", tr("as in the window"), true);
    for (const auto& [id, name] : {std::pair<const char*, QString>{"front", tr("front")},
                                   {"right", tr("right")},
                                   {"back", tr("back")},
                                   {"left", tr("left")},
                                   {"above", tr("above")}})
        addBox(m_views, *m_viewList, id, name, false);
    for (const QString& name : environments)
        addBox(m_lights, *m_lightList, name.toStdString(),
               QString::fromStdString(shownName(name.toStdString())), false);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(8);
    m_what->addItems({tr("Contact sheet"), tr("The view"), tr("Turned views, as frames")});
    m_what->setObjectName(QStringLiteral("picture-kind"));
    for (const QSize& size :
         {QSize(480, 300), QSize(640, 400), QSize(960, 600), QSize(1280, 800), QSize(1920, 1200)})
        m_size->addItem(tr("%1 × %2 px").arg(size.width()).arg(size.height()), size);
    m_size->setCurrentIndex(1);
    m_surround->addItem(tr("as in the window"), QString());
    for (const auto& [id, name] : {std::pair<const char*, QString>{"pale", tr("pale")},
                                   {"middle", tr("middle")},
                                   {"dark", tr("dark")}})
        m_surround->addItem(name, QString::fromLatin1(id));
    m_columns->setRange(0, 20);
    m_columns->setSpecialValueText(tr("as it fits"));
    m_frames->setRange(2, 720);
    m_frames->setValue(24);
    m_frames->setToolTip(tr("Pictures once around the model"));
    auto* choose = new QPushButton(tr("Choose…"), this);
    m_file->setMinimumWidth(200);
    m_file->setObjectName(QStringLiteral("picture-file"));
    m_file->setToolTip(tr("By its ending: .png, .tif, .exr (linear), and for a sheet .pdf"));
    int row = 0;
    const auto add = [&](QLabel* title, QWidget* field, QWidget* extra = nullptr) {
        addRow(*form, row, title, field, extra);
    };
    add(heading(tr("What"), this), m_what);
    add(heading(tr("Each picture"), this), m_size);
    add(heading(tr("Surround"), this), m_surround);
    add(m_columnsTitle, m_columns);
    add(m_framesTitle, m_frames);
    for (QCheckBox* box : {m_names, m_differences, m_heading}) {
        box->setChecked(true);
        form->addWidget(box, row++, 1, 1, 2);
        connect(box, &QCheckBox::toggled, this, &ExportPage::changed);
    }
    add(heading(tr("File"), this), m_file, choose);
    form->setRowStretch(row, 1);
    lists->addLayout(form, 1);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString file =
            chooseTarget(this, tr("Write pictures to"), m_file->text(),
                         tr("Pictures (*.png *.tif *.tiff *.exr *.pdf)"), QStringLiteral(".png"));
        if (!file.isEmpty()) m_file->setText(file);
    });
    connect(m_what, &QComboBox::currentIndexChanged, this, [this] {
        showParts();
        Q_EMIT changed();
    });
    for (QComboBox* box : {m_size, m_surround})
        connect(box, &QComboBox::currentIndexChanged, this, &ExportPage::changed);
    for (QSpinBox* box : {m_columns, m_frames})
        connect(box, &QSpinBox::valueChanged, this, &ExportPage::changed);
    connect(m_file, &QLineEdit::textChanged, this, &ExportPage::changed);
    showParts();
}

void PicturesPage::setView(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments,
                           std::function<Camera(double)> camera) {
    m_scenes = std::move(scenes);
    m_environmentsFolder = std::move(environments);
    m_camera = std::move(camera);
}

PicturesPage::What PicturesPage::what() const {
    return static_cast<What>(m_what->currentIndex());
}

QSize PicturesPage::size() const {
    return m_size->currentData().toSize();
}

/// What a sheet has is hidden for a single picture, and the other way round.
void PicturesPage::showParts() {
    const bool isSheet = what() == Sheet;
    for (QWidget* part : std::initializer_list<QWidget*>{m_viewTitle, m_lightTitle, m_columnsTitle, m_columns,
                                                         m_names, m_differences, m_heading})
        part->setVisible(isSheet);
    for (Boxes* boxes : {&m_views, &m_lights})
        for (auto& [id, box] : *boxes) box->setVisible(isSheet);
    m_framesTitle->setVisible(what() == Frames);
    m_frames->setVisible(what() == Frames);
    const QString usual = QString::fromStdString((m_session.resources().folder() / "exported" /
                                                  (isSheet          ? kSheetName
                                                   : what() == View ? "view.png"
                                                                    : "turned.png"))
                                                     .string());
    if (m_file->text().isEmpty() || m_file->text() == m_usualFile) m_file->setText(usual);
    m_usualFile = usual;
}

void PicturesPage::chooseSheet(const QStringList& looks) {
    m_what->setCurrentIndex(Sheet);
    for (auto& [id, box] : m_looks) {
        // What was received is one of them only if there is nothing else to show.
        const bool isOfAll = looks.isEmpty() && (!id.empty() || m_looks.size() == 1);
        box->setChecked(isOfAll || looks.contains(QString::fromStdString(id)));
    }
}

void PicturesPage::refresh() {
    clear(m_looks);
    addLooks(m_looks, *m_lookList, m_session,
             [this](const std::string& look) { return !look.empty() || m_session.project().looks.empty(); });
    showParts();
}

SheetPlan PicturesPage::plan() const {
    SheetPlan plan;
    plan.looks = chosen(m_looks);
    plan.width = size().width(), plan.height = size().height();
    const Camera camera = m_camera ? m_camera(static_cast<double>(plan.width) / plan.height) : Camera{};
    for (const auto& [id, box] : m_views) {
        if (!box->isChecked()) continue;
        if (const auto side = viewFrom(camera, id))
            plan.views.push_back({box->text().toStdString(), side->camera});
        else
            plan.views.push_back({box->text().toStdString(), camera});
    }
    plan.environments = chosen(m_lights);
    plan.columns = m_columns->value();
    plan.surround = m_surround->currentData().toString().toStdString();
    plan.names = m_names->isChecked();
    plan.differences = m_differences->isChecked();
    if (m_heading->isChecked()) {
        const QString project = m_session.filePath().isEmpty()
                                    ? tr("Untitled")
                                    : QFileInfo(m_session.filePath()).completeBaseName();
        plan.title = tr("%1 · %2")
                         .arg(project, QLocale().toString(QDate::currentDate(), QLocale::LongFormat))
                         .toStdString();
    }
    return plan;
}

bool PicturesPage::isReady() const {
    if (m_file->text().trimmed().isEmpty() || chosen(m_looks).empty()) return false;
    return what() != Sheet || !chosen(m_views).empty();
}

QString PicturesPage::summary() const {
    if (!isReady())
        return what() == Sheet ? tr("Choose at least one look and one view, and a file.")
                               : tr("Choose a look and a file.");
    const int looks = static_cast<int>(chosen(m_looks).size()),
              views = static_cast<int>(chosen(m_views).size());
    const int lights = std::max(1, static_cast<int>(chosen(m_lights).size()));
    switch (what()) {
        case Sheet:
            return tr("A sheet of %1 pictures of %2 × %3 pixels: looks %4, views %5, lights %6.")
                .arg(looks * views * lights)
                .arg(size().width())
                .arg(size().height())
                .arg(looks)
                .arg(views)
                .arg(lights);
        case View:
            return looks == 1
                       ? tr("One picture.")
                       : tr("%1 pictures, one a look; each look's name is put behind the file's.").arg(looks);
        default:
            return tr("%1 frames, numbered, of each of %2 looks.").arg(m_frames->value()).arg(looks);
    }
}

ExportPage::Work PicturesPage::sheetWork(const std::vector<std::string>& looks,
                                         const std::filesystem::path& folder) const {
    SheetPlan sheet = plan();
    sheet.looks = looks;
    if (sheet.views.empty())
        sheet.views.push_back(
            {"", m_camera ? m_camera(static_cast<double>(sheet.width) / sheet.height) : Camera{}});
    return sheetWork(std::move(sheet), folder / kSheetName);
}

ExportPage::Work PicturesPage::sheetWork(SheetPlan plan, const std::filesystem::path& file) const {
    return [project = m_session.project(), resources = m_session.resources(), scenes = m_scenes,
            environments = m_environmentsFolder, plan = std::move(plan),
            base = m_session.baseName().toStdString(),
            file](const CancelToken& cancel, const TellProgress& tell) -> Result<QString> {
        if (auto good = makeReady(project, resources, file); !good) return fail(good.error());
        auto sheet = makeContactSheet(project, resources, scenes, environments, plan, base, cancel,
                                      [&](double part) { tell(part * 0.95, tr("Contact sheet")); });
        if (!sheet) return fail(sheet.error());
        if (auto written = writeSheet(*sheet, file, SourceFiles(project, resources)); !written)
            return fail(written.error());
        QString sentence = tr("The contact sheet is in %1.").arg(QString::fromStdString(file.string()));
        if (!sheet->notes.empty())
            sentence += QLatin1Char(' ') + QString::fromStdString(sheet->notes.front());
        return sentence;
    };
}

ExportPage::Work PicturesPage::work() const {
    const std::filesystem::path file = m_file->text().trimmed().toStdString();
    if (what() == Sheet) return sheetWork(plan(), file);
    const auto ready = [project = m_session.project(), resources = m_session.resources(), file] {
        return makeReady(project, resources, file);
    };
    SheetPlan one = plan();
    const Camera camera = m_camera ? m_camera(static_cast<double>(one.width) / one.height) : Camera{};
    one.views =
        what() == Frames ? turnedViews(camera, m_frames->value()) : std::vector<SheetView>{{"", camera}};
    return
        [project = m_session.project(), resources = m_session.resources(), scenes = m_scenes,
         environments = m_environmentsFolder, plan = std::move(one), file, ready,
         turns = what() == Frames](const CancelToken& cancel, const TellProgress& tell) -> Result<QString> {
            if (auto good = ready(); !good) return fail(good.error());
            Preview preview(scenes, environments);
            Project shown = project;
            if (!plan.surround.empty()) shown.view.surround = plan.surround;
            const double all = static_cast<double>(plan.looks.size() * plan.views.size());
            double done = 0;
            for (const std::string& look : plan.looks) {
                std::filesystem::path named = file;
                if (plan.looks.size() > 1) {
                    named.replace_extension();
                    named += "-" + (look.empty() ? std::string("as-received") : look);
                    named += file.extension();
                }
                for (std::size_t v = 0; v < plan.views.size(); ++v) {
                    const auto to = turns ? numbered(named, static_cast<int>(v) + 1) : named;
                    tell(done / all, QString::fromStdString(to.filename().string()));
                    auto picture = makeFrame(preview, shown, resources, look, plan.views[v].camera,
                                             plan.width, plan.height, cancel);
                    if (!picture) return fail(picture.error());
                    const SourceFiles sources(project, resources);
                    if (auto written = writePicture(imageOf(*picture), to, sources); !written)
                        return fail(written.error());
                    ++done;
                }
            }
            return tr("%1 pictures are in %2.")
                .arg(done)
                .arg(QString::fromStdString(file.parent_path().string()));
        };
}

}  // namespace kettle
