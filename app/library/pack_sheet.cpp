#include "app/library/pack_sheet.h"

#include <QApplication>
#include <QCheckBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/style/theme.h"
#include "core/document/layer_edits.h"
#include "core/document/recipe_edits.h"

namespace kettle {
namespace {

constexpr int kTarget = Qt::UserRole, kItem = Qt::UserRole + 1;

QString numberText(double v, int decimals) {
    QString text = QString::number(v, 'f', decimals);
    if (text.contains(QLatin1Char('.')))
        while (text.endsWith(QLatin1Char('0')) || text.endsWith(QLatin1Char('.'))) {
            const bool isPoint = text.endsWith(QLatin1Char('.'));
            text.chop(1);
            if (isPoint) break;
        }
    return text;
}

}  // namespace

PackSheet::PackSheet(Session& session, LibraryShelf& shelf, QWidget* parent)
    : QFrame(parent), m_session(session), m_shelf(shelf) {
    setObjectName(theme::kSheet);
    setAccessibleName(tr("Pack as a recipe"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(12);
    m_title = new QLabel(this);
    m_title->setObjectName(QStringLiteral("title"));
    column->addWidget(m_title);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    m_name = new QLineEdit(this);
    m_name->setAccessibleName(tr("Name"));
    m_purpose = new QLineEdit(this);
    m_purpose->setAccessibleName(tr("What it is for"));
    m_purpose->setPlaceholderText(tr("One line, for those who find it later"));
    form->addWidget(new QLabel(tr("Name"), this), 0, 0);
    form->addWidget(m_name, 0, 1);
    form->addWidget(new QLabel(tr("What it is for"), this), 1, 0);
    form->addWidget(m_purpose, 1, 1);
    column->addLayout(form);
    m_lists = makeLists();
    column->addWidget(m_lists, 1);
    auto* foot = new QHBoxLayout;
    m_keep = new QCheckBox(tr("Keep it in the library too"), this);
    m_keep->setChecked(true);
    m_cancel = new QPushButton(tr("Cancel"), this);
    m_pack = new QPushButton(tr("Pack"), this);
    m_pack->setObjectName(QStringLiteral("primary"));
    foot->addWidget(m_keep);
    foot->addStretch(1);
    foot->addWidget(m_cancel);
    foot->addWidget(m_pack);
    column->addLayout(foot);
    connect(m_cancel, &QPushButton::clicked, this, &QWidget::hide);
    connect(m_pack, &QPushButton::clicked, this, &PackSheet::accept);
    connect(m_name, &QLineEdit::returnPressed, this, &PackSheet::accept);
    connect(m_purpose, &QLineEdit::returnPressed, this, &PackSheet::accept);
    parent->installEventFilter(this);
    hide();
}

QWidget* PackSheet::makeLists() {
    auto* lists = new QWidget(this);
    auto* grid = new QGridLayout(lists);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(6);
    const auto heading = [&](const QString& words, int at) {
        auto* label = new QLabel(words, lists);
        label->setObjectName(QStringLiteral("section"));
        grid->addWidget(label, 0, at);
    };
    heading(tr("What its steps have"), 0);
    heading(tr("What its tuner will show"), 1);
    m_offered = new QTreeWidget(lists);
    m_offered->setHeaderHidden(true);
    m_offered->setColumnCount(1);
    m_offered->setAccessibleName(tr("Controls of the steps"));
    m_offered->setIndentation(14);
    m_offered->setFocusPolicy(Qt::TabFocus);  // the keys stay with the name while controls are ticked
    m_exposed = new QTreeWidget(lists);
    m_exposed->setAccessibleName(tr("Controls of the recipe"));
    m_exposed->setColumnCount(5);
    m_exposed->setHeaderLabels({tr("Name"), tr("Section"), tr("From"), tr("To"), tr("Unit")});
    m_exposed->setRootIsDecorated(false);
    m_exposed->setDragDropMode(QAbstractItemView::InternalMove);
    m_exposed->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                               QAbstractItemView::SelectedClicked);
    m_exposed->header()->setSectionResizeMode(Name, QHeaderView::Stretch);
    m_exposed->header()->setStretchLastSection(false);
    m_exposed->header()->resizeSection(Section, 120);
    for (const Column c : {From, To, Unit}) m_exposed->header()->resizeSection(c, 56);
    m_exposed->setToolTip(
        tr("A double click changes a word. Rows are ordered by dragging, or with Alt and the arrows."));
    m_exposed->installEventFilter(this);
    grid->addWidget(m_offered, 1, 0);
    grid->addWidget(m_exposed, 1, 1);
    grid->setColumnStretch(0, 2);
    grid->setColumnStretch(1, 3);
    connect(m_offered, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) { tick(item); });
    return lists;
}

void PackSheet::addOffered(const Step& step, Kind kind, const QString& where) {
    const StepSpec* spec = m_session.steps().find(step.type);
    if (spec == nullptr) return;
    const QString name = QString::fromStdString(spec->name);
    auto* top = new QTreeWidgetItem(m_offered, {where.isEmpty() ? name : tr("%1, of %2").arg(name, where)});
    top->setData(0, kItem, name);
    const StepView view(*spec, step, kind);
    for (const ControlSpec& control : spec->controls) {
        if (control.hidden || control.measured || !view.isShown(control)) continue;
        if (!control.kinds.empty() &&
            std::find(control.kinds.begin(), control.kinds.end(), kind) == control.kinds.end())
            continue;
        auto* item = new QTreeWidgetItem(top, {QString::fromStdString(control.name)});
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(0, Qt::Unchecked);
        item->setToolTip(0, QString::fromStdString(control.tip));
        item->setData(0, kTarget, QString::fromStdString(step.id + "." + control.id));
    }
    top->setExpanded(true);
}

bool PackSheet::fillOffered() {
    const QSignalBlocker quiet(m_offered);
    m_offered->clear();
    m_exposed->clear();
    m_kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    const std::vector<std::string> steps = m_session.selection();
    edits::PackWish trial;
    trial.name = "trial";
    trial.kinds = m_kinds;
    const auto recipe = edits::recipeOfSteps(m_session.project(), m_session.look(), steps, trial);
    if (!recipe) {
        Q_EMIT m_session.told(QString::fromStdString(recipe.error().sentence), true);
        return false;
    }
    const Kind kind = m_session.selectedLine()->kind;
    for (const auto& step : recipe->steps) {
        if (const StepSpec* spec = m_session.steps().find(step->type))
            std::erase_if(m_kinds, [&](Kind k) { return !spec->fits(k); });
        addOffered(*step, kind, {});
    }
    for (const auto& line : recipe->lines)
        for (const auto& step : line->steps)
            addOffered(*step, line->kind, QString::fromStdString(line->name));
    // A line that it reads as itself decides the kind.
    if (!recipe->lines.empty() || !recipe->feeds.empty()) m_kinds = {kind};
    const StepSpec* first = m_session.steps().find(recipe->steps.front()->type);
    m_name->setText(recipe->steps.size() == 1 && first != nullptr
                        ? QString::fromStdString(first->name)
                        : tr("Recipe %1").arg(m_session.project().recipes.size() + 1));
    return true;
}

void PackSheet::open() {
    if (!isVisible()) m_before = QApplication::focusWidget();
    m_layers.clear();
    m_purpose->clear();
    if (m_session.selectedLayer() != nullptr) return openForLayers(m_session.selectedLayers());
    if (!fillOffered()) return;
    m_title->setText(m_session.selection().size() == 1
                         ? tr("Pack a step as a recipe")
                         : tr("Pack %1 steps as a recipe").arg(m_session.selection().size()));
    m_lists->show();
    m_keep->show();
    m_pack->setText(tr("Pack"));
    place();
}

void PackSheet::openForLayers(const std::vector<std::string>& layers) {
    m_layers = layers;
    m_title->setText(tr("Keep the layer in the library"));
    m_name->setText(QString::fromStdString(m_session.selectedLayer()->name));
    m_lists->hide();
    m_keep->hide();
    m_pack->setText(tr("Keep"));
    place();
}

void PackSheet::place() {
    const QSize room = parentWidget()->size() - QSize(64, 96);
    const QSize wanted = m_layers.empty() ? QSize(900, 560) : QSize(520, 200);
    resize(wanted.boundedTo(room));
    move((parentWidget()->width() - width()) / 2, std::max(40, (parentWidget()->height() - height()) / 2));
    show();
    raise();
    m_name->setFocus();
    m_name->selectAll();
}

void PackSheet::tick(QTreeWidgetItem* item) {
    const QString target = item->data(0, kTarget).toString();
    if (target.isEmpty()) return;
    QTreeWidgetItem* row = nullptr;
    for (int i = 0; i < m_exposed->topLevelItemCount(); ++i)
        if (m_exposed->topLevelItem(i)->data(0, kTarget).toString() == target)
            row = m_exposed->topLevelItem(i);
    if (item->checkState(0) != Qt::Checked) {
        delete row;
        return;
    }
    if (row != nullptr) return;
    const auto step = m_session.shownStep(target.section(QLatin1Char('.'), 0, 0).toStdString());
    const StepSpec* spec = step ? m_session.steps().find(step->type) : nullptr;
    const ControlSpec* control =
        spec != nullptr ? spec->findControl(target.section(QLatin1Char('.'), 1).toStdString()) : nullptr;
    if (control == nullptr) return;
    row = new QTreeWidgetItem(m_exposed);
    row->setFlags((row->flags() | Qt::ItemIsEditable | Qt::ItemIsDragEnabled) & ~Qt::ItemIsDropEnabled);
    row->setData(0, kTarget, target);
    QString name = item->text(0);
    const QString of = item->parent()->data(0, kItem).toString();
    for (int i = 0; i + 1 < m_exposed->topLevelItemCount(); ++i)
        if (m_exposed->topLevelItem(i)->text(Name) == name) name = tr("%1 of %2").arg(of, name.toLower());
    row->setText(Name, name);
    row->setText(Section, of);
    if (control->type != ControlType::Number) return;
    row->setText(From, numberText(control->low, control->decimals));
    row->setText(To, numberText(control->high, control->decimals));
    row->setText(Unit, QString::fromStdString(control->unit));
}

void PackSheet::moveExposed(int way) {
    const int row = m_exposed->indexOfTopLevelItem(m_exposed->currentItem()), to = row + way;
    if (row < 0 || to < 0 || to >= m_exposed->topLevelItemCount()) return;
    QTreeWidgetItem* item = m_exposed->takeTopLevelItem(row);
    m_exposed->insertTopLevelItem(to, item);
    m_exposed->setCurrentItem(item);
}

edits::PackWish PackSheet::wish() const {
    edits::PackWish wish;
    wish.name = m_name->text().trimmed().toStdString();
    wish.purpose = m_purpose->text().trimmed().toStdString();
    wish.kinds = m_kinds;
    for (int i = 0; i < m_exposed->topLevelItemCount(); ++i) {
        const QTreeWidgetItem* row = m_exposed->topLevelItem(i);
        RecipeControl control;
        control.name = row->text(Name).trimmed().toStdString();
        control.section = row->text(Section).trimmed().toStdString();
        control.targets = {row->data(0, kTarget).toString().toStdString()};
        // Where nothing is written, the control's own range stays.
        if (const auto low = numberOf(row->text(From).toStdString())) control.low = *low;
        if (const auto high = numberOf(row->text(To).toStdString())) control.high = *high;
        control.unit = row->text(Unit).trimmed().toStdString();
        wish.controls.push_back(std::move(control));
    }
    return wish;
}

void PackSheet::keepLayers() {
    const auto copied = edits::copyLayers(m_session.project(), m_session.look(), m_layers);
    if (!copied)
        return static_cast<void>(
            Q_EMIT m_session.told(QString::fromStdString(copied.error().sentence), true));
    LibraryEntry entry;
    entry.kind = EntryKind::Layer;
    entry.name = m_name->text().trimmed().toStdString();
    entry.content = KeptLayer{entry.name, m_purpose->text().trimmed().toStdString(), {}, *copied};
    if (!m_shelf.keep(entry, m_pictureOf ? m_pictureOf(m_session.selectedStep()) : QImage())) return;
    hide();
    Q_EMIT kept(EntryKind::Layer, QString::fromStdString(entry.name));
}

void PackSheet::accept() {
    // Enter in a field reaches the sheet as well, when all is done.
    if (!isVisible()) return;
    if (!m_layers.empty()) return keepLayers();
    const edits::PackWish wanted = wish();
    // The library gets it with the values of the look that is shown; the project's keeps those of the base.
    const auto asShown =
        edits::recipeOfSteps(m_session.project(), m_session.look(), m_session.selection(), wanted);
    if (!m_session.packSelection(wanted)) return;
    hide();
    if (!m_keep->isChecked()) return;
    const auto shown = m_session.shownStep(m_session.selectedStep());
    const Recipe* recipe = shown ? m_session.project().findRecipe(recipeOf(shown->type)) : nullptr;
    if (recipe == nullptr) return;
    LibraryEntry entry;
    entry.name = recipe->name;
    entry.content = asShown ? *asShown : *recipe;
    const QString name = QString::fromStdString(recipe->name);
    // The last of its steps bore the id that the recipe's step bears, so its picture is there already.
    if (m_shelf.keep(entry, m_pictureOf ? m_pictureOf(shown->id) : QImage()))
        Q_EMIT kept(EntryKind::Recipe, name);
}

void PackSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return hide();
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return accept();
    QFrame::keyPressEvent(event);
}

void PackSheet::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    if (m_before != nullptr) m_before->setFocus();
}

bool PackSheet::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible()) place();
    if (watched == m_exposed && event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool isUp = key->key() == Qt::Key_Up, isDown = key->key() == Qt::Key_Down;
        if ((isUp || isDown) && (key->modifiers() & Qt::AltModifier) != 0) {
            moveExposed(isUp ? -1 : 1);
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace kettle
