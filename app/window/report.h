// What goes into a report of a problem: the program, the machine, and what was told as an error; kept in a
// file too, so that it is there after a crash.
#pragma once

#include <QObject>
#include <QString>
#include <QStringList>

namespace kettle {

class Session;

class Report final : public QObject {
    Q_OBJECT

public:
    /// Listens to what the session tells. `file`: where it is logged; empty: nowhere.
    Report(Session& session, QString file, QObject* parent);
    static QString standardFile();
    /// Version, system, processor, the open project in numbers, and the last problems.
    QString details() const;

    static constexpr qsizetype kMostProblems = 50;
    static constexpr qint64 kLargestLog = 256 * 1024;  ///< an older one is begun anew

private:
    void add(const QString& sentence);
    Session& m_session;
    QString m_file;
    QStringList m_problems;
};

}  // namespace kettle
