// A page of the export sheet: what is asked for, and the work that makes it.
#pragma once

#include <QWidget>
#include <functional>

#include "app/session/session.h"
#include "core/threads/parallel.h"

class QCheckBox;
class QGridLayout;
class QHBoxLayout;
class QLabel;
class QVBoxLayout;

namespace kettle {

/// Progress of a work: 0..1, and what is being made.
using TellProgress = std::function<void(double, const QString&)>;

class ExportPage : public QWidget {
    Q_OBJECT

public:
    using QWidget::QWidget;
    /// Shows what the project has now.
    virtual void refresh() = 0;
    /// What will be made, as a sentence; or what is still missing, if it is not ready.
    virtual QString summary() const = 0;
    virtual bool isReady() const = 0;
    /// All that is asked for, taken by value: it runs on a thread of its own and tells in the end what came
    /// of it. An error of the kind Cancelled is none.
    using Work = std::function<Result<QString>(const CancelToken&, const TellProgress&)>;
    virtual Work work() const = 0;

    /// The same as a line for a terminal; empty if there is no project on the disk to name.
    virtual QString command() const = 0;

Q_SIGNALS:
    void changed();  ///< anything that summary() or isReady() depends on
    void resized();  ///< it needs another room

protected:
    /// A command of the batch tool: its name, the project, and words that are quoted where a shell asks for
    /// it. Empty for a project that was never saved.
    static QString commandOf(const QString& name, const Session& session, const QStringList& words);
    /// "--look a --look b"; every look as "--all-looks".
    QStringList lookWords(const std::vector<std::string>& looks, const Session& session) const;
    /// A quiet title over or beside what it names.
    static QLabel* heading(const QString& words, QWidget* parent);
    /// A titled list of choices in a row of such.
    static void addList(QHBoxLayout& lists, QLabel* title, QVBoxLayout* list);
    /// A field with its title in a form; `extra` stands beside it.
    static void addRow(QGridLayout& form, int& row, QLabel* title, QWidget* field, QWidget* extra = nullptr);
    /// A target of a work: no source of the project, in a folder that is made. Errors: Refused, Write.
    static Result<void> makeReady(const Project& project, const Resources& resources,
                                  const std::filesystem::path& file);
    using Boxes = std::vector<std::pair<std::string, QCheckBox*>>;
    /// One more choice of a list.
    void addBox(Boxes& boxes, QVBoxLayout& layout, const std::string& id, const QString& name, bool checked);
    static void clear(Boxes& boxes);
    static std::vector<std::string> chosen(const Boxes& boxes);
    /// The base and all looks, those of which `checks` is true being ticked.
    void addLooks(Boxes& boxes, QVBoxLayout& layout, const Session& session,
                  const std::function<bool(const std::string&)>& checks);
};

}  // namespace kettle
