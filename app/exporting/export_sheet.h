// The export sheet: what, as what, where to; then progress that can be stopped. The work runs on a thread of
// its own.
#pragma once

#include <QFrame>
#include <QPointer>
#include <memory>
#include <thread>

#include "app/session/session.h"
#include "core/exchange/export.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace kettle {

class ExportSheet final : public QFrame {
    Q_OBJECT

public:
    ExportSheet(Session& session, QWidget* parent);
    ~ExportSheet() override;
    /// Shows the sheet for the project as it is now.
    void open();
    void setFolder(const QString& folder);
    bool isRunning() const { return m_running; }

Q_SIGNALS:
    void finished(const QString& sentence, bool isError);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    /// The keyboard goes back to where it was before the sheet opened.
    void hideEvent(QHideEvent* event) override;

private:
    void fillLists();
    ExportOptions options() const;
    void refreshSummary();
    void start();
    void stop();
    void end(const QString& sentence, bool isError);

    Session& m_session;
    QVBoxLayout *m_lookList, *m_surfaceList, *m_channelList;
    QLabel* m_surfaceTitle;  ///< shown with its list where there are several
    std::vector<std::pair<std::string, QCheckBox*>> m_looks, m_surfaces, m_channels;
    QComboBox *m_format, *m_size, *m_compression;
    QLineEdit *m_folder, *m_pattern;
    QCheckBox* m_eachObject;  ///< shown where lines differ from object to object
    QLabel *m_summary, *m_doing;
    QProgressBar* m_progress;
    QPushButton *m_start, *m_close;
    QString m_usualPattern;      ///< what the name was when nobody had typed one
    QPointer<QWidget> m_before;  ///< what had the keyboard then
    CancelToken m_cancel;
    std::thread m_thread;
    bool m_running = false;
};

}  // namespace kettle
