// The drawer Checks: what looks wrong in the project, worst first, over the left of the board. A click goes
// there.
#pragma once

#include <QFrame>
#include <memory>
#include <vector>

#include "app/session/session.h"
#include "core/analysis/checks.h"

class QLabel;
class QListWidget;
class QListWidgetItem;
class QPropertyAnimation;

namespace kettle {

class ChecksDrawer final : public QFrame {
    Q_OBJECT

public:
    /// `over`: what the drawer slides over; its parent.
    ChecksDrawer(Session& session, QWidget* over);
    void setFindings(std::shared_ptr<const std::vector<Finding>> findings);
    /// Errors and warnings; hints are listed, but nobody needs to act on them.
    int toLookAt() const { return m_toLookAt; }
    bool isOpen() const { return m_isOpen; }
    void setOpen(bool open);
    QListWidget& list() { return *m_list; }

Q_SIGNALS:
    void changed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void place();
    void goTo(const Finding& finding);
    QString whereOf(const Finding& finding) const;

    Session& m_session;
    std::shared_ptr<const std::vector<Finding>> m_findings;
    QListWidget* m_list;
    QLabel* m_none;
    QPropertyAnimation* m_slide;
    int m_toLookAt = 0;
    bool m_isOpen = false;
};

}  // namespace kettle
