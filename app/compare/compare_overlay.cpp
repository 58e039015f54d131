#include "app/compare/compare_overlay.h"

#include <QLineF>
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <numbers>

#include "app/style/strips.h"
#include "app/style/theme.h"
#include "core/analysis/picture_difference.h"

namespace kettle {
namespace {

constexpr double kGrip = 11, kTurner = 6, kTurnerAway = 56;
constexpr int kGap = 2;  ///< between pictures side by side

/// Words on a card, so that they are read on any picture.
QRectF paintCard(QPainter& p, QPointF corner, const QString& words, bool fromRight, const QFont& font) {
    p.setFont(font);
    const QRectF text = QFontMetricsF(font).boundingRect(words);
    const QSizeF size(text.width() + 16, 22);
    const QRectF card(fromRight ? corner - QPointF(size.width(), 0) : corner, size);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::kHairline, 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(card, theme::kCorner, theme::kCorner);
    p.setPen(theme::kInk);
    p.drawText(card, Qt::AlignCenter, words);
    return card;
}

}  // namespace

QString differenceWords(const Compared& c) {
    const auto number = [](double v) { return QString::number(v, 'f', v < 10 ? 2 : 1); };
    return QObject::tr("mean %1 · 95 % %2").arg(number(c.mean), number(c.percentile95));
}

bool CompareOverlay::isBeside() const {
    return isOn() && m_session.comparison()->way == CompareWay::Beside;
}

QSize CompareOverlay::pictureSize(QSize view) const {
    return isBeside() ? QSize(std::max(1, (view.width() - kGap) / 2), view.height()) : view;
}

QPointF CompareOverlay::pictureAt(QPointF pixel, QSize view) const {
    const QSize one = pictureSize(view);
    double x = pixel.x();
    if (isBeside() && x >= one.width() + kGap) x -= one.width() + kGap;
    return {x / one.width(), pixel.y() / one.height()};
}

QPointF CompareOverlay::along() const {
    const double angle = m_turn * std::numbers::pi / 180;
    return {std::sin(angle), -std::cos(angle)};
}

QPointF CompareOverlay::gripAt(QSize view) const {
    return {m_place * view.width(), 0.5 * view.height()};
}

QPointF CompareOverlay::turnerAt(QSize view) const {
    return gripAt(view) + along() * kTurnerAway;
}

bool CompareOverlay::isOverGrip(QPointF pixel, QSize view) const {
    if (!isOn() || m_session.comparison()->way != CompareWay::Wipe) return false;
    const QPointF away = pixel - gripAt(view), line = along();
    const double across = std::fabs(away.x() * line.y() - away.y() * line.x());
    return across < 5 || QLineF(pixel, gripAt(view)).length() < kGrip + 3 ||
           QLineF(pixel, turnerAt(view)).length() < kTurner + 5;
}

bool CompareOverlay::press(QPointF pixel, QSize view) {
    if (!isOverGrip(pixel, view)) return false;
    m_held = QLineF(pixel, turnerAt(view)).length() < kTurner + 5 ? Held::Turner : Held::Grip;
    return true;
}

bool CompareOverlay::move(QPointF pixel, QSize view) {
    if (m_held == Held::Nothing) return false;
    if (m_held == Held::Turner) {
        const QPointF d = pixel - gripAt(view);
        if (QLineF(QPointF(), d).length() > 8) m_turn = std::atan2(d.x(), -d.y()) * 180 / std::numbers::pi;
        // Upright and level are easily met again.
        for (const double straight : {-180.0, -90.0, 0.0, 90.0, 180.0})
            if (std::fabs(m_turn - straight) < 4) m_turn = straight;
        return true;
    }
    // The line goes through the pointer; its grip stays at half height.
    const QPointF line = along();
    const double half = 0.5 * view.height();
    const double x =
        std::fabs(line.y()) < 0.05 ? pixel.x() : pixel.x() + (half - pixel.y()) * line.x() / line.y();
    m_place = std::clamp(x / view.width(), 0.0, 1.0);
    return true;
}

bool CompareOverlay::release() {
    return std::exchange(m_held, Held::Nothing) != Held::Nothing;
}

void CompareOverlay::paintName(QPainter& p, const QRect& rect, const QString& name, bool isLeft) const {
    const QString shown =
        QFontMetrics(theme::font(12)).elidedText(name, Qt::ElideMiddle, rect.width() / 2 - 32);
    const double y = rect.bottom() - 30;
    paintCard(p, isLeft ? QPointF(rect.left() + 8, y) : QPointF(rect.right() - 8, y), shown, !isLeft,
              theme::font(12));
}

void CompareOverlay::paintWipe(QPainter& p, const QRect& rect, const QImage& left,
                               const QImage& right) const {
    theme::drawImage(p, rect, left);
    const QPointF grip = gripAt(rect.size()), line = along(), across(-line.y(), line.x());
    const double far = 2.0 * (rect.width() + rect.height());
    const QPointF a = grip + line * far, b = grip - line * far;
    QPainterPath half;
    half.moveTo(a);
    half.lineTo(b);
    half.lineTo(b + across * far);
    half.lineTo(a + across * far);
    half.closeSubpath();
    p.save();
    p.setClipPath(half);
    theme::drawImage(p, rect, right);
    p.restore();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::kCard, 3));
    p.drawLine(a, b);
    p.setPen(QPen(theme::kInk, 1));
    p.drawLine(a, b);
    p.setBrush(theme::kCard);
    p.setPen(QPen(theme::kInk, 1.2));
    p.drawEllipse(turnerAt(rect.size()), kTurner, kTurner);
    p.drawEllipse(grip, kGrip, kGrip);
    p.drawLine(grip + across * 3 - line * 4, grip + across * 3 + line * 4);
    p.drawLine(grip - across * 3 - line * 4, grip - across * 3 + line * 4);
}

