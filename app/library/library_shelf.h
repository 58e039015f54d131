// The library as the program has it: what is shipped, the artist's own, and the folders of a team. Read
// beside everything else, and read again when something changes on the disk.
#pragma once

#include <QImage>
#include <QObject>
#include <QStringList>
#include <memory>
#include <vector>

#include "core/exchange/library.h"

class QFileSystemWatcher;
class QThreadPool;
class QTimer;

namespace kettle {

class LibraryShelf final : public QObject {
    Q_OBJECT

public:
    /// `shipped`: its folder, which is only read.
    explicit LibraryShelf(std::filesystem::path shipped, QObject* parent = nullptr);
    ~LibraryShelf() override;
    /// What is there as it was last read; empty before.
    const std::vector<LibraryEntry>& entries() const { return *m_entries; }
    bool isReading() const { return m_reading; }
    /// Reads everything; changed() tells when it is there.
    void read();
    /// Where the artist's own entries lie; at first the standard folder.
    const std::filesystem::path& ownFolder() const { return m_own; }
    void setOwnFolder(std::filesystem::path folder);
    static std::filesystem::path standardFolder();
    /// Further folders, whose files are only read.
    const QStringList& teamFolders() const { return m_team; }
    void setTeamFolders(const QStringList& folders);
    /// Keeps, imports, removes; what goes wrong is told.
    bool keep(const LibraryEntry& entry, const QImage& picture = {});
    bool import(const QString& file);
    bool forget(const LibraryEntry& entry);
    /// The recipe of a name, the artist's own before a team's before a shipped one; null if there is none.
    const Recipe* recipe(const std::string& name) const;
    /// All recipes that can be read.
    std::vector<Shared<Recipe>> recipes() const;

Q_SIGNALS:
    void changed();
    void told(const QString& sentence, bool isError);

private:
    std::vector<LibraryFolder> folders() const;
    void watch();

    std::filesystem::path m_shipped, m_own = standardFolder();
    QStringList m_team;
    std::shared_ptr<const std::vector<LibraryEntry>> m_entries;
    QFileSystemWatcher* m_watcher;
    QTimer* m_soon;
    /// Its own: Qt paints with the threads of the common pool, and a team's folder may be slow to read.
    QThreadPool* m_reader;
    bool m_reading = false, m_again = false;
};

}  // namespace kettle
