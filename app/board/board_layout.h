// Where everything on the board lies: a pure function of the project, without a window. Lines run left to
// right; the layout is computed, nobody places anything. Units are pixels at zoom 1.
#pragma once

#include <QPoint>
#include <QRect>
#include <QString>
#include <set>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/steps/catalogue.h"

namespace kettle::board {

inline constexpr int kHeadWidth = 120, kLeft = 132, kTop = 16;
inline constexpr int kCardWidth = 104, kCardHeight = 88, kGap = 40, kThumbHeight = 50;
inline constexpr int kFoldedHeight = 34;
inline constexpr int kSmallCardHeight = 58, kSmallThumbHeight = 34;
inline constexpr int kSlimHeight = 36, kSlimWidth = 42, kSlimThumbHeight = 30, kSlimGap = 2;
inline constexpr int kHeadingHeight = 30;
inline constexpr int kHeadHeight = 54, kBandPad = 8, kBandWidth = kCardWidth + 2 * kBandPad, kFoldedBand = 56;
inline constexpr int kMaskGap = 14;
inline constexpr int kRibbonHeight = 14, kRowGap = 20, kSideGap = 24, kCapWidth = 22;

inline constexpr std::size_t kNoGap = static_cast<std::size_t>(-1);

/// A card. A small one belongs to a line that hangs below the one card that reads it; a slim one is the
/// source of a line that has nothing else: its picture alone; so is a step of a layer's mask. A fill stands
/// in its layer's band, slim where the line is; the head at the band's top.
struct CardPlace {
    std::string line, step;
    std::size_t index = 0;
    QRect rect;
    bool isSmall = false, isSlim = false, isFill = false, isHead = false;
    bool isInner = false;  ///< a step of an open recipe
};
/// An open recipe: its steps, and what hangs below them, up to its own card.
struct BracketPlace {
    std::string step;
    QRect rect;
};
/// A layer: an upright band from its head down to the last line that it covers.
struct BandPlace {
    std::string layer, head;
    QRect rect;
    bool isFolded = false;  ///< its head alone
};
/// A stretch of ribbon; painted with the tones after `step`.
struct RibbonPlace {
    std::string line, step;
    QRect rect;
    std::size_t gapIndex = 0;  ///< where a step that is added here goes; kNoGap: none can be added
};
/// The rounded elbow from a side line up into the card that it feeds.
struct ElbowPlace {
    std::string step;   ///< whose tones it carries
    std::string owner;  ///< the step it feeds
    QString name;       ///< the feed's name
    QPoint from, to;
};
/// A flag at a card: this feed comes from a shared line, a tap or a constant.
struct FlagPlace {
    std::string owner, feed, line;
    QString text;
    QRect rect;
};
struct HeadPlace {
    std::string line;
    QRect rect;
    bool isFolded = false, isSlim = false;
};
/// The heading of a surface over its lines, or with "" of the shared ones.
struct HeadingPlace {
    std::string surface;
    QRect rect;
    bool isFolded = false;
};
struct CapPlace {
    std::string line, step;
    QRect rect;
};

struct Layout {
    std::vector<CardPlace> cards;
    std::vector<RibbonPlace> ribbons;
    std::vector<ElbowPlace> elbows;
    std::vector<FlagPlace> flags;
    std::vector<HeadPlace> heads;
    std::vector<HeadingPlace> headings;  ///< of a project with more than one surface
    std::vector<CapPlace> caps;
    std::vector<BandPlace> bands;
    std::vector<BracketPlace> brackets;
    std::vector<QRect> maskRows;  ///< the rows of masks and heads
    QSize size;
    int narrowest = 0;  ///< for less width to fill the layout is the same

    const CardPlace* cardOf(const std::string& step) const;
};

struct LayoutOptions {
    std::set<std::string> folded;  ///< lines that show their head and their end alone
    std::set<std::string> foldedSurfaces;
    std::set<std::string> foldedBands;  ///< layers of which the head alone is shown
    std::set<std::string> openFills;    ///< fills' own lines that have a row
    std::set<std::string> openRecipes;  ///< steps that are one, and that the project shows opened
    bool onlyWorked = false;            ///< leaves out lines that nothing was done to: a source and no more
    Catalogue steps = shippedSteps();
};

/// Places of steps along their lines (CardPlace::index, RibbonPlace::gapIndex) are those of the project
/// without what is open. `width` is how much there is to fill: the caps stand at its right edge unless a line
/// is longer.
Layout layOut(const Project& project, int width, const LayoutOptions& options = {});

/// The layout on the way from one to another, t in 0..1: what is in both slides, what is new stands at its
/// place. Hit tests use the goal; this is only painted.
Layout between(const Layout& from, const Layout& to, double t);

/// True for a line that is shown as slim as can be: a source that reads nothing, and no more but fills.
bool isSlim(const Line& line);

/// The lines that are read by exactly one feed, whole, and drive no channel: each hangs below its reader.
/// Layers and what fills lay are none of them.
std::set<std::string> sideLines(const Project& project);
/// The lines that one fill alone lays: shown in its card.
std::set<std::string> fillLines(const Project& project);

}  // namespace kettle::board
