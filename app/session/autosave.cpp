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

Autosave::Autosave(Session& session, QString folder, QObject* parent)
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
    m_timer.setInterval(kSeconds * 1000);
    connect(&m_timer, &QTimer::timeout, this, &Autosave::saveNow);
    m_timer.start();
}

Autosave::~Autosave() {
    QFile::remove(recordPath());
}

QString Autosave::recordPath() const {
    return m_folder + QLatin1Char('/') + m_name + QStringLiteral(".json");
}

void Autosave::saveNow() {
    if (!m_session.isModified() || m_session.project().lines.empty()) {
        if (m_hasRecord) QFile::remove(recordPath());
        m_hasRecord = false;
        return;
    }
    if (m_hasRecord && m_savedProject == m_session.project()) return;
    const QJsonObject record{
        {QStringLiteral("file"), m_session.filePath()},
        {QStringLiteral("folder"),
         QString::fromStdString(std::filesystem::absolute(m_session.resources().folder()).string())},
        {QStringLiteral("saved"), QDateTime::currentDateTime().toString(Qt::ISODate)},
        {QStringLiteral("project"), QString::fromStdString(projectToJson(m_session.project()))}};
    const auto done =
        writeFileAtomically(recordPath().toStdString(), QJsonDocument(record).toJson().toStdString());
    if (!done) return;  // a full disk is told when the artist saves; the work itself is not disturbed
    m_savedProject = m_session.project();
    m_hasRecord = true;
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
                   QDateTime::fromString(record[QStringLiteral("saved")].toString(), Qt::ISODate),
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
