#include "app/tuner/colour_field.h"

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>

#include "app/tuner/number_field.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {

ColourField::ColourField(QWidget* parent)
    : QWidget(parent), m_swatch(new QLabel(this)), m_hex(new QLineEdit(this)) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(2);
    m_swatch->setFixedSize(44, 24);
    m_hex->setFixedWidth(84);
    m_hex->setAccessibleName(tr("Colour as hex"));
    m_hex->setToolTip(tr("The colour as a display shows it: #RRGGBB"));
    grid->addWidget(m_swatch, 0, 0);
    grid->addWidget(m_hex, 0, 1, Qt::AlignLeft);
    const std::array<QString, 3> names{tr("Hue"), tr("Saturation"), tr("Value")};
    for (std::size_t i = 0; i < 3; ++i) {
        NumberStyle style;
        style.high = i == 0 ? 360 : 1;
        style.decimals = i == 0 ? 0 : 3;
        m_sliders[i] = new ValueSlider(style, this);
        m_sliders[i]->setAccessibleName(names[i]);
        auto* label = new QLabel(names[i], this);
        label->setObjectName(QStringLiteral("quiet"));
        grid->addWidget(label, static_cast<int>(i) + 1, 0);
        grid->addWidget(m_sliders[i], static_cast<int>(i) + 1, 1);
        connect(m_sliders[i], &ValueSlider::gestureStarted, this, &ColourField::gestureStarted);
        connect(m_sliders[i], &ValueSlider::gestureEnded, this, &ColourField::gestureEnded);
        connect(m_sliders[i], &ValueSlider::edited, this,
                [this](double, bool inGesture) { fromSliders(inGesture); });
    }
    grid->setColumnStretch(1, 1);
    connect(m_hex, &QLineEdit::editingFinished, this, [this] {
        Colour c;
        if (linearOfHex(m_hex->text().trimmed().toStdString(), c.r, c.g, c.b) && !(c == m_colour) &&
            m_hex->text().trimmed().toUpper() !=
                QString::fromStdString(hexOfLinear(m_colour.r, m_colour.g, m_colour.b))) {
            setColour(c);
            Q_EMIT edited(m_colour, false);
        }
        refresh();
    });
    refresh();
}

void ColourField::setColour(Colour colour) {
    m_colour = colour;
    refresh();
    const Hsv hsv = hsvOf({linearToSrgb(colour.r), linearToSrgb(colour.g), linearToSrgb(colour.b)});
    // A grey has no hue and black no saturation: the sliders then stay where they were.
    if (hsv.saturation > 0) m_sliders[0]->setValue(hsv.hue);
    if (hsv.value > 0) m_sliders[1]->setValue(hsv.saturation);
    m_sliders[2]->setValue(hsv.value);
}

void ColourField::refresh() {
    const QString hex = QString::fromStdString(hexOfLinear(m_colour.r, m_colour.g, m_colour.b));
    m_swatch->setStyleSheet(
        QStringLiteral("background: %1; border: 1px solid #8A8A8A; border-radius: 4px;").arg(hex));
    if (!m_hex->hasFocus() || !m_hex->isModified()) m_hex->setText(hex);
}

void ColourField::fromSliders(bool inGesture) {
    const Vec3 shown =
        rgbOf({static_cast<float>(m_sliders[0]->value()), static_cast<float>(m_sliders[1]->value()),
               static_cast<float>(m_sliders[2]->value())});
    m_colour = {srgbToLinear(shown.x), srgbToLinear(shown.y), srgbToLinear(shown.z)};
    refresh();
    Q_EMIT edited(m_colour, inGesture);
}

}  // namespace kettle
