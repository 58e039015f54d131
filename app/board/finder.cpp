#include "app/board/finder.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QScreen>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/style/theme.h"
#include "core/document/layers.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kPurposeRole = Qt::UserRole + 1;
constexpr int kLayerRole = Qt::UserRole + 2;
constexpr int kRecipeRole = Qt::UserRole + 3;
constexpr int kKeptRole = Qt::UserRole + 4;
constexpr int kModeRole = Qt::UserRole + 5;  ///< of a pattern; empty: the usual one
constexpr int kRampRole = Qt::UserRole + 6;
constexpr int kBlendRole = Qt::UserRole + 7;  ///< a blend mode's id
constexpr int kNameWidth = 128;
constexpr int kRowHeight = 28;
constexpr int kWidth = 576;  ///< room for the longest purpose

/// A step's name and, in a column of its own, what it is for.
class StepDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        return {option.rect.width(), kRowHeight};
    }
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        if ((option.state & QStyle::State_Selected) != 0) p->fillRect(option.rect, theme::kTint);
        const QString purpose = index.data(kPurposeRole).toString();
        const QRect text = option.rect.adjusted(10, 0, -10, 0);
        p->setFont(theme::font(12, !purpose.isEmpty()));
        p->setPen(theme::kInk);
        const QString name = index.data().toString();
        p->drawText(
            text, Qt::AlignLeft | Qt::AlignVCenter,
            purpose.isEmpty() ? name : p->fontMetrics().elidedText(name, Qt::ElideRight, kNameWidth - 8));
        p->setFont(theme::font(12));
        p->setPen(theme::kQuiet);
        const QRect room = text.adjusted(kNameWidth, 0, 0, 0);
        p->drawText(room, Qt::AlignLeft | Qt::AlignVCenter,
                    p->fontMetrics().elidedText(purpose, Qt::ElideRight, room.width()));
    }
};

/// Why nothing of this name is offered on a line of this kind.
QString whyNothing(const Catalogue& steps, const QString& wanted, Kind kind) {
    const QString line = QString::fromUtf8(nameOf(kind));
    if (wanted.isEmpty()) return QObject::tr("No step fits a %1 line.").arg(line);
    for (const StepSpec& spec : steps) {
        const QString name = QString::fromStdString(spec.name);
        if (name.startsWith(wanted, Qt::CaseInsensitive))
            return QObject::tr("%1 does not fit a %2 line.").arg(name, line);
    }
    return QObject::tr("Nothing fits a %1 line by that name.").arg(line);
}

/// A blend mode by the beginning of its name, of three letters at least; null if there is none.
const BlendModeInfo* modeCalled(const QString& beginning, Kind kind) {
    if (beginning.size() < 3) return nullptr;
    for (const BlendModeInfo& mode : blendModes())
        if (QString::fromUtf8(mode.name).startsWith(beginning, Qt::CaseInsensitive) &&
            (!mode.needsColour || kind == Kind::Colour))
            return &mode;
    return nullptr;
}

QString capitalised(const QString& words) {
    return words.isEmpty() ? words : words.front().toUpper() + words.mid(1);
}

}  // namespace

