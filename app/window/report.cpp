#include "app/window/report.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>
#include <QSysInfo>

#include "app/session/session.h"
#include "core/base/machine.h"

namespace kettle {
namespace {

QString machine() {
    return Report::tr("Pale Kettle %1, Qt %2\n%3, %4\n%5")
        .arg(QString::fromStdString(programVersion()), QString::fromLatin1(qVersion()),
             QSysInfo::prettyProductName(), QSysInfo::kernelVersion(),
             QString::fromStdString(processorName()));
}

}  // namespace

Report::Report(Session& session, QString file, QObject* parent)
    : QObject(parent), m_session(session), m_file(std::move(file)) {
    connect(&session, &Session::told, this, [this](const QString& sentence, bool isError) {
        if (isError) add(sentence);
    });
    if (m_file.isEmpty()) return;
    QDir().mkpath(QFileInfo(m_file).absolutePath());
    if (QFileInfo(m_file).size() > kLargestLog) QFile::remove(m_file);
    QFile log(m_file);
    if (log.open(QIODevice::Append | QIODevice::Text))
        log.write((QDateTime::currentDateTime().toString(Qt::ISODate) + QLatin1Char('\n') + machine() +
                   QLatin1Char('\n'))
                      .toUtf8());
}

QString Report::standardFile() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/log.txt");
}

void Report::add(const QString& sentence) {
    const QString row = QDateTime::currentDateTime().toString(Qt::ISODate) + QStringLiteral("  ") + sentence;
    m_problems << row;
    if (m_problems.size() > kMostProblems) m_problems.removeFirst();
    if (m_file.isEmpty()) return;
    QFile log(m_file);
    if (log.open(QIODevice::Append | QIODevice::Text)) log.write((row + QLatin1Char('\n')).toUtf8());
}

QString Report::details() const {
    const Project& project = m_session.project();
    std::size_t steps = 0;
    for (const auto& line : project.lines) steps += line->steps.size();
    QString text = machine() + QLatin1Char('\n') +
                   tr("%1 sets, %2 surfaces, %3 lines, %4 steps, %5 looks")
                       .arg(project.sets.size())
                       .arg(project.surfaces.size())
                       .arg(project.lines.size())
                       .arg(steps)
                       .arg(project.looks.size());
    text += QLatin1Char('\n') +
            (m_problems.isEmpty() ? tr("No problems were told.") : m_problems.join(QLatin1Char('\n')));
    if (!m_file.isEmpty()) text += QLatin1Char('\n') + tr("Log: %1").arg(m_file);
    return text;
}

}  // namespace kettle
