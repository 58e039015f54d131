// The history as a list: every edit by its name, the newest at the bottom. Click one to go there.
#pragma once

#include <QFrame>

#include "app/session/session.h"

class QListWidget;

namespace kettle {

class HistoryList final : public QFrame {
    Q_OBJECT

public:
    HistoryList(Session& session, QWidget* parent);
    void open();
    QListWidget& list() { return *m_list; }

private:
    void fill();
    Session& m_session;
    QListWidget* m_list;
};

}  // namespace kettle
