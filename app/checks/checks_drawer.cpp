#include "app/checks/checks_drawer.h"

#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <numeric>

#include "app/style/theme.h"
#include "core/document/network.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kWidth = 380, kSign = 16, kMargin = 12, kMostShown = 500;
enum Role { kWhere = Qt::UserRole, kSeverity, kIndex };

/// A sign for the eye, the sentence, and where it is.
class FindingDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const int wide = option.widget != nullptr ? roomOf(option.widget) : kWidth;
        const QString where = index.data(kWhere).toString();
        return {wide, textHeight(wide, index.data().toString()) + (where.isEmpty() ? 0 : 18) + 14};
    }
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRect r = option.rect;
        if ((option.state & (QStyle::State_MouseOver | QStyle::State_Selected)) != 0) {
            p->setPen(Qt::NoPen);
            p->setBrush(theme::kTint);
            p->drawRoundedRect(r.adjusted(4, 1, -4, -1), 4, 4);
        }
        paintSign(*p, {r.left() + kMargin, r.top() + 8, kSign, kSign},
                  static_cast<Severity>(index.data(kSeverity).toInt()));
        const QString sentence = index.data().toString();
        const QRect text(r.left() + kMargin + kSign + 8, r.top() + 7, r.width() - 2 * kMargin - kSign - 8,
                         textHeight(r.width(), sentence));
        p->setFont(theme::font(12));
        p->setPen(theme::kInk);
        p->drawText(text, Qt::TextWordWrap, sentence);
        p->setPen(theme::kQuiet);
        p->drawText(QRect(text.left(), text.bottom() + 2, text.width(), 16), Qt::AlignVCenter,
                    index.data(kWhere).toString());
        p->restore();
    }

private:
    static int roomOf(const QWidget* list) {
        return qobject_cast<const QAbstractItemView*>(list)->viewport()->width();
    }
    static int textHeight(int wide, const QString& sentence) {
        return QFontMetrics(theme::font(12))
            .boundingRect(QRect(0, 0, wide - 2 * kMargin - kSign - 8, 1000), Qt::TextWordWrap, sentence)
            .height();
    }
    /// Told apart by shape as well as by colour: a filled disc, a filled square, a ring.
    static void paintSign(QPainter& p, QRect r, Severity severity) {
        const QRectF box = QRectF(r).adjusted(0.5, 0.5, -0.5, -0.5);
        p.setPen(Qt::NoPen);
        QString sign = QStringLiteral("!");
        if (severity == Severity::Error) {
            p.setBrush(theme::kBrick);
            p.drawEllipse(box);
            sign = QStringLiteral("×");
        } else if (severity == Severity::Warning) {
            p.setBrush(theme::kAmber);
            p.drawRoundedRect(box, 3, 3);
        } else {
            p.setBrush(Qt::NoBrush);
            p.setPen(theme::kQuiet);
            p.drawEllipse(box);
            sign = QStringLiteral("i");
        }
        p.setPen(severity == Severity::Hint ? theme::kQuiet : theme::kCard);
        p.setFont(theme::font(11, true));
        p.drawText(box, Qt::AlignCenter, sign);
    }
};

}  // namespace

ChecksDrawer::ChecksDrawer(Session& session, QWidget* over)
    : Drawer(tr("Checks"), kWidth, over),
      m_session(session),
      m_list(new QListWidget(this)),
      m_none(new QLabel(tr("Nothing looks wrong."), this)) {
    setFirst(m_list);
    m_none->setObjectName(QStringLiteral("quiet"));
    m_none->setContentsMargins(kMargin, 0, kMargin, 0);
    column().addWidget(m_none);
    column().addWidget(m_list, 1);
    m_list->setAccessibleName(tr("What to look at"));
    m_list->setItemDelegate(new FindingDelegate(m_list));
    m_list->setMouseTracking(true);
    m_list->setFrameShape(QFrame::NoFrame);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    const auto chosen = [this](const QListWidgetItem* item) {
        if (const int index = item->data(kIndex).toInt(); index >= 0)
            goTo((*m_findings)[static_cast<std::size_t>(index)]);
    };
    connect(m_list, &QListWidget::itemClicked, this, chosen);
    connect(m_list, &QListWidget::itemActivated, this, chosen);
}

