// The window and the disk: opening, saving, bringing in, dropping, and what an empty window offers.
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QLabel>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSplitter>
#include <QUrl>

#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/library/library_drawer.h"
#include "app/looks/looks_strip.h"
#include "app/preview/model_view.h"
#include "app/style/file_choice.h"
#include "app/window/main_window.h"
#include "app/window/start_page.h"
#include "app/window/window_memory.h"

namespace kettle {
namespace {
bool isLibraryFile(const QString& path) {
    for (const char* kind : {"recipe", "layer", "ramp", "palette"})
        if (path.endsWith(QStringLiteral(".%1.json").arg(QLatin1String(kind)), Qt::CaseInsensitive))
            return true;
    return false;
}
}  // namespace

namespace {

QString filter() {
    return QObject::tr("Pale Kettle projects (*.palekettle)");
}

}  // namespace

bool MainWindow::mayLeave() {
    if (!m_session.isModified() || m_session.project().lines.empty()) return true;
    QMessageBox box(QMessageBox::NoIcon, tr("Pale Kettle"), tr("The project has changes that are not saved."),
                    QMessageBox::NoButton, this);
    auto* save = box.addButton(tr("Save"), QMessageBox::AcceptRole);
    auto* leave = box.addButton(tr("Leave without saving"), QMessageBox::DestructiveRole);
    box.addButton(tr("Stay"), QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() == save) {
        saveFile(false);
        return !m_session.isModified();
    }
    return box.clickedButton() == leave;
}

void MainWindow::openFile() {
    if (!mayLeave()) return;
    const QString file =
        chooseFile(this, tr("Open a project"), QFileInfo(m_session.filePath()).absolutePath(), filter());
    if (!file.isEmpty()) m_session.open(file);
}

/// Asks what to do about a file that should not simply be replaced. True: it is replaced.
bool MainWindow::mayReplace(const QString& file, Session::SaveConcern concern) {
    const bool isChanged = concern == Session::SaveConcern::Changed;
    const QString name = QFileInfo(file).fileName();
    QMessageBox box(
        QMessageBox::NoIcon, tr("Pale Kettle"),
        isChanged
            ? tr("%1 was changed by another window or program since it was opened here. Saving replaces "
                 "those changes.")
                  .arg(name)
            : tr("%1 is read-only.").arg(name),
        QMessageBox::NoButton, this);
    auto* saveAs = box.addButton(tr("Save under another name…"), QMessageBox::AcceptRole);
    QPushButton* reload =
        isChanged ? box.addButton(tr("Open it again, without my changes"), QMessageBox::DestructiveRole)
                  : nullptr;
    auto* replace = box.addButton(tr("Replace it"), QMessageBox::DestructiveRole);
    box.setEscapeButton(box.addButton(tr("Cancel"), QMessageBox::RejectRole));
    box.setDefaultButton(saveAs);
    box.exec();
    if (box.clickedButton() == saveAs) saveFile(true);
    if (reload != nullptr && box.clickedButton() == reload) m_session.open(file);
    return box.clickedButton() == replace;
}

void MainWindow::saveFile(bool elsewhere) {
    QString file = m_session.filePath();
    if (file.isEmpty() || elsewhere) {
        const QString start =
            file.isEmpty()
                ? QString::fromStdString((m_session.resources().folder() / "project.palekettle").string())
                : file;
        file = chooseTarget(this, tr("Save the project"), start, filter(), QStringLiteral("palekettle"));
        if (file.isEmpty()) return;
    }
    const Session::SaveConcern concern = m_session.concernOf(file);
    if (concern != Session::SaveConcern::None && !mayReplace(file, concern)) return;
    m_session.save(file);
}

void MainWindow::bringIn() {
    const QString folder = chooseFolder(this, tr("Folder of finished maps"), {});
    if (!folder.isEmpty()) take({folder});
}

void MainWindow::begin(const QStringList& files) {
    show();
    m_board->setFocus();
    if (!files.isEmpty()) take(files);
}

void MainWindow::take(const QStringList& paths) {
    for (const QString& path : paths)
        if (path.endsWith(QStringLiteral(".palekettle"), Qt::CaseInsensitive)) {
            if (mayLeave()) m_session.open(path);
            return;
        }
    if (paths.size() == 1 && isLibraryFile(paths.front())) {
        m_shelf->import(paths.front());
        return m_library->setOpen(true);
    }
    m_bring->open(paths, m_bring->isVisible());
}

void MainWindow::openDemo() {
    m_session.open(QString::fromStdString((m_data / "ferry-kitchen.palekettle").string()));
}

/// The ways in while there is nothing to work on.
void MainWindow::showStart() {
    const bool isEmpty = m_session.project().lines.empty();
    if (m_columns->isHidden() == isEmpty) return;
    if (isEmpty) m_start->setMemory(m_memory.get());
    m_start->setVisible(isEmpty);
    m_looks->setVisible(!isEmpty);
    m_columns->setVisible(!isEmpty);
    if (!isEmpty) m_board->setFocus();
}

/// The picture by which an open file is known at the next start.
void MainWindow::keepPicture() {
    if (m_isPictured || !m_memory || m_session.filePath().isEmpty() || !m_model->isCurrent()) return;
    m_isPictured = true;
    const QString file = m_memory->pictureOf(m_session.filePath());
    QDir().mkpath(QFileInfo(file).absolutePath());
    m_model->picture().scaledToHeight(184, Qt::SmoothTransformation).save(file);
}

QString MainWindow::dropWords(const QStringList& paths) const {
    const QFileInfo first(paths.front());
    for (const QString& path : paths)
        if (path.endsWith(QStringLiteral(".palekettle"), Qt::CaseInsensitive))
            return tr("Opens the project %1").arg(QFileInfo(path).fileName());
    if (paths.size() == 1 && isLibraryFile(paths.front()))
        return tr("Takes %1 into the library").arg(first.fileName());
    if (paths.size() > 1) return tr("Shows what %1 things would be brought in as").arg(paths.size());
    if (first.isDir()) return tr("Shows what the maps of %1 would be brought in as").arg(first.fileName());
    if (isModelFile(first.filePath().toStdString()))
        return tr("Shows what the model %1 would be brought in as").arg(first.fileName());
    return tr("Shows what %1 would be brought in as").arg(first.fileName());
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave()) return event->ignore();
    if (m_memory) {
        if (m_filled != nullptr) fill(m_filled);  // the divisions are those of all views
        m_memory->setShape(
            {saveGeometry(), m_columns->saveState(), m_rows->saveState(), m_previews->saveState()});
    }
    event->accept();
}

