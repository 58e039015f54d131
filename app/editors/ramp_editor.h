// The ramp editor. Colour ramps: three strips in one, the spread that comes in, the ramp, and the stops. Grey
// ramps: a curve over the spread, with the stops as points that move both ways. Click to add, drag to move,
// drag off to remove.
#pragma once

#include <QWidget>
#include <functional>
#include <optional>

#include "core/analysis/tones.h"
#include "core/colour/ramp.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace kettle {

class NumberField;
class ColourField;
class RampShelf;

/// A ramp's colour on the screen; a grey ramp's numbers are raw and are shown as they stand.
QColor shownColour(Vec3 linear, bool isGrey);

/// The part that is painted and dragged.
class RampStrip final : public QWidget {
    Q_OBJECT

public:
    explicit RampStrip(bool isGrey, QWidget* parent = nullptr);
    void setRamp(const Ramp& ramp);
    const Ramp& ramp() const { return m_ramp; }
    void setSpread(std::optional<Spread> in);
    /// What the picture's point under the pointer reads on the ramp.
    void setMark(std::optional<double> position);
    int chosen() const { return m_chosen; }
    void choose(int stop);
    /// Where a stop's handle is, in pixels; for the pointer and for tests.
    QPointF handleAt(int stop) const;

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(bool inGesture);
    void chosenChanged();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF field() const;  ///< where positions 0..1 lie, and for grey ramps values too
    float positionAt(double x) const;
    float valueAt(double y) const;
    int stopAt(QPointF at) const;

    bool m_isGrey;
    Ramp m_ramp;
    std::optional<Spread> m_spread;
    std::optional<double> m_mark;
    int m_chosen = 0;
    bool m_dragging = false;
    std::optional<RampStop> m_draggedOff;
};

class RampEditor final : public QWidget {
    Q_OBJECT

public:
    explicit RampEditor(bool isGrey, QWidget* parent = nullptr);
    /// The chosen stop's colour; null for greys.
    ColourField* colourField() const { return m_colour; }
    void setRamp(const Ramp& ramp);
    void setMark(std::optional<double> position) { m_strip->setMark(position); }
    void setSpread(std::optional<Spread> in) { m_strip->setSpread(std::move(in)); }
    RampStrip& strip() { return *m_strip; }
    /// Where ramps come from and are kept.
    RampShelf& shelf() { return *m_shelf; }
    /// Where the tones of what comes in are asked for (0xAARRGGBB, light to dark), for a ramp from the
    /// picture.
    void setTonesOf(std::function<std::vector<std::uint32_t>()> tones) { m_tonesOf = std::move(tones); }

Q_SIGNALS:
    void gestureStarted();
    void gestureEnded();
    void edited(const kettle::Ramp& ramp, bool inGesture);

private:
    void showChosen();
    QWidget* makeSharesRow();
    void takeShares();
    QWidget* makeKeepRow();
    void startKeeping();
    void keepNow();
    void endKeeping();
    bool eventFilter(QObject* watched, QEvent* event) override;
    void take(const Ramp& ramp);
    void change(const std::function<void(Ramp&)>& edit, bool inGesture = false);

    bool m_isGrey;
    RampStrip* m_strip;
    NumberField *m_position, *m_value = nullptr;
    ColourField* m_colour = nullptr;
    QComboBox *m_interpolation, *m_mixing = nullptr;
    QLabel* m_count;
    RampShelf* m_shelf;
    QWidget *m_keepRow, *m_sharesRow = nullptr;
    QLineEdit *m_keepName = nullptr, *m_shares = nullptr;
    QPushButton *m_keep = nullptr, *m_from = nullptr;
    std::function<std::vector<std::uint32_t>()> m_tonesOf;
};

}  // namespace kettle
