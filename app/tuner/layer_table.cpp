#include "app/tuner/layer_table.h"

#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/fields/hex_field.h"
#include "app/fields/number_field.h"
#include "app/fields/rows.h"
#include "app/pictures/step_words.h"
#include "app/session/session.h"
#include "app/style/theme.h"
#include "app/style/word_search.h"
#include "app/tuner/feed_menu.h"
#include "core/colour/encoding.h"
#include "core/document/handles.h"
#include "core/document/layers.h"
#include "core/document/sources.h"
#include "core/steps/blend.h"

namespace kettle {
namespace {

constexpr int kNameColumn = 104, kAmountColumn = 56;

const char* modeControl(Kind kind) {
    return kind == Kind::Normal ? kNormals.id : kFillMode.id;
}

/// The modes that make sense on a line, in their order.
std::vector<Choice> modesOn(const Line& line, const Catalogue& steps) {
    const StepSpec* spec = steps.find(kFill);
    const ControlSpec* control = spec != nullptr ? spec->findControl(modeControl(line.kind)) : nullptr;
    if (control == nullptr) return {};
    if (line.channel != channel::kHeight) {
        std::vector<Choice> all = control->choices;
        std::erase_if(all, [](const Choice& c) { return c.id == kFillMode.idOf(BlendMode::ByHeight); });
        return all;
    }
    std::vector<Choice> wanted;
    for (const BlendMode mode : {BlendMode::Normal, BlendMode::Add, BlendMode::Subtract, BlendMode::Multiply,
                                 BlendMode::Lighten, BlendMode::Darken, BlendMode::ByHeight})
        wanted.push_back({kFillMode.idOf(mode), kFillMode.nameOf(mode)});
    return wanted;
}

}  // namespace

template <class Field>
void LayerTable::joinGesture(Field* field) {
    connect(field, &Field::gestureStarted, this, [this] { m_gesture = m_session.newGesture(); });
}

LayerTable::LayerTable(Session& session, std::string layer, QWidget* parent)
    : QWidget(parent), m_session(session), m_layer(std::move(layer)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(8);
    auto* from = new QPushButton(tr("Fill all from a set…"), this);
    from->setObjectName(QStringLiteral("fill-from-set"));
    from->setToolTip(tr("Covers every channel that the set has a map for, and says what it lacks"));
    connect(from, &QPushButton::clicked, this, [this, from] { openSets(from); });
    column->addWidget(from);
    refresh();
}

std::string LayerTable::shape() const {
    const Project& project = m_session.project();
    const Line* layer = project.findLine(m_layer);
    std::string shape;
    if (layer == nullptr) return shape;
    for (const auto& line : project.lines) {
        if (line->channel.empty() || line->surface != layer->surface) continue;
        shape += line->id + ':';
        for (const auto& step : line->steps) {
            if (layerOf(*step) != m_layer) continue;
            shape += step->id;
            if (const Line* own = ownLineOf(project, *step))
                shape += '=' + own->steps.front()->type + own->steps.front()->id;
        }
        shape += '\n';
    }
    return shape;
}

void LayerTable::refresh() {
    if (std::string now = shape(); now != m_shape || m_grid == nullptr) {
        m_shape = std::move(now);
        rebuild();
    }
    for (Row& row : m_rows) refreshRow(row);
}

void LayerTable::rebuild() {
    m_rows.clear();
    delete m_grid;
    m_grid = new QWidget(this);
    auto* grid = new QGridLayout(m_grid);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(4);
    grid->setColumnMinimumWidth(0, kNameColumn);
    grid->setColumnStretch(1, 1);
    int column = 0;
    for (const QString& words : {tr("Channel"), tr("Fill, mode and amount")})
        grid->addWidget(quietLabel(words, m_grid), 0, column++);
    const Line* layer = m_session.project().findLine(m_layer);
    int at = 1;
    if (layer != nullptr)
        for (const auto& line : m_session.project().lines)
            if (!line->channel.empty() && line->surface == layer->surface) addRow(*grid, 2 * at++, *line);
    static_cast<QVBoxLayout*>(layout())->insertWidget(0, m_grid);
    m_grid->show();
}

void LayerTable::addRow(QGridLayout& grid, int at, const Line& line) {
    Row row;
    row.line = line.id;
    row.kind = line.kind;
    row.covered = new QCheckBox(QString::fromStdString(line.name), m_grid);
    row.covered->setObjectName(QStringLiteral("cover-") + QString::fromStdString(line.channel));
    row.covered->setToolTip(tr("Covered by the layer or not"));
    row.covered->setFixedWidth(kNameColumn);
    connect(row.covered, &QCheckBox::clicked, this,
            [this, id = line.id](bool on) { m_session.setCovered(m_layer, id, on); });
    grid.addWidget(row.covered, at, 0);
    for (const auto& step : line.steps)
        if (row.fill.empty() && layerOf(*step) == m_layer) {
            row.fill = step->id;
            if (const Line* own = ownLineOf(m_session.project(), *step)) row.source = own->steps.front()->id;
        }
    if (!row.fill.empty()) addFill(grid, at, row, line);
    m_rows.push_back(std::move(row));
}

void LayerTable::addFill(QGridLayout& grid, int at, Row& row, const Line& line) {
    const QString channel = QString::fromStdString(line.channel), name = QString::fromStdString(line.name);
    auto* fill = new QHBoxLayout;
    fill->setSpacing(2);
    const auto source = m_session.shownStep(row.source);
    if (source && source->type == kColourSource) {
        row.hex = new HexField(m_grid);
        row.hex->setObjectName(QStringLiteral("fill-hex-") + channel);
        row.hex->setAccessibleName(tr("Colour of %1").arg(name));
        row.hex->setMinimumWidth(30);
        row.hex->setProperty("compact", true);
        connect(row.hex, &HexField::entered, this,
                [this, id = row.source](const Colour& c) { m_session.setControl(id, kColour.id, c); });
        fill->addWidget(row.hex, 1);
    } else if (source && source->type == kValueSource) {
        row.value = new NumberField({}, m_grid);
        row.value->setObjectName(QStringLiteral("fill-value-") + channel);
        row.value->setAccessibleName(tr("Value of %1").arg(name));
        row.value->setMinimumWidth(30);
        row.value->setProperty("compact", true);
        joinGesture(row.value);
        connect(row.value, &NumberField::edited, this, [this, id = row.source](double v, bool g) {
            m_session.setControl(id, kValue.id, v, g ? m_gesture : 0);
        });
        fill->addWidget(row.value, 1);
    }
    row.what = new QToolButton(m_grid);
    row.what->setObjectName(QStringLiteral("fill-") + channel);
    row.what->setAccessibleName(tr("Fill of %1").arg(name));
    row.what->setIconSize({16, 16});
    row.what->setProperty("compact", true);
    const bool isPlain = row.hex != nullptr || row.value != nullptr;
    row.what->setToolButtonStyle(isPlain ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextBesideIcon);
    row.what->setSizePolicy(isPlain ? QSizePolicy::Fixed : QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(row.what, &QToolButton::clicked, this, [this, id = row.fill] {
        for (const Row& r : m_rows)
            if (r.fill == id) return openFill(r);
    });
    fill->addWidget(row.what, isPlain ? 0 : 1);
    grid.addLayout(fill, at, 1);
    row.mode = new QComboBox(m_grid);
    searchByWords(*row.mode);
    row.mode->setObjectName(QStringLiteral("fill-mode-") + channel);
    row.mode->setAccessibleName(tr("Mode on %1").arg(name));
    row.mode->setMinimumWidth(60);
    row.mode->setProperty("compact", true);
    for (const Choice& c : modesOn(line, m_session.steps()))
        row.mode->addItem(QString::fromStdString(c.name), QString::fromStdString(c.id));
    row.mode->view()->setMinimumWidth(120);
    connect(row.mode, &QComboBox::activated, this,
            [this, box = row.mode, id = row.fill, control = std::string(modeControl(line.kind))](int i) {
                m_session.setControl(id, control, box->itemData(i).toString().toStdString());
            });
    auto* how = new QHBoxLayout;
    how->setSpacing(4);
    how->addWidget(row.mode, 1);
    row.amount = new NumberField({}, m_grid);
    row.amount->setObjectName(QStringLiteral("fill-amount-") + channel);
    row.amount->setAccessibleName(tr("Amount on %1").arg(name));
    row.amount->setFixedWidth(kAmountColumn);
    row.amount->setProperty("compact", true);
    joinGesture(row.amount);
    connect(row.amount, &NumberField::edited, this, [this, id = row.fill](double v, bool g) {
        m_session.setControl(id, kAmount.id, v, g ? m_gesture : 0);
    });
    how->addWidget(row.amount);
    grid.addLayout(how, at + 1, 1);
}

void LayerTable::openFill(const Row& row) {
    QMenu* menu = makeFeedMenu(m_session, row.fill, "over", row.kind, row.what, m_pictures.get());
    QAction* first = menu->actions().isEmpty() ? nullptr : menu->actions().front();
    auto* tune = new QAction(tr("Tune the fill"), menu);
    connect(tune, &QAction::triggered, this,
            [this, id = row.source.empty() ? row.fill : row.source] { m_session.selectStep(id); });
    auto* modes = new QAction(tr("Try the modes"), menu);
    connect(modes, &QAction::triggered, this, [this, id = row.fill] { m_session.selectStep(id); });
    menu->insertAction(first, tune);
    menu->insertAction(first, modes);
    menu->insertSeparator(first);
    menu->popup(row.what->mapToGlobal(QPoint(0, row.what->height() + 2)));
}

void LayerTable::openSets(QWidget* below) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const auto& set : m_session.project().sets)
        menu->addAction(QString::fromStdString(set->name), this,
                        [this, id = set->id] { m_session.fillFromSet(m_layer, id); });
    if (menu->isEmpty()) menu->addAction(tr("There is no set. Bring one in first."))->setEnabled(false);
    menu->popup(below->mapToGlobal(QPoint(0, below->height() + 2)));
}

