// Autosave and recovery: a copy of unsaved work in a folder of the program's own, at most kSeconds old. A
// clean end removes it; what is left belongs to a program that did not end cleanly, and the next start offers
// it.
#pragma once

#include <QDateTime>
#include <QLockFile>
#include <QObject>
#include <QString>
#include <QTimer>
#include <atomic>
#include <memory>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "app/session/session.h"

namespace kettle {

class Autosave final : public QObject {
    Q_OBJECT

public:
    /// What another run left behind.
    struct Left {
        QString record;  ///< the file that holds it
        QString file;    ///< the project it belongs to; empty for one that was never saved
        QString folder;  ///< what its paths are relative to
        QDateTime saved;
        Project project;
    };

    /// `folder`: where records lie; made if needed. `every`: how often the clock writes.
    Autosave(Session& session, QString folder, std::chrono::milliseconds every = std::chrono::seconds(20),
             QObject* parent = nullptr);
    ~Autosave() override;

    /// The newest record of a run that is no longer alive.
    std::optional<Left> left() const;
    /// Removes a record for good.
    void discard(const Left& left);
    /// Writes now if there is anything unsaved; else removes the own record. True if the record then holds
    /// the project as it is, or need not.
    bool saveNow();
    /// The same on a thread of its own, so that the window does not wait for a slow disk. The timer calls it.
    void saveBehind();
    static QString standardFolder();

private:
    QString recordPath() const;
    /// The record's bytes if one has to be written now; the own record is removed if there is nothing
    /// unsaved.
    std::optional<std::string> wanted();
    void removeLeftovers() const;
    Session& m_session;
    QString m_folder, m_name;
    std::unique_ptr<QLockFile> m_lock;
    QTimer m_timer;
    std::thread m_writer;
    std::atomic<bool> m_isWriting{false}, m_isWritten{true};
    std::uint64_t m_recordRevision = 0;  ///< of what the record holds; 0: there is none
};

}  // namespace kettle
