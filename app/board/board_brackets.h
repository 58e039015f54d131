// Recipes that are open on the board: a frame around their steps.
#pragma once

#include "app/board/board_layout.h"

namespace kettle::board {

/// Completes a layout of a project that is shown with open recipes: their frames, which cards are theirs, and
/// places along lines as they are without what is open.
void placeBrackets(Layout& layout, const Project& shown, const std::set<std::string>& open);

}  // namespace kettle::board
