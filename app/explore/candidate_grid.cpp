#include "app/explore/candidate_grid.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr int kGap = 8, kCaption = 24;

}  // namespace

CandidateGrid::CandidateGrid(QWidget* parent)
    : QWidget(parent),
      m_take(new QPushButton(tr("Take"), this)),
      m_keep(new QPushButton(tr("Keep as look"), this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Candidates"));
    setAccessibleDescription(tr(
        "Arrows walk, Enter takes one, Space chooses several, K keeps them as looks, plus and minus change "
        "how many there are."));
    m_take->setToolTip(tr("Takes these values and closes (a click on the picture, Enter)"));
    m_keep->setToolTip(tr("Keeps what is chosen as looks and goes on here (K)"));
    for (QPushButton* button : {m_take, m_keep}) {
        button->setFocusPolicy(Qt::NoFocus);
        button->hide();
    }
    connect(m_take, &QPushButton::clicked, this, [this] {
        if (m_pointed >= 0) Q_EMIT taken(m_pointed);
    });
    connect(m_keep, &QPushButton::clicked, this, [this] {
        // Of several that are chosen all are kept, else the one under the pointer.
        if (m_pointed >= 0 && m_chosen.size() < 2) setCurrent(m_pointed);
        Q_EMIT keepWanted();
    });
}

void CandidateGrid::setCandidates(const Candidates& candidates) {
    const bool isSameSheet =
        candidates.all.size() == m_candidates.all.size() && candidates.columns == m_candidates.columns;
    m_candidates = candidates;
    if (!isSameSheet) {
        m_pictures.reset();
        m_chosen.clear();
        m_kept.clear();
        m_pointed = -1;
        m_current = std::clamp(m_current, 0, std::max(0, static_cast<int>(candidates.all.size()) - 1));
    }
    placeButtons();
    update();
}

void CandidateGrid::setPictures(std::shared_ptr<const CandidatePictures> pictures) {
    m_pictures = std::move(pictures);
    update();
}

void CandidateGrid::setKept(const std::vector<int>& kept) {
    m_kept.insert(kept.begin(), kept.end());
    update();
}

QSize CandidateGrid::pictureSize() const {
    const int columns = std::max(1, m_candidates.columns), rows = std::max(1, m_candidates.rows);
    return {std::max(16, (width() - (columns - 1) * kGap) / columns),
            std::max(12, (height() - (rows - 1) * kGap) / rows - kCaption)};
}

QRect CandidateGrid::pictureRect(int index) const {
    const QSize size = pictureSize();
    const int columns = std::max(1, m_candidates.columns);
    return {
        QPoint(index % columns * (size.width() + kGap), index / columns * (size.height() + kCaption + kGap)),
        size};
}

int CandidateGrid::indexAt(QPoint at) const {
    for (int i = 0; i < static_cast<int>(m_candidates.all.size()); ++i)
        if (pictureRect(i).adjusted(0, 0, 0, kCaption).contains(at)) return i;
    return -1;
}

std::vector<int> CandidateGrid::chosen() const {
    if (!m_chosen.empty()) return {m_chosen.begin(), m_chosen.end()};
    if (m_current >= static_cast<int>(m_candidates.all.size())) return {};
    return {m_current};
}

QString CandidateGrid::wordsOf(int index) const {
    QStringList words;
    for (const std::string& one : m_candidates.all[static_cast<std::size_t>(index)].words)
        words << QString::fromStdString(one);
    if (m_pictures && index < static_cast<int>(m_pictures->distances.size()))
        words
            << tr("differs by ΔE %1").arg(m_pictures->distances[static_cast<std::size_t>(index)], 0, 'f', 1);
    return words.join(QStringLiteral(" · "));
}

void CandidateGrid::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    for (int i = 0; i < static_cast<int>(m_candidates.all.size()); ++i) paintCandidate(p, i);
}

void CandidateGrid::paintCandidate(QPainter& p, int index) const {
    const QRect r = pictureRect(index);
    QPainterPath shape;
    shape.addRoundedRect(r, 4, 4);
    p.save();
    p.setClipPath(shape);
    const bool has = m_pictures && index < static_cast<int>(m_pictures->all.size());
    if (has)
        p.drawImage(r, m_pictures->all[static_cast<std::size_t>(index)]);
    else
        p.fillRect(r, theme::kHairline);
    p.restore();
    const bool isChosen = m_chosen.contains(index), isCurrent = index == m_current && hasFocus();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(isChosen || isCurrent ? theme::kAccent : theme::kHairline, isChosen    ? 3
                                                                             : isCurrent ? 2
                                                                                         : 1));
    p.drawRoundedRect(QRectF(r).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    if (m_kept.contains(index)) {
        const QRectF tag(r.left() + 6, r.top() + 6, 38, 17);
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kInk);
        p.drawRoundedRect(tag, 4, 4);
        p.setPen(theme::kCard);
        p.setFont(theme::font(11));
        p.drawText(tag, Qt::AlignCenter, tr("kept"));
    }
    // The first value heavier, the rest behind it.
    const QRect words(r.left() + 2, r.bottom() + 2, r.width() - 4, kCaption - 2);
    const QString all = wordsOf(index);
    const QString first = all.section(QStringLiteral(" · "), 0, 0);
    p.setFont(theme::font(12, true));
    p.setPen(theme::kInk);
    const int wide = std::min(p.fontMetrics().horizontalAdvance(first), words.width());
    p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(first, Qt::ElideRight, words.width()));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    const QRect rest = words.adjusted(wide + 4, 0, 0, 0);
    if (rest.width() > 30)
        p.drawText(rest, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(all.mid(first.size()), Qt::ElideRight, rest.width()));
}

