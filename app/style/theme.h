// The look of the window: tokens for colours and measures, the shipped font, and the style sheet made of
// them.
#pragma once

#include <QColor>
#include <QFont>

class QApplication;

namespace kettle::theme {

inline const QColor kPaper{0xED, 0xED, 0xED};
inline const QColor kPanel{0xF4, 0xF4, 0xF4};
inline const QColor kCard{0xFA, 0xFA, 0xFA};
inline const QColor kHairline{0xCD, 0xCD, 0xCD};
inline const QColor kEdge{0x8A, 0x8A, 0x8A};
inline const QColor kInk{0x22, 0x22, 0x22};
inline const QColor kQuiet{0x5C, 0x5C, 0x5C};
inline const QColor kAccent{0x25, 0x66, 0x5F};
inline const QColor kAmber{0xA4, 0x5A, 0x00};
inline const QColor kBrick{0xA3, 0x28, 0x1E};

inline constexpr int kGrid = 8;
inline constexpr int kCorner = 6;
inline constexpr int kMenuPicture = 24;

/// The shipped font, for a program that paints without a window.
void loadFonts();
/// Loads the font and sets palette and style sheet.
void apply(QApplication& application);
/// The shipped font with figures of equal width; sizes in pixels.
QFont font(int pixels = 12, bool heavy = false);

}  // namespace kettle::theme
