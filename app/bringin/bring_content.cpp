// What the sheet shows of a plan: the model, each set with its pictures, and what was left out.
#include <QButtonGroup>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/bringin/bring_row.h"
#include "app/bringin/bring_sheet.h"
#include "app/bringin/quiet.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "app/style/word_search.h"

namespace kettle {
namespace {

QLabel* warning(const QString& words, QWidget* parent) {
    auto* label = new QLabel(theme::breakable(words), parent);
    label->setObjectName(QStringLiteral("warning"));
    label->setWordWrap(true);
    return label;
}

QFrame* rule(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setFixedHeight(1);
    line->setObjectName(QStringLiteral("rule"));
    return line;
}

QString centimetres(float v) {
    return QString::number(static_cast<double>(v), 'f', v < 10 ? 1 : 0);
}

QStringList toList(const std::vector<std::string>& names) {
    QStringList list;
    for (const std::string& name : names) list << QString::fromStdString(name);
    return list;
}

QString tilesOf(const std::vector<int>& tiles) {
    if (tiles.empty()) return BringSheet::tr("no tiles");
    return tiles.size() == 1 ? BringSheet::tr("tile %1").arg(tiles.front())
                             : BringSheet::tr("tiles %1 to %2").arg(tiles.front()).arg(tiles.back());
}

/// What cannot be chosen as another surface's name: the set only waits in the project.
const QString kWaits = QStringLiteral("\n");

}  // namespace

void BringSheet::rebuild() {
    const int scrolled = m_area->verticalScrollBar()->value();
    auto* page = new QWidget;
    page->setObjectName(QStringLiteral("content"));
    page->setStyleSheet(QStringLiteral("QWidget#content { background: transparent; }"));
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 12, 0);
    column->setSpacing(10);
    if (m_plan->model && m_replaced.empty()) addModel(*column);
    for (PlannedSet& set : m_plan->sets) {
        addSet(*column, set);
        if (!m_replaced.empty()) break;
    }
    addLeftOut(*column);
    column->addStretch(1);
    m_area->setWidget(page);
    m_area->verticalScrollBar()->setValue(scrolled);
    refreshSummary();
}

void BringSheet::addModel(QVBoxLayout& column) {
    PlannedModel& model = *m_plan->model;
    auto* box = new QWidget(this);
    auto* rows = new QVBoxLayout(box);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(3);
    auto* first = new QHBoxLayout;
    first->setSpacing(10);
    auto* name = new QLabel(QString::fromStdString(model.file.filename().string()), box);
    name->setFont(theme::font(13, true));
    first->addWidget(name);
    first->addWidget(quiet(tr("%1 objects · %2 parts · %L3 triangles · %4")
                               .arg(model.objects)
                               .arg(model.parts.size())
                               .arg(model.triangles)
                               .arg(tilesOf(model.tiles)),
                           box));
    first->addStretch(1);
    rows->addLayout(first);
    auto* second = new QHBoxLayout;
    second->setSpacing(10);
    second->addWidget(
        quiet(tr("%1 × %2 × %3 cm, measured in")
                  .arg(centimetres(model.size.x), centimetres(model.size.y), centimetres(model.size.z)),
              box));
    auto* unit = new QComboBox(box);
    unit->setAccessibleName(tr("What the model is measured in"));
    for (const auto& [id, words] : {std::pair<const char*, QString>{"auto", tr("what its format says")},
                                    {"mm", tr("millimetres")},
                                    {"cm", tr("centimetres")},
                                    {"m", tr("metres")},
                                    {"inch", tr("inches")}})
        unit->addItem(words, QString::fromLatin1(id));
    unit->setCurrentIndex(std::max(0, unit->findData(QString::fromStdString(model.unit))));
    connect(unit, &QComboBox::activated, this, [this, unit] {
        PlannedModel& planned = *m_plan->model;
        const std::string chosen = unit->currentData().toString().toStdString();
        planned.size =
            planned.size * (centimetresOf(chosen, planned.file) / centimetresOf(planned.unit, planned.file));
        planned.unit = chosen;
        rebuild();
    });
    second->addWidget(unit);
    if (isUnlikelySize({}, model.size))
        second->addWidget(warning(tr("! An unlikely size: choose the unit that it was made in."), box), 1);
    else
        second->addStretch(1);
    rows->addLayout(second);
    if (!model.materials.empty()) {
        auto* third = new QHBoxLayout;
        third->setSpacing(10);
        const QString materials = toList(model.materials).join(QStringLiteral(", "));
        auto* list =
            quiet(tr("materials: %1").arg(fontMetrics().elidedText(materials, Qt::ElideRight, 520)), box);
        list->setToolTip(materials);
        third->addWidget(list);
        if (model.materials.size() > 1) {
            auto* choice = new QComboBox(box);
            searchByWords(*choice);
            choice->setAccessibleName(tr("Surfaces"));
            choice->addItem(tr("each becomes a surface"), false);
            choice->addItem(tr("one surface for all"), true);
            choice->setCurrentIndex(m_plan->isOneForAll ? 1 : 0);
            connect(choice, &QComboBox::activated, this, [this, choice] {
                m_plan->isOneForAll = choice->currentData().toBool();
                refreshSummary();
            });
            third->addWidget(choice);
        }
        third->addStretch(1);
        rows->addLayout(third);
    }
    if (!model.withoutUv.empty())
        rows->addWidget(
            warning(tr("! Without texture coordinates: %1. Maps show their mean there; unwrap the model to "
                       "see them.")
                        .arg(toList(model.withoutUv).join(QStringLiteral(", "))),
                    box));
    column.addWidget(box);
    column.addWidget(rule(this));
}

