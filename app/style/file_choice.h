// Choosing files and folders: the desktop's own dialog where it has one, else Qt's with room for its columns.
#pragma once

#include <QString>

class QWidget;

namespace kettle {

/// Each answers with an absolute path, or an empty text if nothing was chosen. `start`: a folder or file to
/// begin at; empty: the current folder.
QString chooseFile(QWidget* parent, const QString& title, const QString& start, const QString& filter);
QString chooseFolder(QWidget* parent, const QString& title, const QString& start);
/// Asks before an existing file is taken. `suffix` is added to a name without one.
QString chooseTarget(QWidget* parent, const QString& title, const QString& start, const QString& filter,
                     const QString& suffix);

}  // namespace kettle
