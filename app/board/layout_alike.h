// Whether the board has to be laid out anew: not where only a number of a step changed.
#pragma once

#include "app/board/board_layout.h"

namespace kettle::board {

/// True if two editions of a project certainly have the same layout. Takes little where they share their
/// lines, as editions do.
bool laysOutAlike(const Project& a, const Project& b);
/// The same of what is folded, opened and left out; the steps that are known follow the project.
bool laysOutAlike(const LayoutOptions& a, const LayoutOptions& b);

}  // namespace kettle::board