QComboBox* BringSheet::surfaceChoice(PlannedSet& set, QWidget* parent) {
    auto* box = new QComboBox(parent);
    searchByWords(*box);
    box->setAccessibleName(tr("The surface of %1").arg(QString::fromStdString(set.name)));
    QStringList names = toList(m_plan->surfaces);
    if (m_plan->surfaces.size() < 2)
        for (const auto& surface : m_session.project().surfaces)
            names << QString::fromStdString(surface->name);
    names.removeDuplicates();
    if (names.isEmpty()) box->addItem(tr("the surface"), QString());
    for (const QString& name : names) box->addItem(name, name);
    box->addItem(tr("no surface: it waits"), kWaits);
    const QString now = set.drives ? QString::fromStdString(set.surface) : kWaits;
    box->setCurrentIndex(std::max(0, box->findData(now)));
    connect(box, &QComboBox::activated, this, [this, box, &set] {
        const QString chosen = box->currentData().toString();
        set.drives = chosen != kWaits;
        if (set.drives) set.surface = chosen.toStdString();
        // A surface has one set: who had it waits.
        for (PlannedSet& other : m_plan->sets)
            if (&other != &set && set.drives && other.drives && other.surface == set.surface)
                other.drives = false;
        QMetaObject::invokeMethod(this, &BringSheet::rebuild, Qt::QueuedConnection);
    });
    return box;
}

void BringSheet::addSet(QVBoxLayout& column, PlannedSet& set) {
    auto* head = new QHBoxLayout;
    head->setSpacing(10);
    auto* name = new QLabel(QString::fromStdString(titleOfName(set.name)), this);
    name->setFont(theme::font(13, true));
    head->addWidget(name);
    head->addWidget(quiet(set.maps.size() == 1 ? tr("1 map") : tr("%1 maps").arg(set.maps.size()), this));
    head->addStretch(1);
    if (m_replaced.empty()) {
        head->addWidget(quiet(tr("goes to"), this));
        head->addWidget(surfaceChoice(set, this));
    }
    column.addLayout(head);
    auto* holder = new QWidget(this);
    auto* grid = new QGridLayout(holder);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(12);
    grid->setVerticalSpacing(8);
    grid->setColumnStretch(BringRow::kColumns - 1, 1);
    const QString titles[] = {{}, {}, tr("becomes"), tr("reads"), tr("encoding"), tr("why")};
    for (int c = 2; c < BringRow::kColumns; ++c) grid->addWidget(quiet(titles[c], holder), 0, c);
    int row = 1;
    for (PlannedMap& map : set.maps) {
        auto* made = new BringRow(map, *grid, row++, holder);
        connect(made, &BringRow::changed, this, &BringSheet::refreshSummary);
    }
    column.addWidget(holder);
    column.addWidget(rule(this));
}

void BringSheet::addLeftOut(QVBoxLayout& column) {
    if (m_plan->leftOut.empty()) return;
    auto* name = new QLabel(tr("Left out"), this);
    name->setFont(theme::font(13, true));
    column.addWidget(name);
    for (const std::string& sentence : m_plan->leftOut)
        column.addWidget(warning(QStringLiteral("! ") + QString::fromStdString(sentence), this));
}

}  // namespace kettle
