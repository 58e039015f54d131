// The spread of values that come in (a line) and go out (filled), drawn over each other.
#pragma once

#include <QWidget>
#include <optional>

#include "core/analysis/tones.h"

class QPainter;

namespace kettle {

class SpreadPlot final : public QWidget {
    Q_OBJECT

public:
    explicit SpreadPlot(QWidget* parent = nullptr);
    void setSpreads(std::optional<Spread> in, std::optional<Spread> out);
    QSize sizeHint() const override { return {260, 64}; }
    /// What stands below it: where the darkest and lightest twentieth end, and the middle.
    QString words() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<Spread> m_in, m_out;
};

/// A spread's brightness as a curve over a rectangle: how tall each bin is, on a scale that keeps small
/// shares visible.
QPolygonF spreadCurve(const Spread& spread, const QRectF& rect);

}  // namespace kettle
