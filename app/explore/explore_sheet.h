// The sheet of live candidates: one control across, one down, or several free; taken, or kept as looks.
#pragma once

#include <QFrame>
#include <QPointer>
#include <functional>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"
#include "core/analysis/explore.h"

class QLabel;
class QPushButton;
class QToolButton;

namespace kettle {

class AxisBar;
class CandidateGrid;
class ValueSlider;

class ExploreSheet final : public QFrame {
    Q_OBJECT

public:
    ExploreSheet(Session& session, PictureService& pictures, QWidget* parent);
    /// From where the candidates are seen: a camera for a picture of this width / height.
    void setView(std::function<Camera(double aspect)> view) { m_view = std::move(view); }

    /// Opens on what is chosen: the first control of the chosen step across, of a second one down.
    void open();
    /// Opens with a control along a side; the other side stays as it was, if the sheet is open.
    void explore(const std::string& step, const std::string& control, bool down);
    const ExplorePlan& plan() const { return m_plan; }
    CandidateGrid& grid() { return *m_grid; }
    AxisBar& across() { return *m_across; }
    AxisBar& down() { return *m_down; }
    QToolButton& freeButton() { return *m_free; }
    /// True when all candidates are shown as fine as they get.
    bool isCurrent() const { return m_isCurrent; }

Q_SIGNALS:
    /// A contact sheet of these looks; of none: of all.
    void sheetWanted(const QStringList& looks);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeFreeBar();
    void begin();
    void change(const std::function<void(ExplorePlan&)>& edit);
    void setFree(bool on);
    void fillFreeMenu();
    void refresh();
    void ask();
    void take(int index);
    /// The looks that come of it.
    QStringList keep();
    void tellState(const QString& problem);

    Session& m_session;
    PictureService& m_pictures;
    std::function<Camera(double)> m_view;
    ExplorePlan m_plan;
    QLabel *m_about, *m_state, *m_none;
    AxisBar *m_across, *m_down;
    QToolButton *m_free, *m_freeChip;
    QWidget* m_freeBar;
    ValueSlider* m_spread = nullptr;
    QPushButton *m_sheet, *m_close;
    CandidateGrid* m_grid;
    std::uint64_t m_asked = 0;
    bool m_isCurrent = false;
    QPointer<QWidget> m_before;  ///< what had the keys
};

}  // namespace kettle
