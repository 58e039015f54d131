// What the window remembers from one start to the next: its place and its divisions, the projects that were
// open and the steps that were added last. One small file of the program's own; a damaged one counts as none.
#pragma once

#include <QByteArray>
#include <QList>
#include <QString>
#include <QStringList>

namespace kettle {

class WindowMemory {
public:
    static constexpr qsizetype kMostProjects = 8;

    /// `file`: where it is kept; made at the first change.
    explicit WindowMemory(QString file) : m_file(std::move(file)) {}
    static QString standardFile();

    /// Absolute paths, newest first, without those that are gone.
    QStringList projects() const;
    void addProject(const QString& file);

    /// Where the picture of a project is kept, beside the file; it may not be there yet.
    QString pictureOf(const QString& project) const;

    QStringList steps() const;
    void setSteps(const QStringList& types);

    /// Folders of libraries beside one's own.
    QStringList libraries() const;
    void setLibraries(const QStringList& folders);

    /// True if the window was last in its dark theme.
    bool isDusk() const;
    void setDusk(bool on);

    /// The window's place and its splitters' states, as Qt saves them; empty if there are none.
    QList<QByteArray> shape() const;
    void setShape(const QList<QByteArray>& parts);

private:
    QString m_file;
};

}  // namespace kettle
