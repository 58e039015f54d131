// Autosave and recovery: a copy of unsaved work in a folder of the program's own, at most kSeconds old. A
// clean end removes it; what is left belongs to a program that did not end cleanly, and the next start offers
// it.
#pragma once

#include <QDateTime>
#include <QLockFile>
#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <optional>
#include <vector>

#include "app/session/session.h"

namespace kettle {

class Autosave final : public QObject {
    Q_OBJECT

public:
    static constexpr int kSeconds = 20;

    /// What another run left behind.
    struct Left {
        QString record;  ///< the file that holds it
        QString file;    ///< the project it belongs to; empty for one that was never saved
        QString folder;  ///< what its paths are relative to
        QDateTime saved;
        Project project;
    };

    /// `folder`: where records lie; made if needed.
    Autosave(Session& session, QString folder, QObject* parent = nullptr);
    ~Autosave() override;

    /// The newest record of a run that is no longer alive.
    std::optional<Left> left() const;
    /// Removes a record for good.
    void discard(const Left& left);
    /// Writes now if there is anything unsaved; else removes the own record. The timer calls it.
    void saveNow();
    static QString standardFolder();

private:
    QString recordPath() const;
    Session& m_session;
    QString m_folder, m_name;
    std::unique_ptr<QLockFile> m_lock;
    QTimer m_timer;
    Project m_savedProject;
    bool m_hasRecord = false;
};

}  // namespace kettle
