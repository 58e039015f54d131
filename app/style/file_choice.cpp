#include "app/style/file_choice.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QTreeView>

namespace kettle {
namespace {

QString choose(QFileDialog& dialog, const QString& start) {
    const QFileInfo at(start);
    if (!start.isEmpty()) {
        dialog.setDirectory(at.isDir() ? at.absoluteFilePath() : at.absolutePath());
        if (!at.isDir()) dialog.selectFile(at.fileName());
    }
    dialog.resize(860, 520);
    if (auto* list = dialog.findChild<QTreeView*>(QStringLiteral("treeView"))) {
        list->header()->resizeSection(0, 330);
        list->header()->resizeSection(1, 90);
        list->header()->resizeSection(2, 80);
        list->header()->resizeSection(3, 170);
    }
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return {};
    return dialog.selectedFiles().front();
}

}  // namespace

QString chooseFile(QWidget* parent, const QString& title, const QString& start, const QString& filter) {
    QFileDialog dialog(parent, title, {}, filter);
    dialog.setFileMode(QFileDialog::ExistingFile);
    return choose(dialog, start);
}

QString chooseFolder(QWidget* parent, const QString& title, const QString& start) {
    QFileDialog dialog(parent, title);
    dialog.setFileMode(QFileDialog::Directory);
    dialog.setOption(QFileDialog::ShowDirsOnly);
    return choose(dialog, start);
}

QString chooseTarget(QWidget* parent, const QString& title, const QString& start, const QString& filter,
                     const QString& suffix) {
    QFileDialog dialog(parent, title, {}, filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setFileMode(QFileDialog::AnyFile);
    dialog.setDefaultSuffix(suffix);
    return choose(dialog, start);
}

}  // namespace kettle
