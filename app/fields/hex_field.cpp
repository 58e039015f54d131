#include "app/fields/hex_field.h"

#include "core/colour/encoding.h"

namespace kettle {

HexField::HexField(QWidget* parent) : QLineEdit(parent) {
    setText(shown());
    connect(this, &QLineEdit::editingFinished, this, &HexField::finish);
}

QString HexField::shown() const {
    return QString::fromStdString(hexOfLinear(m_colour.r, m_colour.g, m_colour.b));
}

void HexField::setColour(const Colour& colour) {
    m_colour = colour;
    if (!hasFocus() || !isModified()) setText(shown());
}

void HexField::finish() {
    Colour typed;
    // Many colours have the same hex: typing it again changes nothing.
    const bool isOther = isModified() && text().trimmed().toUpper() != shown() &&
                         linearOfHex(text().trimmed().toStdString(), typed.r, typed.g, typed.b);
    if (isOther) m_colour = typed;
    setText(shown());
    if (isOther) Q_EMIT entered(m_colour);
}

void HexField::mousePressEvent(QMouseEvent* event) {
    // The keys have come before the press does, so it is what is untouched that tells the first one.
    m_isEntering = !isModified() && selectedText() != text();
    QLineEdit::mousePressEvent(event);
}

void HexField::mouseReleaseEvent(QMouseEvent* event) {
    QLineEdit::mouseReleaseEvent(event);
    if (m_isEntering && !hasSelectedText()) selectAll();
    m_isEntering = false;
}

}  // namespace kettle
