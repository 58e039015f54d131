// The export sheet: pages for maps, materials and pictures; progress that can be stopped. The work runs on a
// thread of its own.
#pragma once

#include <QFrame>
#include <QPointer>
#include <thread>

#include "app/exporting/export_page.h"

class QButtonGroup;
class QHBoxLayout;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace kettle {

class MapsPage;
class MaterialsPage;
class PicturesPage;

class ExportSheet final : public QFrame {
    Q_OBJECT

public:
    ExportSheet(Session& session, const QStringList& environments, QWidget* parent);
    ~ExportSheet() override;
    /// Shows the sheet for the project as it is now, on the page that was open last.
    void open();
    /// The same on the page of pictures, for a sheet of these looks; of none: of all.
    void openContactSheet(const QStringList& looks = {});
    void setFolder(const QString& folder);
    bool isRunning() const { return m_running; }
    PicturesPage& pictures() { return *m_pictures; }
    MaterialsPage& materials() { return *m_materials; }
    MapsPage& maps() { return *m_maps; }
    /// Of the pages, from 0: maps, materials, pictures.
    void showPage(int index);
    QPushButton& startButton() { return *m_start; }
    QPushButton& copyButton() { return *m_copy; }

Q_SIGNALS:
    void finished(const QString& sentence, bool isError);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    /// The keyboard goes back to where it was before the sheet opened.
    void hideEvent(QHideEvent* event) override;

private:
    void addPage(ExportPage* page, const QString& name, QHBoxLayout& tabs);
    ExportPage& page() const;
    ExportPage::Work work() const;
    void fit();
    void refreshSummary();
    void start();
    void stop();
    void copyCommand();
    void end(const QString& sentence, bool isError);

    QButtonGroup* m_tabs;
    QStackedWidget* m_stack;
    MapsPage* m_maps;
    MaterialsPage* m_materials;
    PicturesPage* m_pictures;
    QLabel *m_summary, *m_doing;
    QProgressBar* m_progress;
    QPushButton *m_start, *m_close, *m_copy;
    QPointer<QWidget> m_before;  ///< what had the keyboard then
    CancelToken m_cancel;
    std::thread m_thread;
    bool m_running = false;
};

}  // namespace kettle
