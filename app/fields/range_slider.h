// A slider with two handles: the ends of a range within a larger one.
#pragma once

#include <QWidget>

namespace kettle {

class RangeSlider final : public QWidget {
    Q_OBJECT

public:
    explicit RangeSlider(QWidget* parent = nullptr);
    /// How far the handles go, and to how many decimals they are rounded.
    void setWhole(double low, double high, int decimals);
    void setRange(double low, double high);
    double low() const { return m_low; }
    double high() const { return m_high; }
    QSize sizeHint() const override { return {140, 24}; }
    /// Where the handle for a value stands, in pixels.
    double positionOf(double value) const;

Q_SIGNALS:
    void edited(double low, double high);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Grabbed { None, Low, High, Both };
    double valueAt(double x) const;
    void moveTo(double value);

    double m_least = 0, m_most = 1, m_low = 0, m_high = 1;
    int m_decimals = 2;
    Grabbed m_grabbed = Grabbed::None;
    bool m_isHigh = false;  ///< which handle the keys move
    double m_from = 0;      ///< where both were grabbed
};

}  // namespace kettle