namespace {

QStringList pathsIn(const QMimeData& dragged) {
    QStringList paths;
    for (const QUrl& url : dragged.urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    return paths;
}

}  // namespace

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    const QStringList paths = pathsIn(*event->mimeData());
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    m_dropWords = dropWords(paths);
    showDropHint({});
}

/// `words`: what a drop does here; empty: what it does anywhere in the window.
void MainWindow::showDropHint(const QString& words) {
    m_dropHint->setText(words.isEmpty() ? m_dropWords : words);
    m_dropHint->adjustSize();
    m_dropHint->resize(m_dropHint->width() + 40, 44);
    m_dropHint->move((centralWidget()->width() - m_dropHint->width()) / 2, 96);
    m_dropHint->show();
    m_dropHint->raise();
}

void MainWindow::dragLeaveEvent(QDragLeaveEvent*) {
    m_dropHint->hide();
}

void MainWindow::dropEvent(QDropEvent* event) {
    m_dropHint->hide();
    const QStringList paths = pathsIn(*event->mimeData());
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    take(paths);
}

void MainWindow::addStamps() {
    const QString file =
        chooseFile(this, tr("A picture with alpha"), {},
                   tr("Pictures (*.png *.tif *.tiff *.exr *.tga *.jpg *.jpeg);;All files (*)"));
    if (!file.isEmpty()) m_session.addStamps({file});
}

}  // namespace kettle
