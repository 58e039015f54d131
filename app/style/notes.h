// Notes: the small leaf that marks one, and the field in which it is written.
#pragma once

#include <QPoint>
#include <QPointF>
#include <QString>
#include <functional>

class QPainter;
class QWidget;

namespace kettle::theme {

/// A small leaf with lines, about a place: somebody wrote something here.
void drawNote(QPainter& p, QPointF middle);

/// A field over a widget, at a place of it, with the note that is there. Enter hands the text to `keep`, Esc
/// or going elsewhere leaves it; the field then goes by itself.
void editNote(QWidget& on, QPoint at, const QString& note, std::function<void(const QString&)> keep);

}  // namespace kettle::theme
