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

namespace kettle {
namespace {

constexpr int kPurposeRole = Qt::UserRole + 1;
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

}  // namespace

Finder::Finder(QWidget* parent)
    : QFrame(parent, Qt::Popup), m_filter(new QLineEdit(this)), m_list(new QListWidget(this)) {
    setObjectName(theme::kSheet);
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

void Finder::openAt(Gap gap, QPoint globalPos) {
    m_gap = std::move(gap);
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
    m_offers = offersFor(m_filter->text(), m_gap, m_library, m_recent);
    m_list->clear();
    for (const Offer& offer : m_offers)
        (new QListWidgetItem(offer.name, m_list))->setData(kPurposeRole, offer.purpose);
    if (m_offers.empty())
        (new QListWidgetItem(whyNothing(m_filter->text(), m_gap), m_list))->setFlags(Qt::NoItemFlags);
    else
        m_list->setCurrentRow(0);
}

void Finder::accept() {
    const auto row = static_cast<std::size_t>(m_list->currentRow());
    if (row >= m_offers.size()) return;
    const Offer offer = m_offers[row];
    // A step that was asked for in a mode, or for a line, is no habit.
    if (const auto* step = std::get_if<Step>(&offer.what);
        step != nullptr && step->controls.empty() && step->feeds.empty()) {
        m_recent.removeAll(QString::fromStdString(step->type));
        m_recent.prepend(QString::fromStdString(step->type));
    }
    hide();
    Q_EMIT chosen(offer);
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
