// Two pictures in one view: a wipe whose line is dragged and turned by its grip, side by side, or their
// difference as a heat picture with its scale and figures. Paints and takes the pointer for a view; knows no
// more of it.
#pragma once

#include <QImage>
#include <QPointF>
#include <QRect>
#include <QString>
#include <memory>
#include <optional>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

class QPainter;

namespace kettle {

class CompareOverlay {
public:
    explicit CompareOverlay(const Session& session) : m_session(session) {}

    bool isOn() const { return m_session.comparison().has_value(); }
    bool isBeside() const;
    void setCompared(ComparedPtr compared) { m_compared = std::move(compared); }
    const ComparedPtr& compared() const { return m_compared; }

    /// Paints both over `rect`; false if there is nothing to compare, and the view paints its one picture.
    bool paint(QPainter& p, const QRect& rect, const QImage& picture) const;
    /// How large one picture is asked for, and where a place of the view lies in it (0..1 each way).
    QSize pictureSize(QSize view) const;
    QPointF pictureAt(QPointF pixel, QSize view) const;

    /// The pointer; each is true if the overlay took it.
    bool press(QPointF pixel, QSize view);
    bool move(QPointF pixel, QSize view);
    bool release();
    bool isDragging() const { return m_held != Held::Nothing; }
    /// Over the grip or the wipe's line.
    bool isOverGrip(QPointF pixel, QSize view) const;
    /// True if a click at this place means "go to the largest difference".
    bool isOverLargest(QPointF pixel) const { return m_largest.contains(pixel); }

    /// The wipe's line: how far along the view its middle stands (0..1) and its turn in degrees, 0 upright.
    double place() const { return m_place; }
    double turn() const { return m_turn; }
    QPointF gripAt(QSize view) const;
    QPointF turnerAt(QSize view) const;

private:
    enum class Held { Nothing, Grip, Turner };
    void paintWipe(QPainter& p, const QRect& rect, const QImage& left, const QImage& right) const;
    void paintHeat(QPainter& p, const QRect& rect) const;
    void paintName(QPainter& p, const QRect& rect, const QString& name, bool isLeft) const;
    void paintFigures(QPainter& p, const QRect& rect) const;
    QPointF along() const;  ///< the line's own direction

    const Session& m_session;
    ComparedPtr m_compared;
    Held m_held = Held::Nothing;
    double m_place = 0.5, m_turn = 0;
    mutable QRectF m_largest;  ///< where the words for the largest difference stand
};

/// "mean 2.41 · 95 % 6.30 · largest 12.8"
QString differenceWords(const Compared& compared);

}  // namespace kettle
