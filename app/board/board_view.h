// The board: all lines with their cards and tone ribbons. Paints what the layout says; every action goes to
// the session.
#pragma once

#include <QScrollArea>
#include <QVariantAnimation>
#include <QWidget>
#include <optional>

#include "app/board/board_foot.h"
#include "app/board/board_layout.h"
#include "app/board/finder.h"
#include "app/pictures/picture_service.h"
#include "app/session/session.h"

class QMenu;

namespace kettle {

class BoardView final : public QWidget {
    Q_OBJECT

public:
    BoardView(Session& session, QScrollArea& area, QWidget* parent = nullptr);

    void setPictures(std::shared_ptr<const CardPictures> pictures);
    void refresh();
    /// Where a step's card is, in this widget's pixels; for tests and for scrolling to it.
    QRect cardRect(const std::string& step) const;
    QRect gapRect(const std::string& line, std::size_t index) const;
    double zoom() const { return m_zoom; }
    /// Opens the finder behind the chosen step.
    void openFinder();
    Finder& finder() { return *m_finder; }
    /// What a step gives, as its card shows it; null if that is not known.
    QImage thumbnailOf(const std::string& step) const {
        const CardPicture* picture = pictureOf(step);
        return picture != nullptr ? picture->thumbnail : QImage();
    }
    /// Where everything goes, whether or not it has arrived there.
    const board::Layout& layoutNow() const { return m_layout; }
    /// Folds a line away or shows it again; a look at the board, not a change of the project.
    void toggleFold(const std::string& line);
    void setOnlyWorked(bool only);
    /// The zoom at which everything is seen.
    void fitAll();
    QRect headRect(const std::string& line) const;
    QRect capRect(const std::string& line) const;
    const BoardFoot& foot() const { return *m_foot; }
    QRect headingRect(const std::string& surface) const;
    void toggleSurface(const std::string& surface);
    /// A layer's head, and its whole band; empty if there is none.
    QRect bandRect(const std::string& layer) const;
    /// Shows a band's head alone, or all of it again.
    void toggleBand(const std::string& layer);
    /// Opens or closes the row of the line that a fill alone lays.
    void toggleFillLine(const std::string& line);
    /// The parts of the model that is shown, for the menus of headings.
    void setModelParts(std::vector<std::string> parts, std::vector<std::string> materials);
    /// Goes to a surface: unfolds it and chooses the source of its first line.
    void showSurface(const std::string& surface);
    /// What can be done with a surface, as entries; with "" for a project of one surface.
    void fillSurfaceMenu(QMenu& menu, const std::string& surface);
    /// The same for layers: what can be added at the chosen step, and what can be done with the chosen one.
    void fillLayerMenu(QMenu& menu);

Q_SIGNALS:
    /// What is chosen is to become a recipe, or to be kept as a layer.
    void packWanted();
    /// The pointer rests on a heading; empty: it left.
    void surfacePointed(const QString& surface);
    /// Another set of maps is wanted for a surface, or in the place of one of its sets.
    void mapsWanted(const QString& surface);
    void otherSetWanted(const QString& set);
    /// A folder was dropped on one of a set's maps.
    void otherSetDropped(const QString& set, const QString& folder);
    /// What a drop here would do, while files are dragged over the board; empty: as anywhere in the window.
    void dropTold(const QString& words);
    /// Pictures for stamps are wanted; a folder was dropped that is to lie over the surface; the chosen layer
    /// is to be named.
    void stampsWanted();
    void layOverDropped(const QString& folder);
    void nameWanted();
    void dropGone();

public:
    // What the board tells besides its picture (board_accessible.h).
    /// The steps that have a card, line by line.
    std::vector<std::string> steps() const;
    /// "HSV shift, +152°, on Base colour"
    QString spokenName(const std::string& step) const;
    /// Its purpose, why it has no effect, what is wrong.
    QString tipOf(const std::string& step) const;
    bool isChosen(const std::string& step) const;
    void choose(const std::string& step);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    /// What a drop of files at a place of the board does, and the words for it.
    struct Drop {
        enum class What {
            Elsewhere,
            LibraryEntry,
            OtherMaps,
            LayerFromFolder,
            Mask,
            OverLine,
            Layers
        } what = What::Elsewhere;
        QStringList files{};
        std::string set{};   ///< OtherMaps: whose
        std::string line{};  ///< OverLine
        std::size_t gap = 0;
        QString words{};     ///< empty: what it does anywhere in the window
        std::string step{};  ///< Mask: whose
    };
    Drop dropAt(QPoint at, const QStringList& files) const;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void updateSize();
    // What has to be painted again (board_repainting.cpp).
    void updateSteps(const std::set<std::string>& steps);
    /// Each place in view that shows a step's picture or tones, with that step.
    std::vector<std::pair<std::string, QRect>> picturesInView() const;
    void updatePlaces(const std::vector<QRect>& places);
    int widthToFill() const;
    /// True if m_layout is that of what the session shows.
    bool isLaidOut() const;
    /// What is painted now: the goal, or on the way to it.
    board::Layout shownLayout() const;
    /// The step of the card under a place, if it takes a mask; else null.
    const Step* maskedAt(QPoint at) const;
    /// The set of the Map card under a place; empty if there is none.
    std::string setAt(QPoint at) const;
    void setZoom(double zoom);
    QPoint toBoard(QPoint pixel) const;
    QRect toPixels(const QRect& rect) const;
    const board::CardPlace* cardAt(QPoint at) const;
    const board::RibbonPlace* ribbonAt(QPoint at) const;
    const board::FlagPlace* flagAt(QPoint at) const;
    QPoint plusCentre(const board::RibbonPlace& ribbon) const;
    void openFinderAt(const board::RibbonPlace& ribbon);
    /// How far the view was scrolled sideways: heads and caps stay in view.
    int scrolledBy() const;
    QRect capShown(const board::CapPlace& cap) const;
    /// The cap under a place, where it is shown.
    const board::CapPlace* capAt(QPoint at) const;
    const board::HeadingPlace* headingAt(QPoint at) const;
    void renameSurface(const std::string& surface);
    void addHoldEntry(QMenu& menu, const std::string& step);
    void walk(int dx, int dy);
    void ensureVisible(const std::string& step);
    QString nameOf(const Step& shown) const;
    /// The one value under a card's name.
    QString tellingOf(const Step& shown, Kind kind) const;
    QString capTip(const std::string& line) const;
    void tellFocus();

