// What the program is, its version, and whose work it stands on.
#pragma once

class QWidget;

namespace kettle {

/// Shows it over the window; it does not hold anything up.
void showAbout(QWidget* window);

}  // namespace kettle
