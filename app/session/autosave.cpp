#include "app/session/autosave.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>
#include <QUuid>

#include "core/base/files.h"
#include "core/document/json.h"

namespace kettle {

QString Autosave::standardFolder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
           QStringLiteral("/unsaved");
}

Autosave::Autosave(Session& session, QString folder, std::chrono::milliseconds every, QObject* parent)
    : QObject(parent),
      m_session(session),
      m_folder(std::move(folder)),
      m_name(QUuid::createUuid().toString(QUuid::WithoutBraces)) {
    QDir().mkpath(m_folder);
    // The lock tells other runs that this one lives; the system frees it when the program dies, however it
    // does.
    m_lock = std::make_unique<QLockFile>(m_folder + QLatin1Char('/') + m_name + QStringLiteral(".lock"));
    m_lock->setStaleLockTime(0);
    m_lock->lock();
    removeLeftovers();
    m_timer.setInterval(every);
    connect(&m_timer, &QTimer::timeout, this, &Autosave::saveBehind);
    m_timer.start();
}

Autosave::~Autosave() {
    if (m_writer.joinable()) m_writer.join();
    QFile::remove(recordPath());
}

/// Locks of runs that were killed before they had a record, and what such runs were writing.
void Autosave::removeLeftovers() const {
    const QDir folder(m_folder);
    for (const QFileInfo& info : folder.entryInfoList({QStringLiteral("*.lock")}, QDir::Files)) {
        if (info.completeBaseName() == m_name ||
            QFile::exists(m_folder + QLatin1Char('/') + info.completeBaseName() + QStringLiteral(".json")))
            continue;
        QLockFile lock(info.filePath());
        lock.setStaleLockTime(0);
        if (lock.tryLock(0)) lock.unlock();  // which removes it
    }
    const QDateTime anHourAgo = QDateTime::currentDateTime().addSecs(-3600);
    for (const QFileInfo& info : folder.entryInfoList({QStringLiteral("*.part")}, QDir::Files | QDir::Hidden))
        if (info.lastModified() < anHourAgo) QFile::remove(info.filePath());
}

QString Autosave::recordPath() const {
    return m_folder + QLatin1Char('/') + m_name + QStringLiteral(".json");
}

std::optional<std::string> Autosave::wanted() {
    if (m_writer.joinable()) {
        m_writer.join();
        if (!m_isWritten) m_recordRevision = 0;  // a full disk: tried again
    }
    if (!m_session.isModified() || m_session.project().lines.empty()) {
        if (m_recordRevision != 0) QFile::remove(recordPath());
        m_recordRevision = 0;
        return std::nullopt;
    }
    if (m_recordRevision == m_session.history().revision()) return std::nullopt;
    const QJsonObject record{
        {QStringLiteral("file"), m_session.filePath()},
        {QStringLiteral("folder"),
         QString::fromStdString(std::filesystem::absolute(m_session.resources().folder()).string())},
        {QStringLiteral("saved"), QDateTime::currentDateTime().toString(Qt::ISODateWithMs)},
        {QStringLiteral("project"), QString::fromStdString(projectToJson(m_session.project()))}};
    m_recordRevision = m_session.history().revision();
    return QJsonDocument(record).toJson().toStdString();
}

bool Autosave::saveNow() {
    const auto bytes = wanted();
    if (!bytes) return true;
    // A full disk is told when the artist saves; the work itself is not disturbed.
    if (writeFileAtomically(recordPath().toStdString(), *bytes)) return true;
    m_recordRevision = 0;
    return false;
}

void Autosave::saveBehind() {
    if (m_isWriting) return;  // a disk that slow is asked again at the next turn
    auto bytes = wanted();
    if (!bytes) return;
    m_isWriting = true;
    m_writer = std::thread([this, path = recordPath().toStdString(), bytes = std::move(*bytes)] {
        m_isWritten = writeFileAtomically(path, bytes).has_value();
        m_isWriting = false;
    });
}

std::optional<Autosave::Left> Autosave::left() const {
    std::optional<Left> newest;
    const auto records = QDir(m_folder).entryInfoList({QStringLiteral("*.json")}, QDir::Files);
    for (const QFileInfo& info : records) {
        if (info.completeBaseName() == m_name) continue;
        QLockFile lock(m_folder + QLatin1Char('/') + info.completeBaseName() + QStringLiteral(".lock"));
        lock.setStaleLockTime(0);
        if (!lock.tryLock(0)) continue;  // that run still lives
        lock.unlock();
        QFile file(info.filePath());
        if (!file.open(QIODevice::ReadOnly)) continue;
        const QJsonObject record = QJsonDocument::fromJson(file.readAll()).object();
        auto project =
            projectFromJson(record[QStringLiteral("project")].toString().toStdString(), "the unsaved work");
        if (!project) continue;
        Left found{info.filePath(), record[QStringLiteral("file")].toString(),
                   record[QStringLiteral("folder")].toString(),
                   QDateTime::fromString(record[QStringLiteral("saved")].toString(), Qt::ISODateWithMs),
                   std::move(*project)};
        if (!newest || found.saved > newest->saved) newest = std::move(found);
    }
    return newest;
}

void Autosave::discard(const Left& left) {
    QFile::remove(left.record);
    QFile::remove(QFileInfo(left.record).path() + QLatin1Char('/') +
                  QFileInfo(left.record).completeBaseName() + QStringLiteral(".lock"));
}

}  // namespace kettle
