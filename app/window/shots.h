// Takes the pictures of docs/screenshots: walks through the main views of the demo project and saves each.
#pragma once

#include <QString>

namespace kettle {

class MainWindow;

/// Returns true if every picture was taken and saved.
bool takeShots(MainWindow& window, const QString& folder);

}  // namespace kettle
