// The look of the window: tokens for colours and measures, the shipped font, and the style sheet made of
// them.
#pragma once

#include <QColor>
#include <QFont>

class QApplication;
class QWidget;

namespace kettle::theme {

/// Object names of sheets and drawers, for style sheets and key handling.
inline constexpr QLatin1String kSheet("sheet"), kDrawer("drawer");

/// Pale, and Dusk for a dark room: both of neutral greys, with one accent and two colours for what is wrong.
enum class Theme { Pale, Dusk };

// The tokens of the theme in force; choose() sets them. For the window's thread.
inline QColor kPaper{0xED, 0xED, 0xED};
inline QColor kPanel{0xF4, 0xF4, 0xF4};
inline QColor kCard{0xFA, 0xFA, 0xFA};
inline QColor kHairline{0xCD, 0xCD, 0xCD};
inline QColor kEdge{0x8A, 0x8A, 0x8A};
inline QColor kInk{0x22, 0x22, 0x22};
inline QColor kQuiet{0x5C, 0x5C, 0x5C};
inline QColor kAccent{0x25, 0x66, 0x5F};
inline QColor kAmber{0x9C, 0x55, 0x00};
inline QColor kBrick{0xA3, 0x28, 0x1E};
inline QColor kShade{0xDC, 0xDC, 0xDC};  ///< filled areas of plots, tracks, what is lit
inline QColor kBand{0xE0, 0xE0, 0xE0};   ///< of a layer
inline QColor kTint{0xE2, 0xE8, 0xE7};   ///< behind what is chosen in a list

inline constexpr int kGrid = 8;
inline constexpr int kCorner = 6;
inline constexpr int kMenuPicture = 24;

/// The paper, so dense (0..255), over what is not meant.
inline QColor veil(int density) {
    QColor paper = kPaper;
    paper.setAlpha(density);
    return paper;
}

/// The theme in force, and another one: tokens, palette and style sheet change, and all windows are painted
/// anew.
Theme theme();
void choose(Theme theme);
/// A style sheet that is written with the pale theme's colours, in those of the theme in force.
QString themed(QString sheet);
/// Tells in amber, or no longer, by the style sheet: for chips that warn now and then.
void setWarning(QWidget* chip, bool warns);

/// The shipped font, for a program that paints without a window.
void loadFonts();
/// Loads the font and sets palette and style sheet.
void apply(QApplication& application);
/// The shipped font with figures of equal width; sizes in pixels.
QFont font(int pixels = 12, bool heavy = false);

}  // namespace kettle::theme