void LayerTable::refreshRow(Row& row) {
    row.covered->setChecked(!row.fill.empty());
    const auto fill = m_session.shownStep(row.fill);
    const StepSpec* spec = m_session.steps().find(kFill);
    if (!fill || spec == nullptr || row.what == nullptr) return;
    const StepView view(*spec, *fill, row.kind);
    const QString words = fillWords(m_session.project(), m_session.project().findLook(m_session.look()),
                                    *fill, m_session.steps());
    row.what->setToolTip(tr("%1. Click to fill with something else.").arg(words));
    if (row.hex == nullptr && row.value == nullptr) {
        const bool flattens = row.kind == Kind::Normal && view[kNormals] == NormalFill::Flatten;
        row.what->setText(flattens ? tr("flat") : words);
    }
    const auto source = m_session.shownStep(row.source);
    const StepSpec* plain = source ? m_session.steps().find(source->type) : nullptr;
    if (plain != nullptr && row.hex != nullptr)
        row.hex->setColour(StepView(*plain, *source, row.kind)[kColour]);
    if (plain != nullptr && row.value != nullptr)
        row.value->setValue(StepView(*plain, *source, row.kind)[kValue]);
    const auto over = fill->feeds.find(kOver.id);
    row.what->setIcon(
        over == fill->feeds.end() ? QIcon() : feedIcon(m_session.project(), over->second, m_pictures.get()));
    row.mode->setCurrentIndex(
        row.mode->findData(QString::fromStdString(view[TextHandle{modeControl(row.kind)}])));
    row.amount->setValue(view[kAmount]);
}

void LayerTable::setPictures(std::shared_ptr<const CardPictures> pictures) {
    m_pictures = std::move(pictures);
    for (Row& row : m_rows) refreshRow(row);
}

}  // namespace kettle
