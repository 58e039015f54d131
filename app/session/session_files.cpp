// The session and the disk: opening, taking up unsaved work, saving, bringing in, and the colour
// configuration.
#include <QFileInfo>

#include "app/session/session.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/recognise.h"

namespace kettle {
namespace {

ColourManagement coloursInForce(const Project& project, const std::filesystem::path& folder,
                                std::vector<std::string>& problems) {
    std::string problem;
    auto colours = ColourManagement::chosen(project.colour.configuration, folder.string(), problem);
    if (!problem.empty()) problems.push_back(problem);
    return colours;
}

}  // namespace

void Session::load(Project project, const QString& file, std::filesystem::path folder,
                   std::vector<std::string> problems) {
    stopBringingIn();
    ColourManagement colours = coloursInForce(project, folder, problems);
    m_configuration = project.colour.configuration;
    m_resources = std::make_unique<Resources>(std::move(folder), m_store, std::move(colours));
    m_history = History(std::move(project));
    m_problems = std::move(problems);
    m_file = file;
    m_savedRevision = file.isEmpty() ? 0 : m_history.revision();
    m_look.clear();
    m_step.clear();
    m_lookHere.reset();
    for (const auto& line : this->project().lines)
        if (m_step.empty() && !line->steps.empty()) m_step = line->steps.front()->id;
    Q_EMIT fileChanged();
    Q_EMIT lookChanged();
    Q_EMIT projectChanged();
    Q_EMIT selectionChanged();
    Q_EMIT viewChanged();
    if (!m_problems.empty()) {
        QString sentence = QString::fromStdString(m_problems.front());
        if (m_problems.size() > 1) sentence += tr(" (and %1 more)").arg(m_problems.size() - 1);
        Q_EMIT told(sentence, true);
    }
}

bool Session::open(const QString& file) {
    auto project = loadProject(file.toStdString());
    if (!project) {
        Q_EMIT told(QString::fromStdString(project.error().sentence), true);
        return false;
    }
    std::vector<std::string> problems = problemsOf(*project);
    const QFileInfo info(file);
    load(std::move(*project), info.absoluteFilePath(), info.absolutePath().toStdString(),
         std::move(problems));
    return true;
}

void Session::recover(const Project& project, const QString& file, const std::filesystem::path& folder) {
    std::vector<std::string> problems = problemsOf(project);
    load(withAbsolutePaths(project, folder), file, folder, std::move(problems));
    m_savedRevision = 0;
    Q_EMIT projectChanged();
}

bool Session::save(const QString& file) {
    const QFileInfo info(file);
    if (auto free = SourceFiles(project(), *m_resources).mayWrite(file.toStdString()); !free) {
        Q_EMIT told(QString::fromStdString(free.error().sentence), true);
        return false;
    }
    if (auto done = saveProject(project(), file.toStdString()); !done) {
        Q_EMIT told(QString::fromStdString(done.error().sentence), true);
        return false;
    }
    const std::filesystem::path folder = info.absolutePath().toStdString();
    if (folder != m_resources->folder())
        m_resources = std::make_unique<Resources>(folder, m_store, m_resources->colours());
    m_file = info.absoluteFilePath();
    m_savedRevision = m_history.revision();
    Q_EMIT fileChanged();
    Q_EMIT told(tr("Saved %1.").arg(info.fileName()), false);
    return true;
}

void Session::takeFile(const std::string& setId, const std::string& role, const QString& file) {
    const TextureSet* set = project().findSet(setId);
    if (set == nullptr) return;
    std::filesystem::path path = file.toStdString();
    if (const auto picture = inspectImage(path); !picture) {
        Q_EMIT told(QString::fromStdString(picture.error().sentence), true);
        return;
    }
    // One tile stands for all of them.
    if (const MapName name = recogniseName(path.filename().string()); name.isTile)
        path.replace_filename(name.pattern);
    const auto folder = std::filesystem::absolute(m_resources->folder() / set->folder).lexically_normal();
    apply(edits::setFile(project(), setId, role, path.lexically_relative(folder).string()),
          tr("Another file for %1").arg(QString::fromStdString(role)));
}

Session::~Session() {
    stopBringingIn();
    for (std::thread& ending : m_ending) ending.join();
}

void Session::stopBringingIn() {
    m_stopBringing.cancel();
    // It ends with the file that it is reading; the window does not wait for that.
    if (m_bringing.joinable()) m_ending.push_back(std::exchange(m_bringing, {}));
    m_stopBringing = CancelToken();
}

void Session::bringIn(const QString& folder) {
    stopBringingIn();
    const QString name = QFileInfo(folder).fileName();
    Q_EMIT progress(tr("Reading the maps of %1 …").arg(name));
    m_bringing = std::thread([this, folder, name, revision = m_history.revision(), stop = m_stopBringing] {
        const GiveWay giveWay;
        // What comes back after a stop is of no interest to anybody.
        const auto inWindow = [&](auto what) {
            QMetaObject::invokeMethod(this, [stop, what]() mutable {
                if (!stop.isCancelled()) what();
            });
        };
        auto made = guarded("bring in the folder", [&] {
            return projectFromFolder(
                folder.toStdString(),
                [&](int done, int all) {
                    inWindow([this, name, done, all] {
                        Q_EMIT progress(tr("Reading the maps of %1: %2 of %3").arg(name).arg(done).arg(all));
                    });
                },
                stop);
        });
        inWindow([this, folder, revision, made = std::move(made)]() mutable {
            broughtIn(folder, revision, std::move(made));
        });
    });
}

void Session::broughtIn(const QString& folder, std::uint64_t revision, Result<Recognised> made) {
    stopBringingIn();
    if (!made) {
        Q_EMIT told(QString::fromStdString(made.error().sentence), true);
        return;
    }
    if (m_history.revision() != revision) {
        Q_EMIT told(tr("The project was changed while %1 was read, so it stays open. Save it, then bring the "
                       "folder in again.")
                        .arg(QFileInfo(folder).fileName()),
                    true);
        return;
    }
    std::size_t count = 0;
    for (const auto& set : made->project.sets) count += set->maps.size();
    const std::vector<std::string> notes = made->notes;
    load(std::move(made->project), {}, QFileInfo(folder).absolutePath().toStdString(), {});
    // What was decided, a line each: the first ones, since a message is no list.
    constexpr std::size_t kLines = 5;
    QString sentence = count == 1 ? tr("Brought in one map.") : tr("Brought in %1 maps.").arg(count);
    for (std::size_t i = 0; i < std::min(notes.size(), kLines); ++i)
        sentence += QLatin1Char('\n') + QString::fromStdString(notes[i]);
    if (notes.size() > kLines) sentence += QLatin1Char('\n') + tr("and %1 more").arg(notes.size() - kLines);
    Q_EMIT told(sentence, false);
}

void Session::chooseConfiguration(const QString& file) {
    Project next = project();
    if (file.isEmpty()) {
        next.colour.configuration.clear();
    } else {
        if (auto read = ColourManagement::fromFile(file.toStdString()); !read) {
            Q_EMIT told(QString::fromStdString(read.error().sentence), true);
            return;
        }
        next.colour.configuration = std::filesystem::absolute(file.toStdString()).lexically_normal().string();
    }
    if (next.colour == project().colour) return;
    apply(next, tr("Colour configuration"));
}

/// After any step through the history the colours are those that the project asks for now.
void Session::refreshColours() {
    if (project().colour.configuration == m_configuration) return;
    m_configuration = project().colour.configuration;
    std::vector<std::string> problems;
    ColourManagement colours = coloursInForce(project(), m_resources->folder(), problems);
    m_resources = std::make_unique<Resources>(m_resources->folder(), m_store, std::move(colours));
    if (!problems.empty()) Q_EMIT told(QString::fromStdString(problems.front()), true);
}

}  // namespace kettle
