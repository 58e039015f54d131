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
    QSize sizeHint() const override { return {260, 196}; }

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(double degrees, bool inGesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double angleOf(QPointF at) const;
    double m_angle = 0, m_grab = 0, m_start = 0;
    bool m_dragging = false;
    std::optional<Spread> m_spread;
};

}  // namespace kettle
