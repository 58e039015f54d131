#include "app/fields/number_field.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/fields/rounded.h"
#include "app/style/theme.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kInset = 6;       // half a handle
constexpr int kDragBegins = 3;  // pixels before a press on a field becomes a drag

}  // namespace

NumberField::NumberField(NumberStyle style, QWidget* parent) : QLineEdit(parent), m_style(std::move(style)) {
    setAlignment(Qt::AlignRight);
    setCursor(Qt::SizeHorCursor);
    // A press may become a drag, so it gives the keys only when it is let go: then all is chosen, to be typed
    // over.
    setFocusPolicy(Qt::TabFocus);
    setValue(0);
    connect(this, &QLineEdit::returnPressed, this, &NumberField::commitText);
}

QString NumberField::shown() const {
    QString text = QString::number(m_value, 'f', m_style.decimals);
    if (m_style.isSigned && m_value > 0) text.prepend(QLatin1Char('+'));
    return text + m_style.unit;
}

void NumberField::setValue(double value) {
    m_value = value;
    if (hasFocus() && !m_dragging && isModified()) return;
    // The same text set again would take away the selection that a click has just made for typing.
    if (const QString now = shown(); text() != now) setText(now);
}

void NumberField::commitText() {
    QString typed = text().trimmed();
    typed.replace(QLatin1Char(','), QLatin1Char('.'));
    const QString unit = m_style.unit.trimmed();
    if (!unit.isEmpty() && typed.endsWith(unit)) typed.chop(unit.size());
    const bool isOther = !m_style.otherUnit.isEmpty() && typed.endsWith(m_style.otherUnit);
    if (isOther) typed.chop(m_style.otherUnit.size());
    bool ok = false;
    double value = typed.trimmed().toDouble(&ok);
    if (!ok)
        if (const auto computed = numberOf(typed.toStdString())) {
            // Single floats compute it; what shows is rounded to what they are good for.
            value = std::round(*computed * 1e5) / 1e5;
            ok = true;
        }
    if (ok && isOther) {
        value = std::round(m_style.fromOther(value) * 1e5) / 1e5;
        ok = value > 0;  // else there is nothing to measure by
    }
    setModified(false);
    if (ok && std::isfinite(value) && value != m_value) {
        m_value = value;
        Q_EMIT edited(m_value, false);
    }
    setText(shown());
    selectAll();
}

void NumberField::mousePressEvent(QMouseEvent* event) {
    m_pressed = event->button() == Qt::LeftButton && !hasFocus();
    m_press = event->pos();
    m_startValue = m_value;
    if (!m_pressed) QLineEdit::mousePressEvent(event);
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
    const int dx = event->pos().x() - m_press.x();
    if (m_pressed && !m_dragging && std::abs(dx) >= kDragBegins) {
        m_dragging = true;
        Q_EMIT gestureStarted();
    }
    if (!m_dragging) return m_pressed ? void() : QLineEdit::mouseMoveEvent(event);
    const double fine = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    const double value =
        rounded(m_startValue + dx * m_style.stepSize() * fine, m_style.decimals + (fine < 1 ? 1 : 0));
    if (value == m_value) return;
    setValue(value);
    Q_EMIT edited(m_value, true);
}

void NumberField::mouseReleaseEvent(QMouseEvent* event) {
    if (m_dragging) {
        m_dragging = m_pressed = false;
        Q_EMIT gestureEnded();
    } else if (m_pressed) {
        m_pressed = false;
        setFocus(Qt::MouseFocusReason);
        selectAll();
    } else {
        QLineEdit::mouseReleaseEvent(event);
    }
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        const double fine = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
        const double step = m_style.stepSize() * fine * (event->key() == Qt::Key_Up ? 1 : -1);
        setModified(false);
        setValue(rounded(m_value + step, m_style.decimals + 1));
        Q_EMIT edited(m_value, false);
        return;
    }
    // No number begins with a slash. While the whole number is selected, the board takes the key and adds a
    // step.
    if (event->key() == Qt::Key_Slash && !isModified() && selectedText() == text()) return event->ignore();
    if (event->key() == Qt::Key_Escape && isModified()) {
        setModified(false);
        setText(shown());
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void NumberField::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    selectAll();
}

