#include "app/fields/colour_field.h"

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <initializer_list>

#include "app/fields/hex_field.h"
#include "app/fields/number_field.h"
#include "app/fields/palette_shelf.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

QLabel* quietLabel(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    return label;
}

}  // namespace

ColourField::ColourField(QWidget* parent)
    : QWidget(parent),
      m_swatch(new QLabel(this)),
      m_linear(quietLabel({}, this)),
      m_paletteName(quietLabel({}, this)),
      m_hex(new HexField(this)),
      m_pick(new QPushButton(tr("Pick"), this)),
      m_palettes(new QPushButton(tr("Palette"), this)),
      m_strip(new PaletteStrip(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addLayout(makeTop());
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    for (std::size_t i = 0; i < 3; ++i) addComponent(*grid, i);
    m_linear->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_linear->setToolTip(tr("The colour's amounts of light: red, green, blue, linear"));
    grid->addWidget(quietLabel(tr("Linear"), this), 3, 0);
    grid->addWidget(m_linear, 3, 1, 1, 2);
    column->addLayout(grid);
    column->addWidget(m_paletteName);
    column->addWidget(m_strip);
    for (QWidget* w : std::initializer_list<QWidget*>{m_pick, m_palettes, m_paletteName, m_strip}) w->hide();
    connect(m_strip, &PaletteStrip::chosen, this, &ColourField::take);
    refresh();
}

QGridLayout* ColourField::makeTop() {
    auto* top = new QGridLayout;
    top->setHorizontalSpacing(6);
    m_swatch->setFixedSize(32, 24);
    m_hex->setFixedWidth(76);
    m_hex->setAccessibleName(tr("Colour as hex"));
    m_hex->setToolTip(tr("The colour as a display shows it: #RRGGBB"));
    m_pick->setObjectName(QStringLiteral("pick-colour"));
    m_pick->setToolTip(
        tr("Then click on the model or in the flat picture, or draw over an area of it. Esc leaves it."));
    m_palettes->setObjectName(QStringLiteral("palettes"));
    m_palettes->setToolTip(tr("Colours to choose from"));
    top->addWidget(m_swatch, 0, 0);
    top->addWidget(m_hex, 0, 1);
    top->addWidget(m_pick, 0, 2);
    top->addWidget(m_palettes, 0, 3);
    top->setColumnStretch(4, 1);
    connect(m_pick, &QPushButton::clicked, this, &ColourField::pickWanted);
    connect(m_palettes, &QPushButton::clicked, this, [this] {
        m_shelf->makeMenu(m_colour, this)
            ->popup(m_palettes->mapToGlobal(QPoint(0, m_palettes->height() + 2)));
    });
    connect(m_hex, &HexField::entered, this, &ColourField::take);
    return top;
}

void ColourField::addComponent(QGridLayout& grid, std::size_t index) {
    const std::array<QString, 3> names{tr("Hue"), tr("Saturation"), tr("Value")};
    NumberStyle style;
    style.high = index == 0 ? 360 : 1;
    style.decimals = index == 0 ? 0 : 3;
    if (index == 0) style.unit = QStringLiteral("°");
    auto* slider = m_sliders[index] = new ValueSlider(style, this);
    auto* number = m_numbers[index] = new NumberField(style, this);
    number->setFixedWidth(56);
    const int row = static_cast<int>(index);
    grid.addWidget(quietLabel(names[index], this), row, 0);
    grid.addWidget(slider, row, 1);
    grid.addWidget(number, row, 2);
    slider->setAccessibleName(names[index]);
    number->setAccessibleName(tr("%1 as a number").arg(names[index]));
    connect(slider, &ValueSlider::gestureStarted, this, &ColourField::gestureStarted);
    connect(slider, &ValueSlider::gestureEnded, this, &ColourField::gestureEnded);
    connect(number, &NumberField::gestureStarted, this, &ColourField::gestureStarted);
    connect(number, &NumberField::gestureEnded, this, &ColourField::gestureEnded);
    connect(slider, &ValueSlider::edited, this, [this, number](double v, bool inGesture) {
        number->setValue(v);
        fromNumbers(inGesture);
    });
    connect(number, &NumberField::edited, this, [this, slider](double v, bool inGesture) {
        slider->setValue(v);
        fromNumbers(inGesture);
    });
}

void ColourField::setShelf(PaletteShelf* shelf) {
    m_shelf = shelf;
    m_pick->show();
    m_palettes->show();
    connect(shelf, &PaletteShelf::changed, this, &ColourField::showPalette);
    showPalette();
}

void ColourField::showPalette() {
    m_strip->setColours(m_shelf->colours());
    m_paletteName->setText(m_shelf->name());
    m_strip->setVisible(!m_shelf->colours().empty());
    m_paletteName->setVisible(!m_shelf->colours().empty());
}

void ColourField::setColour(Colour colour) {
    m_colour = colour;
    refresh();
    const Hsv hsv = hsvOf({linearToSrgb(colour.r), linearToSrgb(colour.g), linearToSrgb(colour.b)});
    const auto show = [&](std::size_t i, float v) {
        m_sliders[i]->setValue(static_cast<double>(v));
        m_numbers[i]->setValue(static_cast<double>(v));
    };
    // A grey has no hue and black no saturation: the sliders then stay where they were.
    if (hsv.saturation > 0) show(0, hsv.hue);
    if (hsv.value > 0) show(1, hsv.saturation);
    show(2, hsv.value);
}

void ColourField::take(const Colour& colour) {
    setColour(colour);
    Q_EMIT edited(m_colour, false);
}

void ColourField::refresh() {
    const QString hex = QString::fromStdString(hexOfLinear(m_colour.r, m_colour.g, m_colour.b));
    m_swatch->setStyleSheet(
        QStringLiteral("background: %1; border: 1px solid #8A8A8A; border-radius: 4px;").arg(hex));
    m_hex->setColour(m_colour);
    const auto number = [](float v) { return QString::number(static_cast<double>(v), 'f', 4); };
    m_linear->setText(
        QStringLiteral("%1  %2  %3").arg(number(m_colour.r), number(m_colour.g), number(m_colour.b)));
}

void ColourField::fromNumbers(bool inGesture) {
    const Vec3 shown =
        rgbOf({static_cast<float>(m_numbers[0]->value()), static_cast<float>(m_numbers[1]->value()),
               static_cast<float>(m_numbers[2]->value())});
    m_colour = {srgbToLinear(shown.x), srgbToLinear(shown.y), srgbToLinear(shown.z)};
    refresh();
    Q_EMIT edited(m_colour, inGesture);
}

}  // namespace kettle