void CompareOverlay::paintHeat(QPainter& p, const QRect& rect) const {
    theme::drawImage(p, rect, m_compared->heat);
    // The largest one is marked.
    const QPointF at(rect.left() + m_compared->largestAt.x() * rect.width(),
                     rect.top() + m_compared->largestAt.y() * rect.height());
    p.setRenderHint(QPainter::Antialiasing);
    if (m_compared->largest > 0) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kCard, 3));
        p.drawEllipse(at, 9, 9);
        p.setPen(QPen(theme::kInk, 1.2));
        p.drawEllipse(at, 9, 9);
    }
    // The scale, from 0 to its end, at the right.
    const QRectF card(rect.right() - 58, rect.center().y() - 82, 50, 164);
    p.setPen(QPen(theme::kHairline, 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(card, theme::kCorner, theme::kCorner);
    const QRectF strip(card.left() + 8, card.top() + 22, 12, 132);
    for (int y = 0; y < 132; ++y)
        p.fillRect(QRectF(strip.left(), strip.bottom() - y - 1, strip.width(), 1.2),
                   QColor::fromRgb(heatColour(kHeatEnd * y / 131)));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(card.left(), card.top() + 3, card.width(), 16), Qt::AlignCenter, QStringLiteral("ΔE"));
    for (const int v : {0, 1, 3, 6, 10})
        p.drawText(QRectF(strip.right() + 4, strip.bottom() - 132.0 * v / kHeatEnd - 8, 22, 16),
                   Qt::AlignLeft | Qt::AlignVCenter, QString::number(v));
}

void CompareOverlay::paintFigures(QPainter& p, const QRect& rect) const {
    m_largest = {};
    const QString words = differenceWords(*m_compared);
    const QString largest = QObject::tr("largest %1").arg(m_compared->largest, 0, 'f', 1);
    const QFont font = theme::font(12);
    const double both =
        QFontMetricsF(font).horizontalAdvance(words) + QFontMetricsF(font).horizontalAdvance(largest) + 36;
    const double x = rect.center().x() - both / 2, y = rect.bottom() - 58;
    const QRectF first = paintCard(p, {x, y}, words, false, font);
    m_largest = paintCard(p, {first.right() + 4, y}, largest, false, font);
    p.setPen(QPen(theme::kAccent, 1));
    p.drawLine(m_largest.bottomLeft() + QPointF(8, -4), m_largest.bottomRight() + QPointF(-8, -4));
}

bool CompareOverlay::paint(QPainter& p, const QRect& rect, const QImage& picture) const {
    if (!isOn() || !m_compared || m_compared->other.isNull()) return false;
    const Comparison& c = *m_session.comparison();
    p.save();
    const QString own = m_session.sideName(false), other = m_session.sideName(true);
    const QImage& left = c.isSwapped ? m_compared->other : picture;
    const QImage& right = c.isSwapped ? picture : m_compared->other;
    switch (c.way) {
        case CompareWay::Wipe:
            paintWipe(p, rect, left, right);
            break;
        case CompareWay::Beside: {
            const QSize one = pictureSize(rect.size());
            const QRect second(rect.right() + 1 - one.width(), rect.top(), one.width(), one.height());
            p.fillRect(rect, theme::kCard);
            theme::drawImage(p, QRect(rect.topLeft(), one), left);
            theme::drawImage(p, second, right);
            break;
        }
        case CompareWay::Difference:
            paintHeat(p, rect);
            break;
    }
    paintName(p, rect, c.isSwapped ? other : own, true);
    paintName(p, rect, c.isSwapped ? own : other, false);
    paintFigures(p, rect);
    p.restore();
    return true;
}

}  // namespace kettle
