#include "app/fields/range_slider.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/fields/rounded.h"
#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr double kHandleInset = 8;

}  // namespace

RangeSlider::RangeSlider(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setMinimumHeight(24);
    setToolTip(
        tr("Drag an end, or the range between; with the keys, Space changes the end and the arrows move it"));
}

void RangeSlider::setWhole(double low, double high, int decimals) {
    m_least = low;
    m_most = std::max(high, low + 1e-9);
    m_decimals = decimals;
    update();
}

void RangeSlider::setRange(double low, double high) {
    m_low = low;
    m_high = high;
    update();
}

double RangeSlider::positionOf(double value) const {
    const double t = std::clamp((value - m_least) / (m_most - m_least), 0.0, 1.0);
    return kHandleInset + t * (width() - 2 * kHandleInset);
}

double RangeSlider::valueAt(double x) const {
    const double t = std::clamp((x - kHandleInset) / std::max(1.0, width() - 2 * kHandleInset), 0.0, 1.0);
    return rounded(m_least + t * (m_most - m_least), m_decimals);
}

void RangeSlider::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double y = height() / 2.0, low = positionOf(m_low), high = positionOf(m_high);
    p.setPen(Qt::NoPen);
    p.setBrush(theme::kHairline);
    p.drawRoundedRect(QRectF(kHandleInset, y - 2, width() - 2 * kHandleInset, 4), 2, 2);
    p.setBrush(theme::kEdge);
    p.drawRect(QRectF(low, y - 2, high - low, 4));
    for (const bool isHigh : {false, true}) {
        const bool hasKeys = hasFocus() && isHigh == m_isHigh;
        p.setPen(QPen(hasKeys ? theme::kAccent : theme::kEdge, hasKeys ? 2 : 1));
        p.setBrush(theme::kCard);
        // Half moons that face each other, so that either can be seen and grabbed where they meet.
        const double at = isHigh ? high : low;
        p.drawRoundedRect(QRectF(isHigh ? at - 1 : at - 6, y - 8.5, 7, 17), 3, 3);
    }
}

void RangeSlider::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const double x = event->position().x(), low = positionOf(m_low), high = positionOf(m_high);
    if (x > low + 7 && x < high - 7) {
        m_grabbed = Grabbed::Both;
        m_from = valueAt(x);
        return;
    }
    m_isHigh = std::abs(x - high) < std::abs(x - low) || (low == high && x > low);
    m_grabbed = m_isHigh ? Grabbed::High : Grabbed::Low;
    moveTo(valueAt(x));
}

void RangeSlider::mouseMoveEvent(QMouseEvent* event) {
    if (m_grabbed == Grabbed::None) return;
    const double value = valueAt(event->position().x());
    if (m_grabbed != Grabbed::Both) return moveTo(value);
    const double by = std::clamp(value - m_from, m_least - m_low, m_most - m_high);
    if (by == 0) return;
    m_from += by;
    setRange(rounded(m_low + by, m_decimals), rounded(m_high + by, m_decimals));
    Q_EMIT edited(m_low, m_high);
}

void RangeSlider::mouseReleaseEvent(QMouseEvent*) {
    m_grabbed = Grabbed::None;
}

void RangeSlider::moveTo(double value) {
    // An end that is drawn over the other takes it along.
    double low = m_isHigh ? std::min(m_low, value) : value, high = m_isHigh ? value : std::max(m_high, value);
    if (low == m_low && high == m_high) return;
    setRange(low, high);
    Q_EMIT edited(m_low, m_high);
}

void RangeSlider::keyPressEvent(QKeyEvent* event) {
    const int way = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (event->key() == Qt::Key_Space) {
        m_isHigh = !m_isHigh;
        return update();
    }
    if (way == 0) return QWidget::keyPressEvent(event);
    const double least = std::pow(10.0, -m_decimals), by = std::max((m_most - m_least) / 40, least);
    moveTo(std::clamp(rounded((m_isHigh ? m_high : m_low) + way * by, m_decimals), m_least, m_most));
}

}  // namespace kettle
