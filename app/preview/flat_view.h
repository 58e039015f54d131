// The flat map: the chosen step's result in texture space. Pans, zooms, shows components, and probes under
// the pointer.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/compare/compare_overlay.h"
#include "app/pictures/picture_service.h"
#include "app/preview/frame_hand.h"
#include "app/session/session.h"

class QLabel;
class QMenu;
class QToolButton;

namespace kettle {

class FlatView final : public QWidget {
    Q_OBJECT

public:
    FlatView(Session& session, PictureService& pictures, QWidget* parent = nullptr);
    void ask();
    void setMark(std::optional<QPointF> uv);
    /// Numbered marks of the pinned probes.
    void setPins(std::vector<QPointF> places);
    void fit();
    /// The next click or drag chooses a place or an area instead of moving the map; Esc leaves it.
    /// `ofSurface`: the map shows what the surface takes meanwhile, not the chosen step.
    void startPicking(bool ofSurface);
    void stopPicking();
    bool isPicking() const { return m_isPicking; }
    /// The place in texture space under a pixel of this widget.
    QPointF placeAt(QPointF pixel) const;
    bool isCurrent() const { return m_asked == m_shown; }
    const QImage& picture() const { return m_picture; }
    /// The model whose tiles can be gone to, and whose edges can be laid over the map; null: none.
    void setModel(std::shared_ptr<const RayScene> model);
    /// Shows one UDIM tile, by its number.
    void showTile(int tile);
    void showEdges(bool on);
    /// Shows the tile with its repeats on all sides, or alone.
    void showRepeats(bool on);
    /// Shows every tile of the model at once.
    void showAllTiles();
    /// Marks numbers beyond 0..1.
    void markClipped(bool on);
    const CompareOverlay& overlay() const { return m_overlay; }
    bool showsEdges() const { return m_hasEdges; }

Q_SIGNALS:
    void pointed(double u, double v);
    void pointerLeft();
    void resized();
    /// The right button on the map: the place in texture space.
    void actionsWanted(QPointF uv, QPoint globalPos);
    /// What was clicked or drawn after startPicking: left, bottom, width and height in texture space.
    void picked(const QRectF& uv);
    void pickingStopped();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refreshBar();
    /// Pixels of the widget that one tile takes up.
    double scale() const;
    QPointF pixelOf(QPointF uv) const;
    /// The size of the largest map of the set that the shown line begins with; empty: none.
    QSize texels() const;
    void paintMarks(QPainter& p) const;
    void paintValues(QPainter& p) const;
    void zoomAt(QPointF pixel, double factor);
    Session& m_session;
    PictureService& m_pictures;
    QImage m_picture;
    bool m_askedWithoutSize = false;  ///< of the map, which is known by the time its picture comes
    std::shared_ptr<const std::vector<StampCorners>>
        m_stamps;  ///< of the chosen step, as the picture shows them
    QPointF m_centre{0.5, 0.5};
    double m_pixelsPerTile = 0;  ///< 0: fit
    QPoint m_last;
    bool m_isPicking = false, m_picksSurface = false;
    std::optional<QRect> m_band;  ///< the area that is being drawn, in pixels
    std::optional<QPointF> m_mark;
    std::vector<QPointF> m_pins;
    quint64 m_asked = 0, m_shown = 0;
    void fillTileMenu(QMenu& menu);
    /// True while the frame of a placement may be shown and taken.
    bool hasFrame() const { return !m_overlay.isOn() && !m_isPicking; }
    /// The outlines of the chosen step's stamps, if it scatters its map.
    void paintStamps(QPainter& p) const;
    FrameHand m_frameHand;
    double m_squareSize = 0;  ///< of the model, cm
    std::shared_ptr<const RayScene> m_model;
    std::vector<int> m_tiles;  ///< of the model
    QPoint m_tile;             ///< how far the one that is shown lies from 1001
    bool m_hasEdges = false, m_repeats = false, m_isAll = false, m_marksClipped = false;
    CompareOverlay m_overlay;
    QLabel* m_what;
    QToolButton *m_componentChip, *m_tileChip;
};

}  // namespace kettle