    void paintRibbon(QPainter& p, const QRect& rect, const std::string& step) const;
    void paintCard(QPainter& p, const board::CardPlace& card) const;
    void paintHead(QPainter& p, const board::HeadPlace& head) const;
    void paintEnds(QPainter& p, const board::Layout& now, const QRegion& seen) const;
    void paintHeading(QPainter& p, const board::HeadingPlace& heading) const;
    void paintSlim(QPainter& p, const board::CardPlace& card) const;
    void paintMarks(QPainter& p, const board::CardPlace& card, const Step& shown,
                    const QPainterPath& outline) const;
    QString encodingOf(const Line& line) const;
    void paintElbow(QPainter& p, const board::ElbowPlace& elbow) const;
    void paintFlag(QPainter& p, const board::FlagPlace& flag) const;
    void paintCap(QPainter& p, const board::CapPlace& cap) const;
    const CardPicture* pictureOf(const std::string& step) const;

    // Layers (board_bands.cpp).
    void paintBrackets(QPainter& p, const board::Layout& now, const QRegion& seen) const;
    /// The recipe that a step is, or stands in; the step itself if neither.
    std::string recipeAround(const std::string& step) const;
    void paintBands(QPainter& p, const board::Layout& now, const QRegion& seen) const;
    void paintBandHead(QPainter& p, const board::CardPlace& card) const;
    void paintFill(QPainter& p, const board::CardPlace& card) const;
    /// A picture into a frame, cut to its shape; a plain tone where there is none yet.
    void paintThumbnail(QPainter& p, const QRect& frame, const Step& fill, Kind kind) const;
    /// The step whose result a fill lays; empty if it lays a constant or nothing.
    std::string laidBy(const Step& fill) const;
    QString maskWords(const Line& layer) const;
    void fillBandMenu(QMenu& menu, const std::string& layer);
    /// The band under a place; null if there is none.
    const board::BandPlace* bandAt(QPoint at) const;
    const board::BandPlace* bandOf(const std::string& layer) const;
    void dragBandTo(QPoint at);
    void dropBand();
    bool pressLayerKey(const QKeyEvent& key);
    void editNote(const std::string& id, QPoint at);
    QString warningAt(const Step& shown, Kind kind) const;
    std::string noteOf(const std::string& id) const;
    /// The row of a fill's own line, when something on it is chosen; and away again, to the fill.
    void openChosenFill();
    void closeFill(const Line& line);
    /// True for a head and for the steps of a mask.
    bool isOfMasks(const board::CardPlace& card) const;
    Gap gapOf(const Line& line, std::size_t index) const;
    void take(const Offer& offer);
    void takeLayer(const Offer& offer, const std::string& behind);

    Session& m_session;
    QScrollArea& m_area;
    Finder* m_finder;
    BoardFoot* m_foot;
    board::Layout m_layout, m_before;  ///< the goal, and what was shown when it was set
    QVariantAnimation* m_slide;
    std::shared_ptr<const CardPictures> m_pictures;
    double m_zoom = 1;
    std::string m_hoverLine, m_litLine;  ///< the gap under the pointer; the shared line a flag points at
    std::size_t m_hoverGap = 0;
    bool m_hasHover = false;
    std::optional<std::string> m_litSurface;  ///< whose heading the pointer rests on
    std::vector<std::string> m_parts, m_partMaterials;
    board::LayoutOptions m_options;
    /// What m_layout was made of.
    struct LaidOut {
        Project project;
        int width;
        board::LayoutOptions options;
    };
    std::optional<LaidOut> m_laidOut;
    std::optional<Project> m_told;  ///< whose words the cards bear

    // A card under way: where it was taken, and the gap that it would go to.
    struct Drag {
        std::string step;
        QPoint press, now;
        bool moves = false;
        std::optional<std::pair<std::string, std::size_t>> target;
        std::string layer{};          ///< a band is dragged
        std::optional<int> bandTo{};  ///< and would stand at this place across the board
    };
    std::optional<Drag> m_drag;
    void dragTo(QPoint pixel);
    const board::HeadPlace* headAt(QPoint at) const;
    void paintDrag(QPainter& p) const;
};

}  // namespace kettle