Finder::Finder(Catalogue steps, QWidget* parent)
    : QFrame(parent, Qt::Popup),
      m_steps(std::move(steps)),
      m_filter(new QLineEdit(this)),
      m_list(new QListWidget(this)) {
    setObjectName(QStringLiteral("sheet"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 8);
    layout->setSpacing(8);
    layout->addWidget(m_filter);
    layout->addWidget(m_list);
    m_filter->setPlaceholderText(tr("Find a step"));
    m_filter->setAccessibleName(tr("Find a step"));
    m_list->setItemDelegate(new StepDelegate(m_list));
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_filter->installEventFilter(this);
    connect(m_filter, &QLineEdit::textChanged, this, &Finder::fill);
    connect(m_filter, &QLineEdit::returnPressed, this, &Finder::accept);
    connect(m_list, &QListWidget::itemClicked, this, &Finder::accept);
}

void Finder::openFor(const QString& line, int index, Kind kind, QPoint globalPos) {
    m_line = line;
    m_index = index;
    m_kind = kind;
    m_filter->clear();
    fill();
    setFixedSize(kWidth, 56 + kRowHeight * std::min(m_list->count(), 9));
    const QRect screen = QApplication::primaryScreen()->availableGeometry();
    const int x = std::clamp(globalPos.x() - 16, screen.left() + 8, screen.right() - width() - 8);
    // Above the pointer where there is no room below.
    const int below = globalPos.y() + 14;
    const int y = below + height() > screen.bottom() ? globalPos.y() - 14 - height() : below;
    move(x, y);
    show();
    m_filter->setFocus();
}

void Finder::fill() {
    const QString wanted = m_filter->text().trimmed();
    std::vector<const StepSpec*> fitting;
    for (const StepSpec& spec : m_steps) {
        const QString name = QString::fromStdString(spec.name),
                      purpose = QString::fromStdString(spec.purpose);
        if (spec.source || !spec.fits(m_kind) || spec.type == kLayerHead || spec.type == kFill) continue;
        if (wanted.isEmpty() || name.contains(wanted, Qt::CaseInsensitive) ||
            purpose.contains(wanted, Qt::CaseInsensitive))
            fitting.push_back(&spec);
    }
    // What is called so comes before what only speaks of it; then what was used last.
    const auto rank = [&](const StepSpec* spec) {
        const auto at = m_recent.indexOf(QString::fromStdString(spec->type));
        const bool isCalledSo = QString::fromStdString(spec->name).contains(wanted, Qt::CaseInsensitive);
        return std::pair(!isCalledSo, at < 0 ? m_recent.size() : at);
    };
    std::stable_sort(fitting.begin(), fitting.end(),
                     [&](const StepSpec* a, const StepSpec* b) { return rank(a) < rank(b); });
    m_list->clear();
    for (const StepSpec* spec : fitting) {
        auto* item = new QListWidgetItem(QString::fromStdString(spec->name), m_list);
        item->setData(Qt::UserRole, QString::fromStdString(spec->type));
        item->setData(kPurposeRole, QString::fromStdString(spec->purpose));
    }
    fillLibrary(wanted);
    fillRamps(wanted);
    fillModes(wanted);
    fillPatterns(wanted);
    fillLayers(wanted);
    if (m_list->count() > 0) {
        m_list->setCurrentRow(0);
    } else {
        auto* nothing = new QListWidgetItem(whyNothing(m_steps, wanted, m_kind), m_list);
        nothing->setFlags(Qt::NoItemFlags);
    }
}

void Finder::setSteps(Catalogue steps, Library library) {
    m_steps = std::move(steps);
    m_library = std::move(library);
}

/// Steps that are called so come first, then recipes, ramps and patterns that are; what only speaks of it
/// comes behind them.
int Finder::behindNames(const QString& wanted) const {
    int place = 0;
    while (place < m_list->count() && m_list->item(place)->text().contains(wanted, Qt::CaseInsensitive))
        ++place;
    return place;
}

void Finder::fillLibrary(const QString& wanted) {
    int first = behindNames(wanted);
    for (std::size_t i = 0; i < m_library.recipes.size(); ++i) {
        const Recipe& recipe = *m_library.recipes[i];
        const QString name = QString::fromStdString(recipe.name),
                      purpose = QString::fromStdString(recipe.purpose);
        const bool isCalledSo = name.contains(wanted, Qt::CaseInsensitive);
        if (std::find(recipe.kinds.begin(), recipe.kinds.end(), m_kind) == recipe.kinds.end() ||
            !(wanted.isEmpty() || isCalledSo || purpose.contains(wanted, Qt::CaseInsensitive)))
            continue;
        auto* item = new QListWidgetItem(name);
        item->setData(kPurposeRole, purpose);
        item->setData(kRecipeRole, static_cast<int>(i));
        m_list->insertItem(isCalledSo ? first++ : m_list->count(), item);
    }
}

void Finder::fillRamps(const QString& wanted) {
    if (m_kind != Kind::Colour || wanted.isEmpty()) return;
    int place = behindNames(wanted);
    for (std::size_t i = 0; i < m_library.ramps.size(); ++i) {
        const NamedRampEntry& ramp = m_library.ramps[i];
        // The colon need not be typed.
        const QString name = QString::fromStdString(ramp.name), whole = tr("Ramp: %1").arg(name);
        if (!whole.contains(wanted, Qt::CaseInsensitive) &&
            !tr("Ramp %1").arg(name).contains(wanted, Qt::CaseInsensitive))
            continue;
        auto* item = new QListWidgetItem(whole);
        m_list->insertItem(place++, item);
        item->setData(kPurposeRole, ramp.purpose.empty() ? tr("Gives the line the colours of this ramp.")
                                                         : QString::fromStdString(ramp.purpose));
        item->setData(kRampRole, static_cast<int>(i));
    }
}

/// Blend modes by their own names: "multiply" is a Blend that multiplies.
void Finder::fillModes(const QString& wanted) {
    const auto blend = std::find_if(m_steps.begin(), m_steps.end(), [](const StepSpec& spec) {
        return spec.editor == StepEditor::BlendModes && spec.type != kFill;
    });
    if (wanted.size() < 3 || blend == m_steps.end() || !blend->fits(m_kind)) return;
    int place = behindNames(wanted);
    for (const BlendModeInfo& mode : blendModes()) {
        const QString name = QString::fromUtf8(mode.name);
        if (!name.startsWith(wanted, Qt::CaseInsensitive) || (mode.needsColour && m_kind != Kind::Colour))
            continue;
        auto* item = new QListWidgetItem(tr("%1: %2").arg(QString::fromStdString(blend->name), name));
        m_list->insertItem(place++, item);
        item->setData(kPurposeRole, QString::fromStdString(blend->purpose));
        item->setData(Qt::UserRole, QString::fromStdString(blend->type));
        item->setData(kBlendRole, QString::fromUtf8(mode.id));
    }
}

void Finder::fillPatterns(const QString& wanted) {
    // "difference shape" is a shape by difference, and so is "shape difference".
    const qsizetype first = wanted.indexOf(QLatin1Char(' ')), last = wanted.lastIndexOf(QLatin1Char(' '));
    const BlendModeInfo* mode = nullptr;
    QString called = wanted;
    if (first > 0 && m_kind != Kind::Normal) {
        if ((mode = modeCalled(wanted.left(last), m_kind)) != nullptr)
            called = wanted.mid(last + 1);
        else if ((mode = modeCalled(wanted.mid(first + 1), m_kind)) != nullptr)
            called = wanted.left(first);
    }
    int place = wanted.isEmpty() ? m_list->count() : behindNames(wanted);
    for (const StepSpec& spec : m_steps) {
        if (!spec.source || !spec.fits(m_kind) || spec.editor == StepEditor::MapFile) continue;
        const QString name = QString::fromStdString(spec.name),
                      whole = mode != nullptr
                                  ? tr("%1: %2").arg(capitalised(QString::fromUtf8(mode->name)), name)
                                  : tr("Laid over: %1").arg(name);
        if (!(mode != nullptr ? name : whole).contains(called, Qt::CaseInsensitive)) continue;
        auto* item = new QListWidgetItem(whole);
        m_list->insertItem(place++, item);
        item->setData(Qt::UserRole, QString::fromStdString(spec.type));
        item->setData(kPurposeRole, QString::fromStdString(spec.purpose));
        item->setData(kModeRole, mode != nullptr ? QString::fromUtf8(mode->id) : QString(QLatin1String("")));
    }
}

void Finder::fillLayers(const QString& wanted) {
    if (!m_layers) return;
    // First where they are asked for by name, else below the steps.
    int at = wanted.size() > 1 && tr("Layer").startsWith(wanted, Qt::CaseInsensitive) ? 0 : m_list->count();
    const auto offer = [&](const QString& name, const QString& purpose,
                           const QString& what) -> QListWidgetItem* {
        const QString whole = tr("Layer: %1").arg(name);
        if (!wanted.isEmpty() && !whole.contains(wanted, Qt::CaseInsensitive)) return nullptr;
        auto* item = new QListWidgetItem(whole);
        item->setData(kPurposeRole, purpose);
        item->setData(kLayerRole, what);
        m_list->insertItem(at++, item);
        return item;
    };
    offer(tr("values"), tr("One mask for several channels, with a colour, numbers, flat normals."),
          QStringLiteral(""));
    offer(tr("stamps"), tr("Pictures with alpha, laid on where their alpha says."), QLatin1String(kStamps));
    for (const auto& [id, name] : m_layers->sets)
        offer(name, tr("Lays all its maps over the channels, with one mask."), id);
    for (std::size_t i = 0; i < m_library.layers.size(); ++i)
        if (QListWidgetItem* item = offer(m_library.layers[i].first, m_library.layers[i].second, {});
            item != nullptr)
            item->setData(kKeptRole, static_cast<int>(i));
}

void Finder::accept() {
    const QListWidgetItem* item = m_list->currentItem();
    if (item != nullptr && m_layers && item->data(kKeptRole).isValid()) {
        hide();
        return Q_EMIT keptLayerChosen(m_layers->behind, item->data(kKeptRole).toInt());
    }
    if (item != nullptr && m_layers && item->data(kLayerRole).isValid()) {
        hide();
        return Q_EMIT layerChosen(m_layers->behind, item->data(kLayerRole).toString());
    }
    if (item != nullptr && item->data(kRecipeRole).isValid()) {
        const Shared<Recipe> recipe = m_library.recipes[item->data(kRecipeRole).toUInt()];
        hide();
        return Q_EMIT recipeChosen(m_line, m_index, *recipe);
    }
    if (item != nullptr && item->data(kRampRole).isValid()) {
        const NamedRampEntry ramp = m_library.ramps[item->data(kRampRole).toUInt()];
        hide();
        return Q_EMIT rampChosen(m_line, m_index, ramp);
    }
    if (item != nullptr && item->data(kBlendRole).isValid()) {
        hide();
        return Q_EMIT blendChosen(m_line, m_index, item->data(Qt::UserRole).toString(),
                                  item->data(kBlendRole).toString());
    }
    const QString type = item != nullptr ? item->data(Qt::UserRole).toString() : QString();
    if (type.isEmpty()) return;
    if (item->data(kModeRole).isValid()) {
        const QString mode = item->data(kModeRole).toString();
        hide();
        return Q_EMIT patternChosen(m_line, m_index, type, mode);
    }
    m_recent.removeAll(type);
    m_recent.prepend(type);
    hide();
    Q_EMIT chosen(m_line, m_index, type);
}

bool Finder::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_filter && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int row = m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentRow(std::clamp(row, 0, m_list->count() - 1));
            return true;
        }
        if (key == Qt::Key_Escape) {
            hide();
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace kettle
