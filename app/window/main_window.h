// The main window: puts the views together and joins them to the session and the pictures. It holds no state
// of its own but the layout.
#pragma once

#include <QMainWindow>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

class QAction;
class QLabel;
class QScrollArea;
class QSplitter;
class QTimer;
class QToolButton;

namespace kettle {

class BoardView;
class ExportSheet;
class ChecksDrawer;
class ExploreSheet;
class HistoryList;
class LibraryDrawer;
class LibraryShelf;
class ObjectsDrawer;
class PackSheet;
class SearchList;
class FlatView;
class LooksStrip;
class BoardKeys;
class BringSheet;
class MessageBar;
class Report;
class StartPage;
class PinnedProbes;
class PlaceMenu;
class Autosave;
class WindowMemory;
class RecoveryBar;
class ModelView;
class TunerView;

class MainWindow final : public QMainWindow {
    Q_OBJECT

public:
    /// dataFolder: the one with models/ and environments/.
    explicit MainWindow(const std::filesystem::path& dataFolder, QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return m_session; }
    PictureService& pictures() { return *m_pictures; }
    BoardView& board() { return *m_board; }
    ModelView& model() { return *m_model; }
    FlatView& flat() { return *m_flat; }
    TunerView& tuner() { return *m_tuner; }
    LooksStrip& looks() { return *m_looks; }
    ExportSheet& exportSheet() { return *m_export; }
    BringSheet& bringSheet() { return *m_bring; }
    HistoryList& history() { return *m_history; }
    PinnedProbes& pins() { return *m_pins; }
    ChecksDrawer& checks() { return *m_checks; }
    LibraryShelf& libraryShelf() { return *m_shelf; }
    LibraryDrawer& library() { return *m_library; }
    ObjectsDrawer& objects() { return *m_objects; }
    PackSheet& packSheet() { return *m_pack; }
    ExploreSheet& explore() { return *m_explore; }
    PlaceMenu& placeMenu() { return *m_placeMenu; }
    /// Keeps unsaved work in a folder from now on, and offers what an earlier run left there.
    void keepUnsavedWork(const QString& folder);
    /// What maps become by hand at an import is kept in this file, for the next set of such names.
    void learnNamesIn(const std::filesystem::path& file);
    /// Takes up what an earlier window left in a file (window_memory.h), and keeps it there from now on.
    void remember(const QString& file);
    /// What is told as an error goes into a file from now on.
    void keepLog(const QString& file);
    /// Takes maps and models from what lies prepared there, and keeps what is read; the user's cache.
    void prepareIn(const std::filesystem::path& folder);
    Autosave* autosave() { return m_autosave.get(); }
    /// Shows the window with what the program was started with, the keys on the board.
    void begin(const QStringList& files);
    /// What was dropped, or given when the program was started: a project is opened, all else goes to the
    /// sheet.
    void take(const QStringList& paths);
    /// True if every view shows the newest and finest picture.
    bool isSettled() const;

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeViews();
    void makeMenus();
    void fillConfigurationMenu(QMenu* menu);
    void fillRecentMenu();
    void makeHelpMenu();
    void setDusk(bool on);
    void connectViews();
    // Library and objects (main_window_library.cpp).
    void makeLibrary(QWidget* page);
    void connectLibrary();
    // The sheet of candidates (main_window_deciding.cpp).
    void makeDeciding(QWidget* page);
    void connectDeciding();
    void chooseObject(const QString& part);
    void keepRecipe(const QString& id);
    void updateRecipe(const QString& id);
    void askPictures();
    void fill(QWidget* view);
    void openFile();
    bool mayReplace(const QString& file, Session::SaveConcern concern);
    void saveFile(bool elsewhere);
    void bringIn();
    void openDemo();
    void showStart();
    void keepPicture();
    QString dropWords(const QStringList& paths) const;
    void showDropHint(const QString& words);
    void lightSurface(const QString& surface);
    /// A layer from a picture with alpha, which is chosen.
    void addStamps();
    void goToSurface(const QString& part);
    bool mayLeave();
    void refreshTitle();
    void refreshStatus();
    void refreshChecks();
    void probe(double u, double v);
    void showProbe(const ProbeAnswer& answer);

    Session m_session;
    std::unique_ptr<PictureService> m_pictures;
    QStringList m_modelNames, m_environmentNames;
    QSplitter *m_columns, *m_rows, *m_previews;
    LooksStrip* m_looks;
    ModelView* m_model;
    FlatView* m_flat;
    QScrollArea* m_boardArea;
    BoardView* m_board;
    TunerView* m_tuner;
    ExportSheet* m_export;
    BringSheet* m_bring;
    StartPage* m_start;
    QString m_dropWords;
    QLabel* m_dropHint;  ///< what a drop would do, while something is dragged over the window
    std::filesystem::path m_data;
    MessageBar* m_message;
    HistoryList* m_history;
    SearchList* m_search;
    ChecksDrawer* m_checks;
    QToolButton* m_checksChip;
    LibraryShelf* m_shelf;
    LibraryDrawer* m_library;
    ObjectsDrawer* m_objects;
    PackSheet* m_pack;
    ExploreSheet* m_explore;
    QToolButton *m_libraryChip, *m_objectsChip;
    PinnedProbes* m_pins = nullptr;
    PlaceMenu* m_placeMenu = nullptr;
    std::optional<QPointF> m_pointed;  ///< where the pointer was last in a picture
    RecoveryBar* m_recovery;
    std::unique_ptr<Autosave> m_autosave;
    std::unique_ptr<WindowMemory> m_memory;
    QMenu* m_recent = nullptr;
    Report* m_report = nullptr;
    QAction* m_dusk = nullptr;
    QLabel *m_shownLabel, *m_probeLabel, *m_memoryLabel;
    QAction *m_undo, *m_redo;
    QWidget* m_filled = nullptr;
    bool m_isPictured = false;  ///< the open file's picture is kept
    quint64 m_boardAsked = 0, m_boardShown = 0, m_checksAsked = 0;
    QTimer* m_looksTimer;
};

}  // namespace kettle
