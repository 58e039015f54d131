// A colour: swatch, hex, hue, saturation and value of the displayed colour as sliders and numbers, the linear
// numbers, a palette, and picking from the preview.
#pragma once

#include <QWidget>
#include <array>

#include "core/document/project.h"

class QLabel;
class QPushButton;

namespace kettle {

class HexField;

class NumberField;
class PaletteShelf;
class PaletteStrip;
class ValueSlider;

class ColourField final : public QWidget {
    Q_OBJECT

public:
    explicit ColourField(QWidget* parent = nullptr);
    /// Scene-linear.
    void setColour(Colour colour);
    Colour colour() const { return m_colour; }
    /// As if the artist had set it: shown and reported.
    void take(const Colour& colour);
    /// Gives the field palettes and the button to pick from the preview (pickWanted).
    void setShelf(PaletteShelf* shelf);

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(const kettle::Colour& colour, bool inGesture);
    void pickWanted();

private:
    class QGridLayout* makeTop();
    void addComponent(class QGridLayout& grid, std::size_t index);
    void refresh();
    void fromNumbers(bool inGesture);
    void showPalette();
    Colour m_colour;
    QLabel *m_swatch, *m_linear, *m_paletteName;
    HexField* m_hex;
    QPushButton *m_pick, *m_palettes;
    PaletteStrip* m_strip;
    PaletteShelf* m_shelf = nullptr;
    std::array<ValueSlider*, 3> m_sliders{};
    std::array<NumberField*, 3> m_numbers{};
};

}  // namespace kettle
