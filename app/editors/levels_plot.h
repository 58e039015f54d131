// Levels over the spread: black, middle and white are posts through the spread of what comes in, with the
// resulting curve over it; the range that goes out is a bracket at its side.
#pragma once

#include <QWidget>
#include <optional>

#include "core/analysis/tones.h"

namespace kettle {

class LevelsPlot final : public QWidget {
    Q_OBJECT

public:
    struct Levels {
        double inBlack = 0, inWhite = 1, gamma = 1, outBlack = 0, outWhite = 1;
        bool operator==(const Levels&) const = default;
    };
    enum class Handle { InBlack, Middle, InWhite, OutBlack, OutWhite };

    explicit LevelsPlot(QWidget* parent = nullptr);
    void setLevels(const Levels& levels);
    void setSpread(std::optional<Spread> in);
    /// Where a handle stands, in pixels; for the pointer and for tests.
    QPointF handleAt(Handle handle) const;
    QSize sizeHint() const override { return {260, 122}; }

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    /// `control` is the step's control that the handle stands for.
    void edited(const QString& control, double value, bool inGesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QRectF field() const;
    double valueAt(double x) const;
    double outAt(double y) const;
    double resultOf(double in) const;
    void paintPosts(QPainter& p) const;
    void paintBracket(QPainter& p) const;
    Levels m_levels;
    std::optional<Spread> m_spread;
    std::optional<Handle> m_held;
};

}  // namespace kettle
