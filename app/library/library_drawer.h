// The drawer Library: recipes, layers, ramps and palettes as pictures, made on the line that is chosen. A
// double click or Enter takes one, dragging puts it into a gap; a folder of maps dropped on a layer fills it.
#pragma once

#include <QListView>

#include "app/library/library_model.h"
#include "app/library/library_shelf.h"
#include "app/pictures/picture_service.h"
#include "app/session/session.h"
#include "app/style/drawer.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace kettle {

/// The list: folders may be dropped on what takes them, and files of a library anywhere.
class LibraryList final : public QListView {
    Q_OBJECT

public:
    using QListView::QListView;

Q_SIGNALS:
    void folderDropped(const QModelIndex& index, const QString& folder);
    void fileDropped(const QString& file);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    bool takes(const QDropEvent& event) const;
};

class LibraryDrawer final : public Drawer {
    Q_OBJECT

public:
    LibraryDrawer(Session& session, PictureService& pictures, LibraryShelf& shelf, QWidget* over);
    LibraryList& list() { return *m_list; }
    LibraryModel& model() { return *m_model; }
    QLineEdit& search() { return *m_search; }
    void showKind(EntryKind kind);
    /// Chooses the entry of a name and kind as soon as it is there.
    void point(EntryKind kind, const QString& name);

protected:
    void opening() override;

private:
    QWidget* makeTop();
    QWidget* makeFoot();
    void fill();
    void askPictures();
    void take(const QModelIndex& index);
    void openMenu(QPoint at);
    void openMore();
    void chooseImport();
    void chooseExport();
    void chooseTeamFolder();
    void refreshFoot();
    QModelIndex current() const;

    Session& m_session;
    PictureService& m_pictures;
    LibraryShelf& m_shelf;
    LibraryModel* m_model;
    LibraryList* m_list;
    QLineEdit* m_search;
    std::vector<std::pair<EntryKind, QToolButton*>> m_kinds;
    QLabel *m_words, *m_none;
    QPushButton* m_take;
    QTimer* m_soon;
    quint64 m_asked = 0;
    std::string m_tried;  ///< the step behind which pictures were made
    EntryKind m_kind = EntryKind::Recipe;
    QString m_pointed;
};

}  // namespace kettle
