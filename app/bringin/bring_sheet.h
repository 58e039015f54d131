// The sheet for bringing in: what was found, what each picture becomes and why, and which surface it goes to.
// Everything can be changed here, and later.
#pragma once

#include <QFrame>
#include <QPointer>
#include <functional>
#include <memory>

#include "app/session/bring_reader.h"
#include "app/session/session.h"
#include "core/exchange/learnt_names.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace kettle {

class BringSheet final : public QFrame {
    Q_OBJECT

public:
    explicit BringSheet(Session& session, QWidget* parent);

    /// Reads folders, pictures and a model, and shows what would become of them. With `add` they come beside
    /// what the sheet shows already. `surface`: where the maps should go, by its name.
    void open(const QStringList& paths, bool add = false, const QString& surface = {});
    /// The same for a set whose maps are to be taken from elsewhere.
    void openInPlaceOf(const std::string& set, const QStringList& paths);
    bool isReading() const { return m_reader.isReading(); }
    /// What would be brought in now; null while it is read.
    const BringPlan* plan() const { return m_plan.get(); }
    QPushButton& acceptButton() { return *m_accept; }

    /// Asked before a new project takes the place of the open one; false: stay. Without it nobody is asked.
    void setMayLeave(std::function<bool()> mayLeave) { m_mayLeave = std::move(mayLeave); }
    /// What maps become by hand is kept in this file, for the next set of such names. Without it nothing is.
    void learnNamesIn(const std::filesystem::path& file) { m_learnt = file; }

protected:
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeFoot(QVBoxLayout& column);
    void place();
    void begin();
    void showPlan(const std::shared_ptr<const Result<BringPlan>>& plan);
    void rebuild();
    void addModel(QVBoxLayout& column);
    void addSet(QVBoxLayout& column, PlannedSet& set);
    void addLeftOut(QVBoxLayout& column);
    QComboBox* surfaceChoice(PlannedSet& set, QWidget* parent);
    void refreshSummary();
    void accept();
    /// The names that were learnt; none, with a message, if the file cannot be read.
    LearntNames learntNames();
    void learnNames();

    Session& m_session;
    BringReader m_reader;
    QStringList m_paths;
    QString m_surface;
    std::string m_replaced;  ///< the set in whose place the maps go; empty: none
    std::unique_ptr<BringPlan> m_plan;
    QLabel *m_title, *m_summary, *m_doing;
    QScrollArea* m_area;
    QProgressBar* m_progress;
    QCheckBox* m_subFolders;
    QComboBox* m_into;
    QPushButton *m_addFiles, *m_addFolder, *m_accept, *m_cancel;
    std::function<bool()> m_mayLeave;
    std::filesystem::path m_learnt;
    QPointer<QWidget> m_before;  ///< what had the keys
};

}  // namespace kettle