void NumberField::focusOutEvent(QFocusEvent* event) {
    QLineEdit::focusOutEvent(event);
    if (isModified()) commitText();
    deselect();
}

ValueSlider::ValueSlider(NumberStyle style, QWidget* parent) : QWidget(parent), m_style(std::move(style)) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setMinimumHeight(22);
}

void ValueSlider::setValue(double value) {
    if (value == m_value) return;
    m_value = value;
    update();
}

void ValueSlider::setTrack(std::function<QColor(double)> colourOf) {
    m_track = std::move(colourOf);
    update();
}

double ValueSlider::positionOf(double value) const {
    const double t = std::clamp((value - m_style.low) / (m_style.high - m_style.low), 0.0, 1.0);
    return kInset + t * (width() - 2 * kInset);
}

double ValueSlider::valueAt(double x) const {
    const double t = std::clamp((x - kInset) / std::max(1, width() - 2 * kInset), 0.0, 1.0);
    return rounded(m_style.low + t * (m_style.high - m_style.low), m_style.decimals);
}

void ValueSlider::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double y = height() / 2.0, at = positionOf(m_value);
    // The filled part starts where nothing is done: at 0 if the range has it, else at the low end.
    const double origin = positionOf(m_style.low < 0 && m_style.high > 0 ? 0 : m_style.low);
    p.setPen(Qt::NoPen);
    if (m_track) {
        QLinearGradient track(kInset, 0, width() - kInset, 0);
        constexpr int kStops = 24;
        for (int i = 0; i <= kStops; ++i) {
            const double t = static_cast<double>(i) / kStops;
            track.setColorAt(t, m_track(m_style.low + t * (m_style.high - m_style.low)));
        }
        p.setBrush(track);
        p.setPen(QPen(theme::kHairline, 1));
        p.drawRoundedRect(QRectF(kInset - 0.5, y - 3.5, width() - 2 * kInset + 1, 7), 3, 3);
    } else {
        p.setBrush(theme::kHairline);
        p.drawRoundedRect(QRectF(kInset, y - 2, width() - 2 * kInset, 4), 2, 2);
        p.setBrush(theme::kEdge);
        p.drawRoundedRect(QRectF(std::min(origin, at), y - 2, std::fabs(at - origin), 4), 2, 2);
    }
    p.setPen(QPen(hasFocus() ? theme::kAccent : theme::kEdge, hasFocus() ? 2 : 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(QRectF(at - 5, y - 8.5, 10, 17), 3, 3);
}

void ValueSlider::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const double at = positionOf(m_value);
    // Grabbing the handle keeps it where it is under the pointer; elsewhere it jumps there.
    m_grabOffset = std::fabs(event->position().x() - at) <= 6 ? event->position().x() - at : 0;
    Q_EMIT gestureStarted();
    mouseMoveEvent(event);
}

void ValueSlider::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) == 0) return;
    const double value = valueAt(event->position().x() - m_grabOffset);
    if (value == m_value) return;
    m_value = value;
    update();
    Q_EMIT edited(m_value, true);
}

void ValueSlider::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) Q_EMIT gestureEnded();
}

void ValueSlider::keyPressEvent(QKeyEvent* event) {
    const int direction = event->key() == Qt::Key_Right || event->key() == Qt::Key_Up    ? 1
                          : event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1
                                                                                         : 0;
    if (direction == 0) return QWidget::keyPressEvent(event);
    const double fine = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.1 : 1.0;
    m_value = rounded(m_value + direction * m_style.stepSize() * fine, m_style.decimals + 1);
    update();
    Q_EMIT edited(m_value, false);
}

}  // namespace kettle
