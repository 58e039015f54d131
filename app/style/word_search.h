// Typing in a box of choices finds a choice by any word of it: "metal" finds "R metalness".
#pragma once

class QComboBox;

namespace kettle {

/// Gives the box a list that is searched so. Call it before the box gets its choices.
void searchByWords(QComboBox& box);

}  // namespace kettle
