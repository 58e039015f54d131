#include "app/fields/reset_dot.h"

#include <QPainter>

#include "app/style/theme.h"

namespace kettle {

ResetDot::ResetDot(QWidget* parent) : QAbstractButton(parent) {
    setFixedSize(12, 12);
    setFocusPolicy(Qt::NoFocus);
    setEnabled(false);
}

void ResetDot::setChange(Change change) {
    if (m_change == change) return;
    m_change = change;
    setEnabled(change != Change::None);
    update();
}

void ResetDot::paintEvent(QPaintEvent* /*event*/) {
    if (m_change == Change::None) return;
    // A ring where the base differs from the default, a full dot where the look changes it.
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(theme::kQuiet);
    p.setBrush(m_change == Change::ByLook ? QBrush(theme::kQuiet) : QBrush(Qt::NoBrush));
    p.drawEllipse(QRectF(2.5, 2.5, 7, 7));
}

}  // namespace kettle
