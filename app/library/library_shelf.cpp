#include "app/library/library_shelf.h"

#include <QBuffer>
#include <QDir>
#include <QFileInfo>
#include <QFileSystemWatcher>
#include <QPointer>
#include <QStandardPaths>
#include <QThreadPool>
#include <QTimer>

#include "core/base/files.h"

namespace kettle {

LibraryShelf::LibraryShelf(std::filesystem::path shipped, QObject* parent)
    : QObject(parent),
      m_shipped(std::move(shipped)),
      m_entries(std::make_shared<const std::vector<LibraryEntry>>()),
      m_watcher(new QFileSystemWatcher(this)),
      m_soon(new QTimer(this)),
      m_reader(new QThreadPool(this)) {
    m_reader->setMaxThreadCount(1);
    // Several files often change together.
    m_soon->setSingleShot(true);
    m_soon->setInterval(150);
    connect(m_soon, &QTimer::timeout, this, &LibraryShelf::read);
    for (const auto signal : {&QFileSystemWatcher::directoryChanged, &QFileSystemWatcher::fileChanged})
        connect(m_watcher, signal, m_soon, qOverload<>(&QTimer::start));
}

LibraryShelf::~LibraryShelf() {
    m_reader->waitForDone();
}

std::filesystem::path LibraryShelf::standardFolder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString();
}

std::vector<LibraryFolder> LibraryShelf::folders() const {
    std::vector<LibraryFolder> folders{{m_shipped, EntryOrigin::Shipped}};
    for (const QString& team : m_team) folders.push_back({team.toStdString(), EntryOrigin::Team});
    folders.push_back({m_own, EntryOrigin::Own});
    return folders;
}

void LibraryShelf::setOwnFolder(std::filesystem::path folder) {
    m_own = std::move(folder);
    read();
}

void LibraryShelf::setTeamFolders(const QStringList& folders) {
    if (folders == m_team) return;
    m_team = folders;
    read();
}

void LibraryShelf::read() {
    if (m_reading) {
        m_again = true;
        return;
    }
    m_reading = true;
    const QPointer<LibraryShelf> self(this);
    m_reader->start([self, folders = folders()] {
        auto entries = std::make_shared<const std::vector<LibraryEntry>>(readLibrary(folders));
        QMetaObject::invokeMethod(
            qApp,
            [self, entries] {
                if (self == nullptr) return;
                self->m_reading = false;
                self->m_entries = entries;
                self->watch();
                Q_EMIT self->changed();
                if (std::exchange(self->m_again, false)) self->read();
            },
            Qt::QueuedConnection);
    });
}

void LibraryShelf::watch() {
    if (const QStringList before = m_watcher->directories() + m_watcher->files(); !before.isEmpty())
        m_watcher->removePaths(before);
    QStringList paths;
    for (const LibraryFolder& folder : folders()) {
        if (folder.origin == EntryOrigin::Shipped) continue;
        paths << QString::fromStdString(folder.folder.string());
        for (const EntryKind kind : entryKinds())
            paths << QString::fromStdString((folder.folder / folderOf(kind)).string());
    }
    // A file that is written again where it lies is seen by itself; folders tell of those that come and go.
    constexpr std::size_t kMostFiles = 500;
    for (const LibraryEntry& entry : *m_entries)
        if (entry.origin != EntryOrigin::Shipped && static_cast<std::size_t>(paths.size()) < kMostFiles)
            paths << QString::fromStdString(entry.file.string());
    paths.erase(
        std::remove_if(paths.begin(), paths.end(), [](const QString& p) { return !QFileInfo::exists(p); }),
        paths.end());
    if (!paths.isEmpty()) m_watcher->addPaths(paths);
}

bool LibraryShelf::keep(const LibraryEntry& entry, const QImage& picture) {
    const auto kept = keepEntry(m_own, entry);
    if (!kept) {
        Q_EMIT told(QString::fromStdString(kept.error().sentence), true);
        return false;
    }
    if (!picture.isNull()) {
        QByteArray bytes;
        QBuffer buffer(&bytes);
        picture.save(&buffer, "PNG");
        // Without its picture the entry is whole all the same.
        (void)writeFileAtomically(pictureOf(*kept), bytes.toStdString()).has_value();
    }
    Q_EMIT told(tr("Kept %1 in the library.").arg(QString::fromStdString(entry.name)), false);
    read();
    return true;
}

bool LibraryShelf::import(const QString& file) {
    const auto kept = importEntry(m_own, file.toStdString());
    if (!kept) {
        Q_EMIT told(QString::fromStdString(kept.error().sentence), true);
        return false;
    }
    Q_EMIT told(tr("%1 is in the library now.").arg(QFileInfo(file).fileName()), false);
    read();
    return true;
}

bool LibraryShelf::forget(const LibraryEntry& entry) {
    const auto gone = forgetEntry(entry);
    if (!gone) Q_EMIT told(QString::fromStdString(gone.error().sentence), true);
    read();
    return gone.has_value();
}

const Recipe* LibraryShelf::recipe(const std::string& name) const {
    const Recipe* found = nullptr;
    int best = -1;
    for (const LibraryEntry& entry : *m_entries) {
        const auto* recipe = std::get_if<Recipe>(&entry.content);
        const int rank = entry.origin == EntryOrigin::Own ? 2 : entry.origin == EntryOrigin::Team ? 1 : 0;
        if (recipe != nullptr && recipe->name == name && rank > best) found = recipe, best = rank;
    }
    return found;
}

std::vector<Shared<Recipe>> LibraryShelf::recipes() const {
    std::vector<Shared<Recipe>> all;
    for (const LibraryEntry& entry : *m_entries)
        if (const auto* recipe = std::get_if<Recipe>(&entry.content)) all.emplace_back(*recipe);
    return all;
}

}  // namespace kettle
