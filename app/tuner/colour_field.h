// A colour: swatch, hex, and three sliders for hue, saturation and value of the displayed colour.
#pragma once

#include <QWidget>
#include <array>

#include "core/document/project.h"

class QLineEdit;
class QLabel;

namespace kettle {

class ValueSlider;

class ColourField final : public QWidget {
    Q_OBJECT

public:
    explicit ColourField(QWidget* parent = nullptr);
    /// Scene-linear.
    void setColour(Colour colour);
    Colour colour() const { return m_colour; }

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(const kettle::Colour& colour, bool inGesture);

private:
    void refresh();
    void fromSliders(bool inGesture);
    Colour m_colour;
    QLabel* m_swatch;
    QLineEdit* m_hex;
    std::array<ValueSlider*, 3> m_sliders{};
};

}  // namespace kettle
