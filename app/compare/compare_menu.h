// The menu of what to compare with, and how.
#pragma once

#include "app/session/session.h"

class QMenu;
class QWidget;

namespace kettle {

/// Fills an empty menu. `parent`: of the file dialog.
void fillCompareMenu(QMenu& menu, Session& session, QWidget* parent);
/// The chip's words: "Compare", or with what.
QString compareWords(const Session& session);

}  // namespace kettle
