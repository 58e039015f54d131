#include "app/exporting/export_page.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QRegularExpression>
#include <QVBoxLayout>

#include "core/engine/source_files.h"

namespace kettle {

QLabel* ExportPage::heading(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    return label;
}

void ExportPage::addList(QHBoxLayout& lists, QLabel* title, QVBoxLayout* list) {
    auto* part = new QVBoxLayout;
    part->setSpacing(6);
    part->addWidget(title);
    list->setSpacing(6);
    part->addLayout(list);
    part->addStretch(1);
    lists.addLayout(part);
}

void ExportPage::addRow(QGridLayout& form, int& row, QLabel* title, QWidget* field, QWidget* extra) {
    field->setAccessibleName(title->text());
    form.addWidget(title, row, 0);
    form.addWidget(field, row, 1, 1, extra != nullptr ? 1 : 2);
    if (extra != nullptr) form.addWidget(extra, row, 2);
    ++row;
}

Result<void> ExportPage::makeReady(const Project& project, const Resources& resources,
                                   const std::filesystem::path& file) {
    if (auto free = SourceFiles(project, resources).mayWrite(file); !free) return free;
    std::error_code code;
    std::filesystem::create_directories(file.parent_path(), code);
    if (!code) return {};
    return fail(ErrorKind::Write,
                "Cannot make the folder " + file.parent_path().string() + ". Choose another.",
                code.message());
}

void ExportPage::addBox(Boxes& boxes, QVBoxLayout& layout, const std::string& id, const QString& name,
                        bool checked) {
    // A long name leaves room for the form beside it.
    constexpr int kWidest = 150;
    auto* box = new QCheckBox(this);
    box->setText(box->fontMetrics().elidedText(name, Qt::ElideRight, kWidest));
    if (box->text() != name) box->setToolTip(name);
    box->setChecked(checked);
    box->setFixedHeight(18);
    connect(box, &QCheckBox::toggled, this, &ExportPage::changed);
    layout.addWidget(box);
    boxes.emplace_back(id, box);
}

void ExportPage::clear(Boxes& boxes) {
    for (auto& [id, box] : boxes) delete box;
    boxes.clear();
}

std::vector<std::string> ExportPage::chosen(const Boxes& boxes) {
    std::vector<std::string> ids;
    for (const auto& [id, box] : boxes)
        if (box->isChecked()) ids.push_back(id);
    return ids;
}

void ExportPage::addLooks(Boxes& boxes, QVBoxLayout& layout, const Session& session,
                          const std::function<bool(const std::string&)>& checks) {
    addBox(boxes, layout, {}, session.baseName(), checks({}));
    for (const auto& look : session.project().looks)
        addBox(boxes, layout, look->id, QString::fromStdString(look->name), checks(look->id));
}

QString ExportPage::commandOf(const QString& name, const Session& session, const QStringList& words) {
    if (session.filePath().isEmpty()) return {};
    static const QRegularExpression plain(QStringLiteral("^[A-Za-z0-9_./,=:+-]+$"));
    QStringList all{QStringLiteral("pale-kettle-batch"), name, session.filePath()};
    all += words;
    for (QString& word : all)
        if (!plain.match(word).hasMatch())
            word = QLatin1Char('\'') + word.replace(QLatin1Char('\''), QStringLiteral("'\\''")) +
                   QLatin1Char('\'');
    return all.join(QLatin1Char(' '));
}

QStringList ExportPage::lookWords(const std::vector<std::string>& looks, const Session& session) const {
    const std::size_t all = session.project().looks.size() + 1;
    if (looks.size() == all && all > 1) return {QStringLiteral("--all-looks")};
    QStringList words;
    for (const std::string& look : looks) words << QStringLiteral("--look") << QString::fromStdString(look);
    return words;
}

}  // namespace kettle
