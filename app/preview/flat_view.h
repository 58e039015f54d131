// The flat map: the chosen step's result in texture space. Pans, zooms, shows components, and probes under
// the pointer.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/pictures/picture_service.h"
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
    /// The model whose tiles can be gone to, and whose edges can be laid over the map; null: none.
    void setModel(std::shared_ptr<const RayScene> model);
    /// Shows one UDIM tile, by its number.
    void showTile(int tile);
    void showEdges(bool on);
    bool showsEdges() const { return m_hasEdges; }

Q_SIGNALS:
    void pointed(double u, double v);
    void pointerLeft();
    void resized();
    /// What was clicked or drawn after startPicking: left, bottom, width and height in texture space.
    void picked(const QRectF& uv);
    void pickingStopped();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refreshBar();
    void zoomAt(QPointF pixel, double factor);
    Session& m_session;
    PictureService& m_pictures;
    QImage m_picture;
    QPointF m_centre{0.5, 0.5};
    double m_pixelsPerTile = 0;  ///< 0: fit
    QPoint m_last;
    bool m_isPicking = false, m_picksSurface = false;
    std::optional<QRect> m_band;  ///< the area that is being drawn, in pixels
    std::optional<QPointF> m_mark;
    std::vector<QPointF> m_pins;
    quint64 m_asked = 0, m_shown = 0;
    void fillTileMenu(QMenu& menu);
    std::shared_ptr<const RayScene> m_model;
    std::vector<int> m_tiles;  ///< of the model
    QPoint m_tile;             ///< how far the one that is shown lies from 1001
    bool m_hasEdges = false;
    QLabel* m_what;
    QToolButton *m_componentChip, *m_tileChip;
};

}  // namespace kettle
