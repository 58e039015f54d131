// The drawer Checks: what looks wrong in the project, worst first, over the left of the board. A click goes
// there.
#pragma once

#include <memory>
#include <vector>

#include "app/session/session.h"
#include "app/style/drawer.h"
#include "core/analysis/checks.h"

class QLabel;
class QListWidget;
class QListWidgetItem;

namespace kettle {

class Network;

class ChecksDrawer final : public Drawer {
    Q_OBJECT

public:
    /// `over`: what the drawer slides over; its parent.
    ChecksDrawer(Session& session, QWidget* over);
    void setFindings(std::shared_ptr<const std::vector<Finding>> findings);
    /// Errors and warnings; hints are listed, but nobody needs to act on them.
    int toLookAt() const { return m_toLookAt; }
    QListWidget& list() { return *m_list; }

protected:
    void opening() override;

private:
    /// Makes the list's rows: not before somebody looks, since thousands take as long as a picture.
    void listFindings();
    void goTo(const Finding& finding);
    QString whereOf(const Finding& finding, const Network& network) const;

    Session& m_session;
    std::shared_ptr<const std::vector<Finding>> m_findings;
    QListWidget* m_list;
    QLabel* m_none;
    int m_toLookAt = 0;
    bool m_isListed = false;
};

}  // namespace kettle
