#include "app/exporting/export_page.h"

#include <QCheckBox>
#include <QLabel>
#include <QVBoxLayout>

namespace kettle {

QLabel* ExportPage::heading(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    return label;
}

void ExportPage::addBox(Boxes& boxes, QVBoxLayout& layout, const std::string& id, const QString& name,
                        bool checked) {
    auto* box = new QCheckBox(name, this);
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

}  // namespace kettle
