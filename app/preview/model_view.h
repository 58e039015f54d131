// The lit model: shows the newest picture, turns, pans and zooms the camera, and says which state it shows.
#pragma once

#include <QElapsedTimer>
#include <QImage>
#include <QWidget>
#include <future>
#include <memory>

#include "app/compare/compare_overlay.h"
#include "app/pictures/picture_service.h"
#include "app/preview/frame_hand.h"
#include "app/session/session.h"

class QLabel;
class QToolButton;
class QHBoxLayout;
class QMenu;
class QTimer;

namespace kettle {

class UvPositions;

/// "morning-deck" as people read it.
QString titleOf(QString id);
/// A shipped model or environment by its words, one's own by its file's name.
QString nameOfChoice(const std::string& modelOrEnvironment);

class ModelView final : public QWidget {
    Q_OBJECT

public:
    ModelView(Session& session, PictureService& pictures, const QStringList& models,
              const QStringList& environments, QWidget* parent = nullptr);
    /// Asks for the picture of what is to be shown now.
    void ask();
    const Camera& camera() const { return m_camera; }
    QString state() const;
    /// True if the newest picture is there in full quality.
    bool isCurrent() const { return m_stage == Preview::kLastStage && m_shownNumber == m_askedNumber; }
    int shownStage() const { return m_stage; }
    quint64 shownNumber() const { return m_shownNumber; }
    quint64 askedNumber() const { return m_askedNumber; }
    const QImage& picture() const { return m_picture; }
    /// Shows all of the model from where the camera looks.
    void frameModel();
    /// Shows the part whose surface has the chosen step, or all.
    void frameParts();
    /// Looks along an axis and frames the model: turn and tilt in degrees.
    void lookFrom(float turn, float tilt);
    /// Keeps the picture on the shelf of the looks strip.
    void keepPicture();
    const CompareOverlay& overlay() const { return m_overlay; }
    /// Lights the parts of a surface; nothing: all are as they are.
    void setLit(std::optional<std::string> surface);
    /// The model that is shown; null while there is none.
    const Mesh* mesh() const { return m_scene ? &m_scene->mesh() : nullptr; }
    const std::shared_ptr<const RayScene>& scene() const { return m_scene; }
    /// A place in texture space that the pointer of another view rests on, or nothing.
    void setMark(std::optional<QPointF> uv);
    /// The next click on the surface chooses a place instead of turning the model; Esc leaves it.
    void startPicking();
    void stopPicking();
    bool isPicking() const { return m_isPicking; }

Q_SIGNALS:
    /// The pointer rests on the surface at this place in texture space.
    void pointed(double u, double v);
    void pointerLeft();
    void stateChanged();
    void shapeShown();
    /// A digit, while objects are chosen: a number for them begins.
    void numberStarted(const QString& digit);
    /// Ctrl and a click on a part of the model.
    void partChosen(const QString& part);
    /// The right button on the surface: the place in texture space and the part there.
    void actionsWanted(QPointF uv, const QString& part, QPoint globalPos);
    /// The place that was clicked after startPicking, as a small area of texture space.
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
    void showPicture(quint64 number, const QImage& picture, int stage, const QString& problem,
                     const ComparedPtr& compared);
    void paintMark(QPainter& p) const;
    void dragCamera(QPoint by);
    void goToLargest();
    void frame(const std::vector<bool>& parts);
    void keepView();
    void fillCameraMenu(QMenu& menu);
    void fillKeyLightMenu(QMenu& menu);
    void fillDisplacementMenu(QMenu& menu);
    /// An entry that sets one of the view's numbers, marked if it is in force.
    void addNumber(QMenu& menu, const QString& words, double ViewSettings::*setting, double value);
    void showShape(const std::shared_ptr<const RayScene>& scene);
    void showNoShape(const QString& sentence);
    /// Parts of the model that no surface covers.
    std::vector<std::string> bareParts() const;
    void chooseModel();
    void chooseEnvironment();
    void setView(const std::function<void(ViewSettings&)>& change);
    void refreshBar();
    SurfacePoint pointAt(QPointF pixel) const;
    /// The place in texture space of the surface under a pixel.
    std::optional<QPointF> placeAt(QPointF pixel) const;
    void makeMenus(const QStringList& models, const QStringList& environments);
    void addChoice(QMenu& menu, const QString& words, const std::string& id,
                   std::string ViewSettings::*setting);
    void fillViewMenu(QMenu& menu);
    QToolButton* addChip(QHBoxLayout& bar, const QString& name);

    Session& m_session;
    PictureService& m_pictures;
    QImage m_picture;
    Camera m_camera;
    std::shared_ptr<const RayScene> m_scene;
    std::string m_sceneName, m_sceneUnit;
    QElapsedTimer m_reading;  ///< since the model was asked for
    QTimer* m_readingTimer = nullptr;
    QTimer* m_measuringTimer =
        nullptr;  ///< tells how far slow facts of the model are, while a picture is made
    quint64 m_askedNumber = 0, m_shownNumber = 0;
    int m_stage = -1;
    QString m_problem;
    bool m_needsFrame = true, m_turning = false, m_panning = false, m_isPicking = false;
    QPoint m_last;
    std::optional<QPointF> m_mark;
    QImage m_dimmed;   ///< a veil over what is not lit
    QImage m_outline;  ///< around the chosen objects, as the camera stands
    Camera m_outlinedFrom;
    void refreshOutline();
    CompareOverlay m_overlay;
    // The frame of a placement (model_placement.cpp).
    const UvPositions* positions();
    QPointF pixelOfPlace(QPointF uv);
    bool showsFrame() const;
    void paintFrame(QPainter& p);
    FrameHand m_frameHand;
    double m_squareSize = 0;  ///< cm of the model that the texture's square covers
    std::shared_ptr<const UvPositions> m_positions;
    std::future<std::shared_ptr<const UvPositions>> m_sorting;
    QToolButton *m_modelChip = nullptr, *m_lightChip = nullptr, *m_viewChip = nullptr,
                *m_compareChip = nullptr;
    QToolButton* m_offChip = nullptr;  ///< channels that are off, and the way back
    QLabel *m_stateChip = nullptr, *m_bareChip = nullptr;
    QWidget* m_hereBar = nullptr;
    QLabel* m_hereText = nullptr;
};

}  // namespace kettle
