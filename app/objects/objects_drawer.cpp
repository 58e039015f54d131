#include "app/objects/objects_drawer.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpressionValidator>
#include <QTreeView>
#include <QVBoxLayout>
#include <algorithm>

#include "core/document/surface_edits.h"

namespace kettle {
namespace {
constexpr int kWidth = 380;
}

ObjectsDrawer::ObjectsDrawer(Session& session, PictureService& pictures, QWidget* over)
    : Drawer(tr("Objects"), kWidth, over),
      m_session(session),
      m_pictures(pictures),
      m_model(new ObjectsModel(session, this)),
      m_tree(new QTreeView(this)) {
    m_strangers = new QLabel(this);
    m_strangers->setObjectName(QStringLiteral("quiet"));
    m_strangers->setWordWrap(true);
    m_strangers->setContentsMargins(kMargin, 0, kMargin, 0);
    m_strangers->hide();
    column().addWidget(m_strangers);
    m_tree->setModel(m_model);
    m_tree->setAccessibleName(tr("Objects of the model"));
    m_tree->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_tree->setUniformRowHeights(true);
    m_tree->setFrameShape(QFrame::NoFrame);
    m_tree->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    m_tree->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_tree->setIconSize({14, 14});
    m_tree->setIndentation(16);
    m_tree->setContextMenuPolicy(Qt::CustomContextMenu);
    m_tree->header()->setStretchLastSection(false);
    m_tree->header()->setSectionResizeMode(ObjectsModel::Name, QHeaderView::Stretch);
    m_tree->header()->setSectionResizeMode(ObjectsModel::Number, QHeaderView::Fixed);
    m_tree->header()->setSectionResizeMode(ObjectsModel::SurfaceName, QHeaderView::Fixed);
    m_tree->header()->resizeSection(ObjectsModel::Number, 68);
    m_tree->header()->resizeSection(ObjectsModel::SurfaceName, 96);
    column().addWidget(m_tree, 1);
    column().addWidget(makeFoot());
    setFirst(m_tree);

    connect(m_tree, &QWidget::customContextMenuRequested, this, &ObjectsDrawer::openMenu);
    connect(m_tree->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &ObjectsDrawer::takeChoice);
    connect(m_model, &ObjectsModel::numberTyped, this, [this](const QModelIndex& index, int number) {
        QModelIndexList rows = chosen();
        if (!rows.contains(index.siblingAtColumn(0))) rows = {index.siblingAtColumn(0)};
        setNumbers(rows, number, 0);
    });
    connect(&m_session, &Session::objectsChanged, this, &ObjectsDrawer::showChoice);
    for (const auto signal : {&Session::projectChanged, &Session::lookChanged, &Session::selectionChanged})
        connect(&m_session, signal, this, [this] {
            if (isOpen()) ask();
        });
    connect(&m_pictures, &PictureService::objectsReady, this,
            [this](quint64 number, const std::shared_ptr<const ObjectColours>& objects) {
                if (number != m_asked) return;
                m_model->setObjects(objects);
                showChoice();
                refreshFoot();
            });
}

QPushButton* ObjectsDrawer::addButton(QLayout& row, const QString& words, const QString& tip) {
    auto* button = new QPushButton(words, this);
    button->setToolTip(tip);
    row.addWidget(button);
    return button;
}

QWidget* ObjectsDrawer::makeFoot() {
    auto* foot = new QWidget(this);
    auto* rows = new QVBoxLayout(foot);
    rows->setContentsMargins(kMargin, 0, kMargin, 0);
    rows->setSpacing(6);
    m_words = new QLabel(foot);
    m_words->setObjectName(QStringLiteral("quiet"));
    m_words->setWordWrap(true);
    m_words->setMinimumHeight(32);
    rows->addWidget(m_words);
    auto* numbers = new QHBoxLayout;
    numbers->setSpacing(6);
    m_number = new QLineEdit(foot);
    m_number->setPlaceholderText(tr("number"));
    m_number->setAccessibleName(tr("Number"));
    m_number->setFixedWidth(76);
    m_number->setValidator(
        new QRegularExpressionValidator(QRegularExpression(QStringLiteral("\\d{0,12}")), m_number));
    numbers->addWidget(m_number);
    m_equal =
        addButton(*numbers, tr("Set equal"), tr("All chosen bear this number and look the same (Enter)."));
    m_count = addButton(*numbers, tr("Count up"),
                        tr("The first chosen bears this number, the next one more, and so on."));
    m_own = addButton(*numbers, tr("As counted"), tr("The model's own numbers again."));
    rows->addLayout(numbers);
    auto* more = new QHBoxLayout;
    m_flat = addButton(*more, tr("Show in Flat"),
                       tr("Flat, thumbnails and exports show this object where several share a place."));
    more->addStretch(1);
    rows->addLayout(more);
    connect(m_number, &QLineEdit::returnPressed, this, [this] {
        setEqual();
        if (m_startedFrom) endNumber();
    });
    connect(m_number, &QLineEdit::textChanged, this, &ObjectsDrawer::refreshFoot);
    connect(m_equal, &QPushButton::clicked, this, &ObjectsDrawer::setEqual);
    connect(m_count, &QPushButton::clicked, this, &ObjectsDrawer::countUp);
    connect(m_own, &QPushButton::clicked, this, &ObjectsDrawer::takeOwn);
    connect(m_flat, &QPushButton::clicked, this, &ObjectsDrawer::showInFlat);
    return foot;
}

void ObjectsDrawer::startNumber(const QString& digit) {
    QWidget* from = QApplication::focusWidget();
    const bool wasOpen = isOpen();
    setOpen(true);
    m_startedFrom = from;
    m_isOpenForNumber = !wasOpen;
    m_number->setEnabled(true);
    m_number->setText(digit);
    m_number->setFocus();
}

/// The hand goes on where it was, on the model.
void ObjectsDrawer::endNumber() {
    if (m_isOpenForNumber) setOpen(false);
    m_startedFrom->setFocus();
    m_startedFrom = nullptr;
}

void ObjectsDrawer::ask() {
    m_model->refresh();
    m_tree->setColumnHidden(ObjectsModel::SurfaceName, m_session.project().surfaces.empty());
    refreshFoot();
    const LookHere surface = m_session.surfacePlace();
    m_asked = m_pictures.askObjects(PictureService::ObjectsFor::List, m_session.project(), m_session.look(),
                                    surface.line, surface.after, m_session.resources());
}

QModelIndexList ObjectsDrawer::chosen() const {
    QModelIndexList rows = m_tree->selectionModel()->selectedRows();
    std::sort(rows.begin(), rows.end(), [](const QModelIndex& a, const QModelIndex& b) {
        const auto key = [](const QModelIndex& i) {
            return i.parent().isValid() ? std::pair(i.parent().row(), i.row() + 1) : std::pair(i.row(), 0);
        };
        return key(a) < key(b);
    });
    return rows;
}

void ObjectsDrawer::takeChoice() {
    refreshFoot();
    if (m_isTaking) return;
    std::set<std::string> names;
    for (const QModelIndex& index : chosen())
        names.insert(m_model->nameOf(m_model->isPart(index) ? index.parent() : index));
    m_isTaking = true;
    m_session.chooseObjects(std::move(names));
    m_isTaking = false;
}

void ObjectsDrawer::showChoice() {
    if (m_isTaking) return;
    m_isTaking = true;
    QItemSelection selection;
    QModelIndex first;
    for (const std::string& name : m_session.chosenObjects())
        if (const QModelIndex index = m_model->indexOf(name); index.isValid()) {
            selection.select(index, index.siblingAtColumn(ObjectsModel::Columns - 1));
            if (!first.isValid()) first = index;
        }
    m_tree->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
    if (first.isValid()) {
        m_tree->selectionModel()->setCurrentIndex(first, QItemSelectionModel::NoUpdate);
        m_tree->scrollTo(first);
    }
    m_isTaking = false;
    refreshFoot();
}

void ObjectsDrawer::refreshFoot() {
    const QModelIndexList rows = chosen();
    const int all = m_model->rowCount();
    m_words->setText(rows.isEmpty()
                         ? tr("%1 objects. Choose some here, or on the model with Ctrl and a click.").arg(all)
                     : rows.size() == 1 ? tr("%1 bears number %2.")
                                              .arg(QString::fromStdString(m_model->nameOf(rows.front())))
                                              .arg(m_model->numberOf(rows.front()))
                                        : tr("%1 chosen of %2").arg(rows.size()).arg(all));
    const bool hasNumber = !m_number->text().isEmpty();
    // What was chosen on the model is numbered before the list is there.
    const bool isChosen = !rows.isEmpty() || !m_session.chosenObjects().empty();
    m_number->setEnabled(isChosen);
    m_equal->setEnabled(isChosen && hasNumber);
    m_count->setEnabled(rows.size() > 1 && hasNumber);
    m_own->setEnabled(!rows.isEmpty());
    const std::string shown = m_session.project().view.object;
    const bool isShown = rows.size() == 1 && !shown.empty() && m_model->nameOf(rows.front()) == shown;
    m_flat->setEnabled(rows.size() == 1);
    m_flat->setText(isShown ? tr("Show the first in Flat") : tr("Show in Flat"));
    const int strangers = m_model->strangers();
    m_strangers->setVisible(strangers > 0);
    m_strangers->setText(strangers == 1
                             ? tr("One number belongs to an object that this model does not have. It is kept "
                                  "for a model that has it.")
                             : tr("%1 numbers belong to objects that this model does not have. They are "
                                  "kept for a model that has them.")
                                   .arg(strangers));
}

void ObjectsDrawer::setNumbers(const QModelIndexList& rows, int from, int step) {
    std::map<std::string, std::optional<int>> objects, parts;
    qint64 number = from;
    for (const QModelIndex& index : rows) {
        (m_model->isPart(index) ? parts : objects)[m_model->nameOf(index)] =
            static_cast<int>(std::min<qint64>(number, kMostNumber + 1));
        number += step;
    }
    if (rows.isEmpty())
        for (const std::string& name : m_session.chosenObjects()) objects[name] = from;
    const QString name = rows.size() == 1
                             ? tr("Number of %1").arg(QString::fromStdString(m_model->nameOf(rows.front())))
                             : tr("Numbers of %1 objects").arg(objects.size() + parts.size());
    if (!objects.empty()) m_session.setNumbers(false, objects, name);
    if (!parts.empty()) m_session.setNumbers(true, parts, name);
}

void ObjectsDrawer::setEqual() {
    if (m_number->text().isEmpty()) return;
    setNumbers(chosen(),
               static_cast<int>(std::min<qlonglong>(m_number->text().toLongLong(), kMostNumber + 1)), 0);
}

void ObjectsDrawer::countUp() {
    setNumbers(chosen(),
               static_cast<int>(std::min<qlonglong>(m_number->text().toLongLong(), kMostNumber + 1)), 1);
}

void ObjectsDrawer::takeOwn() {
    std::map<std::string, std::optional<int>> objects, parts;
    for (const QModelIndex& index : chosen())
        (m_model->isPart(index) ? parts : objects)[m_model->nameOf(index)] = std::nullopt;
    if (!objects.empty()) m_session.setNumbers(false, objects, tr("The model's own numbers"));
    if (!parts.empty()) m_session.setNumbers(true, parts, tr("The model's own numbers"));
}

void ObjectsDrawer::giveTo(const std::string& surface) {
    std::vector<std::string> parts;
    for (const QModelIndex& index : chosen())
        for (std::string& part : m_model->partsOf(index)) parts.push_back(std::move(part));
    m_session.apply(edits::giveParts(m_session.project(), surface, parts),
                    tr("Give to %1").arg(QString::fromStdString(surfaceName(m_session.project(), surface))));
}

void ObjectsDrawer::showInFlat() {
    const QModelIndexList rows = chosen();
    if (rows.size() != 1) return;
    const std::string name = m_model->nameOf(rows.front());
    m_session.showObject(m_session.project().view.object == name ? std::string() : name);
}

void ObjectsDrawer::openMenu(QPoint at) {
    if (chosen().isEmpty()) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(m_flat->text(), this, &ObjectsDrawer::showInFlat)->setEnabled(m_flat->isEnabled());
    menu->addAction(tr("The model's own numbers"), this, &ObjectsDrawer::takeOwn);
    if (!m_session.project().surfaces.empty()) {
        QMenu* surfaces = menu->addMenu(tr("Give to the surface"));
        for (const auto& surface : m_session.project().surfaces)
            surfaces->addAction(QString::fromStdString(surface->name), this,
                                [this, id = surface->id] { giveTo(id); });
        surfaces->addAction(tr("None"), this, [this] { giveTo({}); });
    }
    menu->popup(m_tree->viewport()->mapToGlobal(at));
}

}  // namespace kettle