QString ChecksDrawer::whereOf(const Finding& finding, const Network& network) const {
    QStringList where;
    const Project& project = m_session.project();
    if (const Line* line = network.findLine(finding.line)) where << QString::fromStdString(line->name);
    if (const Node node = network.find(finding.step); node != kNoNode)
        if (const StepSpec* spec = m_session.steps().find(network.step(node).type))
            where << QString::fromStdString(spec->name);
    if (const TextureSet* set = project.findSet(finding.set); set != nullptr && where.isEmpty())
        where << QString::fromStdString(set->name) << QString::fromStdString(finding.role);
    return where.join(QStringLiteral(" · "));
}

void ChecksDrawer::setFindings(std::shared_ptr<const std::vector<Finding>> findings) {
    m_findings = std::move(findings);
    m_toLookAt = static_cast<int>(std::count_if(m_findings->begin(), m_findings->end(), [](const Finding& f) {
        return f.severity != Severity::Hint;
    }));
    m_isListed = false;
    if (isOpen()) listFindings();
    Q_EMIT changed();
}

void ChecksDrawer::opening() {
    if (!m_isListed && m_findings != nullptr) listFindings();
}

void ChecksDrawer::listFindings() {
    m_isListed = true;
    const int scrolled = m_list->verticalScrollBar()->value();
    m_list->clear();
    std::vector<std::size_t> order(m_findings->size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    const auto isWorse = [&](std::size_t a, std::size_t b) {
        return (*m_findings)[a].severity < (*m_findings)[b].severity;
    };
    // They mostly come so; sorting thousands takes what a picture takes.
    if (!std::is_sorted(order.begin(), order.end(), isWorse))
        std::stable_sort(order.begin(), order.end(), isWorse);
    const Network network(m_session.project());
    for (const std::size_t i : order) {
        // Nobody reads ten thousand; what is gone makes room for the rest.
        if (m_list->count() >= kMostShown) break;
        const Finding& f = (*m_findings)[i];
        auto* item = new QListWidgetItem(QString::fromStdString(f.sentence), m_list);
        item->setData(kWhere, whereOf(f, network));
        item->setData(kSeverity, static_cast<int>(f.severity));
        item->setData(kIndex, static_cast<int>(i));
        item->setToolTip(tr("Goes there"));
        item->setData(Qt::AccessibleTextRole, tr("%1: %2").arg(QString::fromUtf8(nameOf(f.severity)),
                                                               QString::fromStdString(f.sentence)));
    }
    if (const auto more = static_cast<int>(m_findings->size()) - m_list->count(); more > 0) {
        auto* item = new QListWidgetItem(tr("… and %1 more").arg(more), m_list);
        item->setFlags(Qt::ItemIsEnabled);
        item->setData(kIndex, -1);
        item->setData(kSeverity, static_cast<int>(Severity::Hint));
    }
    m_list->verticalScrollBar()->setValue(scrolled);
    m_none->setVisible(m_findings->empty());
    m_list->setVisible(!m_findings->empty());
}

void ChecksDrawer::goTo(const Finding& finding) {
    const Project& project = m_session.project();
    if (project.findStep(finding.step)) return m_session.selectStep(finding.step);
    if (const Line* line = project.findLine(finding.line); line != nullptr && !line->steps.empty())
        return m_session.selectStep(line->steps.front()->id);
    // A map: the first step that reads it.
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            if (step->set == finding.set && (finding.role.empty() || step->role == finding.role))
                return m_session.selectStep(step->id);
}

}  // namespace kettle
