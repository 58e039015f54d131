// The batch tool as a process: what it prints and how it ends.
#pragma once

#include <sys/resource.h>

#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QString>
#include <QStringList>

namespace kettle::test {

/// The tool's file: this build's, or the one that KETTLE_BATCH names (another build's, with sanitizers).
inline QString batchTool() {
    return qEnvironmentVariable("KETTLE_BATCH", QStringLiteral(KETTLE_BATCH));
}

struct Ran {
    int status = -1;  ///< -1: it did not end by itself
    QString output, errors;
    QJsonObject json() const { return QJsonDocument::fromJson(output.toUtf8()).object(); }
};

/// `outputTo`: a file or device that takes its output; empty: it is returned. `limit`: how much memory it may
/// address, in bytes; 0: as it is.
inline Ran batch(const QStringList& arguments, const QString& outputTo = {}, rlim_t limit = 0) {
    QProcess process;
    if (!outputTo.isEmpty()) process.setStandardOutputFile(outputTo);
    if (limit != 0)
        process.setChildProcessModifier([limit] {
            const rlimit most{limit, limit};
            setrlimit(RLIMIT_AS, &most);
        });
    process.start(batchTool(), arguments);
    process.waitForFinished(120000);
    return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
            QString::fromUtf8(process.readAllStandardOutput()),
            QString::fromUtf8(process.readAllStandardError())};
}

}  // namespace kettle::test
