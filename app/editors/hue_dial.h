// The hue dial: the inner ring is the spread of the hues that come in, the outer ring where they go. Drag to
// turn.
#pragma once

#include <QWidget>
#include <optional>

#include "core/analysis/tones.h"

namespace kettle {

class HueDial final : public QWidget {
    Q_OBJECT

public:
    explicit HueDial(QWidget* parent = nullptr);
    void setAngle(double degrees);
    double angle() const { return m_angle; }
    void setSpread(std::optional<Spread> in);
    /// The band that limits the shift, or nothing: degrees.
    struct Band {
        double centre = 0, width = 60, softness = 30;
        bool inverted = false;
        bool operator==(const Band&) const = default;
    };
    void setBand(std::optional<Band> band);
    /// The hue under the pointer in a picture.
    void setMark(std::optional<double> hue);
    /// Where a hue lies on the dial, in pixels, at the inner ring (0) or further out (1); for the pointer and
    /// for tests.
    QPointF pointOf(double hue, double outward) const;
    QSize sizeHint() const override { return {260, 196}; }

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(double degrees, bool inGesture);
    void bandEdited(double centre, double width, bool inGesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double angleOf(QPointF at) const;
    double m_angle = 0, m_grab = 0, m_start = 0;
    enum class Grip { None, Turn, Centre, Low, High };
    void dragBand(double angle);
    void paintBand(QPainter& p, QPointF centre) const;
    Grip m_grip = Grip::None;
    std::optional<Spread> m_spread;
    std::optional<Band> m_band;
    std::optional<double> m_mark;
};

}  // namespace kettle
