#include "app/window/window_memory.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

namespace kettle {
namespace {

QString projectsKey() {
    return QStringLiteral("projects");
}
QString stepsKey() {
    return QStringLiteral("steps");
}
QString librariesKey() {
    return QStringLiteral("libraries");
}
QString shapeKey(qsizetype part) {
    return QStringLiteral("shape/%1").arg(part);
}

}  // namespace

QString WindowMemory::standardFile() {
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) +
           QStringLiteral("/window.ini");
}

QStringList WindowMemory::projects() const {
    QStringList there;
    const QStringList kept = QSettings(m_file, QSettings::IniFormat).value(projectsKey()).toStringList();
    for (const QString& file : kept)
        if (QFileInfo(file).isFile()) there << file;
    return there;
}

void WindowMemory::addProject(const QString& file) {
    const QString path = QFileInfo(file).absoluteFilePath();
    QStringList kept = projects();
    kept.removeAll(path);
    kept.prepend(path);
    QSettings(m_file, QSettings::IniFormat).setValue(projectsKey(), kept.mid(0, kMostProjects));
}

QString WindowMemory::pictureOf(const QString& project) const {
    const QByteArray name =
        QCryptographicHash::hash(QFileInfo(project).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1)
            .toHex();
    return QFileInfo(m_file).absolutePath() + QStringLiteral("/pictures/") + QString::fromLatin1(name) +
           QStringLiteral(".png");
}

QStringList WindowMemory::steps() const {
    return QSettings(m_file, QSettings::IniFormat).value(stepsKey()).toStringList();
}

void WindowMemory::setSteps(const QStringList& types) {
    QSettings(m_file, QSettings::IniFormat).setValue(stepsKey(), types);
}

QStringList WindowMemory::libraries() const {
    return QSettings(m_file, QSettings::IniFormat).value(librariesKey()).toStringList();
}

void WindowMemory::setLibraries(const QStringList& folders) {
    if (folders != libraries()) QSettings(m_file, QSettings::IniFormat).setValue(librariesKey(), folders);
}

bool WindowMemory::isDusk() const {
    return QSettings(m_file, QSettings::IniFormat).value(QStringLiteral("dusk"), false).toBool();
}

void WindowMemory::setDusk(bool on) {
    QSettings(m_file, QSettings::IniFormat).setValue(QStringLiteral("dusk"), on);
}

QList<QByteArray> WindowMemory::shape() const {
    const QSettings kept(m_file, QSettings::IniFormat);
    QList<QByteArray> parts;
    while (kept.contains(shapeKey(parts.size()))) parts << kept.value(shapeKey(parts.size())).toByteArray();
    return parts;
}

void WindowMemory::setShape(const QList<QByteArray>& parts) {
    QSettings kept(m_file, QSettings::IniFormat);
    for (qsizetype i = 0; i < parts.size(); ++i) kept.setValue(shapeKey(i), parts[i]);
}

}  // namespace kettle
