// The board: all lines with their cards and tone ribbons. Paints what the layout says; every action goes to
// the session.
#pragma once

#include <QScrollArea>
#include <QVariantAnimation>
#include <QWidget>
#include <optional>

#include "app/board/board_layout.h"
#include "app/pictures/picture_service.h"
#include "app/session/session.h"

namespace kettle {

class Finder;

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
    /// Folds a line away or shows it again; a look at the board, not a change of the project.
    void toggleFold(const std::string& line);
    void setOnlyWorked(bool only);
    /// The zoom at which everything is seen.
    void fitAll();
    QRect headRect(const std::string& line) const;

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
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void updateSize();
    /// What is painted now: the goal, or on the way to it.
    board::Layout shownLayout() const;
    void dropFile(const QString& file, const board::RibbonPlace& ribbon);
    void setZoom(double zoom);
    QPoint toBoard(QPoint pixel) const;
    QRect toPixels(const QRect& rect) const;
    const board::CardPlace* cardAt(QPoint at) const;
    const board::RibbonPlace* ribbonAt(QPoint at) const;
    const board::FlagPlace* flagAt(QPoint at) const;
    QPoint plusCentre(const board::RibbonPlace& ribbon) const;
    void openFinderAt(const board::RibbonPlace& ribbon);
    void walk(int dx, int dy);
    void ensureVisible(const std::string& step);
    QString nameOf(const Step& shown) const;
    /// The one value under a card's name.
    QString tellingOf(const Step& shown, Kind kind) const;
    void tellFocus();

    void paintRibbon(QPainter& p, const QRect& rect, const std::string& step) const;
    void paintCard(QPainter& p, const board::CardPlace& card) const;
    void paintHead(QPainter& p, const board::HeadPlace& head) const;
    void paintElbow(QPainter& p, const board::ElbowPlace& elbow) const;
    void paintFlag(QPainter& p, const board::FlagPlace& flag) const;
    void paintCap(QPainter& p, const board::CapPlace& cap) const;
    const CardPicture* pictureOf(const std::string& step) const;

    Session& m_session;
    QScrollArea& m_area;
    Finder* m_finder;
    board::Layout m_layout, m_before;  ///< the goal, and what was shown when it was set
    QVariantAnimation* m_slide;
    std::shared_ptr<const CardPictures> m_pictures;
    double m_zoom = 1;
    std::string m_hoverLine, m_litLine;  ///< the gap under the pointer; the shared line a flag points at
    std::size_t m_hoverGap = 0;
    bool m_hasHover = false;
    board::LayoutOptions m_options;

    // A card under way: where it was taken, and the gap that it would go to.
    struct Drag {
        std::string step;
        QPoint press, now;
        bool moves = false;
        std::optional<std::pair<std::string, std::size_t>> target;
    };
    std::optional<Drag> m_drag;
    void dragTo(QPoint pixel);
    const board::HeadPlace* headAt(QPoint at) const;
    void paintDrag(QPainter& p) const;
};

}  // namespace kettle