void CandidateGrid::placeButtons() {
    const bool shows = m_pointed >= 0 && m_pointed < static_cast<int>(m_candidates.all.size()) && !m_brushes;
    Q_EMIT chosenChanged(static_cast<int>(m_chosen.size()));
    m_keep->setText(m_chosen.size() > 1 ? tr("Keep %1 as looks").arg(m_chosen.size()) : tr("Keep as look"));
    for (QPushButton* button : {m_take, m_keep}) {
        button->adjustSize();
        button->setVisible(shows);
    }
    if (!shows) return;
    const QRect r = pictureRect(m_pointed);
    // Side by side where there is room, else one over the other.
    const bool isWide = m_take->width() + m_keep->width() + 18 <= r.width();
    m_keep->move(std::max(r.left(), r.right() - m_keep->width() - 5), r.bottom() - m_keep->height() - 5);
    m_take->move(isWide ? m_keep->x() - m_take->width() - 6 : m_keep->x(),
                 isWide ? m_keep->y() : m_keep->y() - m_take->height() - 4);
    m_take->setVisible(isWide || m_take->y() > r.top());
}

void CandidateGrid::setCurrent(int index) {
    m_current = index;
    m_chosen.clear();
    placeButtons();
    update();
}

void CandidateGrid::resizeEvent(QResizeEvent*) {
    placeButtons();
    Q_EMIT resized();
}

void CandidateGrid::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    m_pressed = indexAt(event->pos());
    m_press = event->pos();
}

void CandidateGrid::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0) {
        if ((event->pos() - m_press).manhattanLength() < 10 && !m_brushes) return;
        if (!m_brushes) m_chosen.clear();
        m_brushes = true;
        // A quick hand skips pixels: all between the last place and this one are passed.
        const QPoint way = event->pos() - m_press;
        const int steps = std::max(1, way.manhattanLength() / 8);
        for (int s = 0; s <= steps; ++s)
            if (const int at = indexAt(m_press + way * s / steps); at >= 0) m_chosen.insert(at);
        m_press = event->pos();
        placeButtons();
        return update();
    }
    const int pointed = indexAt(event->pos());
    setCursor(pointed >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (pointed == m_pointed) return;
    m_pointed = pointed;
    placeButtons();
    update();
}

void CandidateGrid::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (m_brushes) {
        m_brushes = false;
        m_pointed = indexAt(event->pos());
        if (!m_chosen.empty()) m_current = *m_chosen.rbegin();
        placeButtons();
        return update();
    }
    const int at = indexAt(event->pos());
    if (at < 0 || at != m_pressed) return;
    if ((event->modifiers() & Qt::ControlModifier) != 0) {
        if (m_chosen.erase(at) == 0) m_chosen.insert(at);
        m_current = at;
        placeButtons();
        return update();
    }
    Q_EMIT taken(at);
}

void CandidateGrid::leaveEvent(QEvent*) {
    m_pointed = -1;
    placeButtons();
    update();
}

void CandidateGrid::wheelEvent(QWheelEvent* event) {
    m_turned += event->angleDelta().y();
    if (std::abs(m_turned) < 120) return;
    // Turned away from the hand the pictures grow, as everywhere: so there are fewer.
    Q_EMIT countWanted(m_turned > 0 ? -1 : 1);
    m_turned = 0;
    event->accept();
}

void CandidateGrid::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(m_candidates.all.size()), columns = std::max(1, m_candidates.columns);
    const auto walk = [&](int by) {
        if (m_current + by >= 0 && m_current + by < count) setCurrent(m_current + by);
    };
    switch (event->key()) {
        case Qt::Key_Left:
            return walk(-1);
        case Qt::Key_Right:
            return walk(1);
        case Qt::Key_Up:
            return walk(-columns);
        case Qt::Key_Down:
            return walk(columns);
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (m_current < count) Q_EMIT taken(m_current);
            return;
        case Qt::Key_Space:
            if (m_current >= count) return;
            if (m_chosen.erase(m_current) == 0) m_chosen.insert(m_current);
            placeButtons();
            return update();
        case Qt::Key_K:
            Q_EMIT keepWanted();
            return;
        case Qt::Key_Plus:
        case Qt::Key_Equal:
            Q_EMIT countWanted(1);
            return;
        case Qt::Key_Minus:
            Q_EMIT countWanted(-1);
            return;
        default:
            return QWidget::keyPressEvent(event);
    }
}

void CandidateGrid::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void CandidateGrid::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

}  // namespace kettle
