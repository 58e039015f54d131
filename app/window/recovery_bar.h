// The offer of unsaved work after a run that did not end cleanly: open it or throw it away. Stays until
// answered.
#pragma once

#include <QFrame>

class QLabel;

namespace kettle {

class Autosave;
class Session;

class RecoveryBar final : public QFrame {
    Q_OBJECT

public:
    RecoveryBar(Session& session, QWidget* parent);
    /// Shows itself if there is anything to offer.
    void offer(Autosave& autosave);

private:
    void answer(bool open);
    Session& m_session;
    Autosave* m_autosave = nullptr;
    QLabel* m_text;
};

}  // namespace kettle
