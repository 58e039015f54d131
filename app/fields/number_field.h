// A number that is typed, dragged or stepped, and the slider beside it. The slider covers the comfortable
// range; a typed number may exceed it. Both report gestures, so that one drag is one entry in the history.
#pragma once

#include <QLineEdit>
#include <QWidget>
#include <functional>

namespace kettle {

/// How a number is shown and how far its slider goes.
struct NumberStyle {
    double low = 0, high = 1;
    int decimals = 2;
    QString unit;
    bool isSigned = false;  ///< shows "+24" for positive numbers
    /// Another unit that may be typed behind a number, and what such a number comes to; none: nothing else.
    QString otherUnit{};
    std::function<double(double)> fromOther{};
    double stepSize() const { return (high - low) / 100.0; }
};

class NumberField final : public QLineEdit {
    Q_OBJECT

public:
    explicit NumberField(NumberStyle style, QWidget* parent = nullptr);
    double value() const { return m_value; }
    /// Shows a value without reporting it.
    void setValue(double value);

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    /// `inGesture`: part of the drag that began with gestureStarted.
    void edited(double value, bool inGesture);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    QString shown() const;
    void commitText();
    NumberStyle m_style;
    double m_value = 0, m_startValue = 0;
    QPoint m_press;
    bool m_pressed = false, m_dragging = false;
};

class ValueSlider final : public QWidget {
    Q_OBJECT

public:
    explicit ValueSlider(NumberStyle style, QWidget* parent = nullptr);
    void setValue(double value);
    double value() const { return m_value; }
    QSize sizeHint() const override { return {120, 22}; }
    /// Where the handle for a value stands, in pixels; for the pointer and for tests.
    double positionOf(double value) const;
    /// What each value would give, painted along the track; without it the track is plain.
    void setTrack(std::function<QColor(double)> colourOf);

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(double value, bool inGesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double valueAt(double x) const;
    NumberStyle m_style;
    double m_value = 0, m_grabOffset = 0;
    std::function<QColor(double)> m_track;
};

}  // namespace kettle
