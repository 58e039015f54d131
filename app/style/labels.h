// Short texts that are painted again and again: laid out once and kept.
#pragma once

#include <QRectF>
#include <QString>

class QPainter;

namespace kettle::theme {

/// One line of text in the painter's pen, from the left of `room`, in its middle, elided to its width.
/// `pixels` and `heavy` as theme::font. Laying a text out takes longer than painting a card; what was laid
/// out is kept (a few thousand texts). For the window's thread.
void drawLabel(QPainter& p, const QRectF& room, const QString& text, int pixels = 12, bool heavy = false);

/// How wide a text is, in pixels; kept as well.
double labelWidth(const QString& text, int pixels = 12, bool heavy = false);

/// The same words for a label that wraps: a long path may break behind its slashes, and a long name anywhere,
/// so that neither pushes what stands beside it out of the window.
QString breakable(const QString& words);

}  // namespace kettle::theme
