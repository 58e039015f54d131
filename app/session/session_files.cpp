// The session and the disk: opening, taking up unsaved work, saving, bringing in, and the colour
// configuration.
#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <utility>

#include "app/session/session.h"
#include "core/base/hash.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/sources.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/bring_project.h"
#include "core/exchange/palette.h"
#include "core/exchange/recognise.h"
#include "core/exchange/relink.h"
#include "core/exchange/set_channels.h"
#include "core/steps/recipe_steps.h"

namespace kettle {
namespace {

/// What a file holds; nothing if it cannot be read.
std::optional<std::uint64_t> contentOf(const QString& file) {
    const auto bytes = readFile(file.toStdString());
    return bytes ? std::optional(hashText(*bytes)) : std::nullopt;
}

ColourManagement coloursInForce(const Project& project, const std::filesystem::path& folder,
                                std::vector<std::string>& problems) {
    std::string problem;
    auto colours = ColourManagement::chosen(project.colour.configuration, folder.string(), problem);
    if (!problem.empty()) problems.push_back(problem);
    return colours;
}

}  // namespace

void Session::setModels(std::shared_ptr<ModelFinder> models) {
    m_models = std::move(models);
    m_resources->setModels(m_models);
}

void Session::useResources(std::unique_ptr<Resources> resources) {
    m_resources = std::move(resources);
    m_resources->setModels(m_models);
    m_workedSteps = {};  // there may be other steps now
}

void Session::load(Project project, const QString& file, std::filesystem::path folder,
                   std::vector<std::string> problems) {
    m_reader.stop();
    m_pictureReader.stop();
    ColourManagement colours = coloursInForce(project, folder, problems);
    m_configuration = project.colour.configuration;
    m_recipes = project.recipes;
    m_stepsBefore = steps();
    useResources(std::make_unique<Resources>(std::move(folder), m_store, std::move(colours),
                                             withRecipes(shippedSteps(), m_recipes)));
    m_objects.clear();
    m_toOpen.clear();
    m_opened.reset();
    m_history = History(std::move(project));
    m_problems = std::move(problems);
    m_file = file;
    m_savedRevision = file.isEmpty() ? 0 : m_history.revision();
    m_look.clear();
    m_step.clear();
    m_lookHere.reset();
    m_comparison.reset();
    m_kept.clear();
    m_channelsOff.clear();
    m_showsCard = false;
    m_layerView = LayerView::All;
    m_viewedLayer.clear();
    for (const auto& line : this->project().lines)
        if (m_step.empty() && !line->steps.empty()) m_step = line->steps.front()->id;
    Q_EMIT fileChanged();
    Q_EMIT lookChanged();
    Q_EMIT projectChanged();
    Q_EMIT selectionChanged();
    Q_EMIT viewChanged();
    Q_EMIT keptChanged();
    if (!m_problems.empty()) {
        QString sentence = QString::fromStdString(m_problems.front());
        if (m_problems.size() > 1) sentence += tr(" (and %1 more)").arg(m_problems.size() - 1);
        Q_EMIT told(sentence, true);
    } else if (const auto missing = missingFiles(this->project()); !missing.empty()) {
        const QString first = QString::fromStdString(missing.front().string());
        Q_EMIT told((missing.size() == 1
                         ? tr("%1 is missing.").arg(first)
                         : tr("%1 and %2 more files are missing.").arg(first).arg(missing.size() - 1)) +
                        tr(" Look for them in a folder: File > Find missing files in a folder…"),
                    true);
    }
}

bool Session::open(const QString& file) {
    // Before it is read: what changes meanwhile counts as changed.
    const auto content = contentOf(file);
    auto project = loadProject(file.toStdString());
    if (!project) {
        Q_EMIT told(QString::fromStdString(project.error().sentence), true);
        return false;
    }
    std::vector<std::string> problems = problemsOf(*project);
    const QFileInfo info(file);
    load(std::move(*project), info.absoluteFilePath(), info.absolutePath().toStdString(),
         std::move(problems));
    m_content = content;
    return true;
}

void Session::recover(const Project& project, const QString& file, const std::filesystem::path& folder) {
    std::vector<std::string> problems = problemsOf(project);
    load(withAbsolutePaths(project, folder), file, folder, std::move(problems));
    m_content = contentOf(file);
    m_savedRevision = 0;
    Q_EMIT projectChanged();
}

void Session::close() {
    load({}, {}, QDir::currentPath().toStdString(), {});
}

Session::SaveConcern Session::concernOf(const QString& file) const {
    const QFileInfo info(file);
    if (!info.exists()) return SaveConcern::None;
    if (info.absoluteFilePath() == m_file && contentOf(file) != m_content) return SaveConcern::Changed;
    // By its permissions, not by what root may do.
    const bool isWritable =
        (info.permissions() & (QFile::WriteOwner | QFile::WriteGroup | QFile::WriteOther)) != 0;
    return isWritable ? SaveConcern::None : SaveConcern::ReadOnly;
}

bool Session::save(const QString& file) {
    const QFileInfo info(file);
    if (auto free = SourceFiles(project(), *m_resources).mayReplace(file.toStdString()); !free) {
        Q_EMIT told(QString::fromStdString(free.error().sentence), true);
        return false;
    }
    const int before = versionOnDisk(file.toStdString());
    if (auto done = saveProject(project(), file.toStdString()); !done) {
        Q_EMIT told(QString::fromStdString(done.error().sentence), true);
        return false;
    }
    const std::filesystem::path folder = info.absolutePath().toStdString();
    if (folder != m_resources->folder())
        useResources(
            std::make_unique<Resources>(folder, m_store, m_resources->colours(), m_resources->steps()));
    m_file = info.absoluteFilePath();
    m_content = contentOf(m_file);
    m_savedRevision = m_history.revision();
    Q_EMIT fileChanged();
    if (before > 0 && before < kProjectVersion)
        Q_EMIT told(tr("Saved %1. It was a file of version %2 and is one of version %3 now, which older Pale "
                       "Kettles do not open.")
                        .arg(info.fileName())
                        .arg(before)
                        .arg(kProjectVersion),
                    false);
    else
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

void Session::takeModel(const QString& file) {
    const QFileInfo info(file);
    if (!info.isFile()) {
        Q_EMIT told(tr("Cannot find the model %1. Put it back, or choose another.").arg(file), true);
        return;
    }
    ViewSettings view = project().view;
    view.model = info.absoluteFilePath().toStdString();
    view.unit = ViewSettings{}.unit;
    apply(edits::setView(project(), view), tr("Model %1").arg(info.fileName()));
}

void Session::takeEnvironment(const QString& file) {
    const auto picture = inspectImage(file.toStdString());
    if (!picture) {
        Q_EMIT told(QString::fromStdString(picture.error().sentence), true);
        return;
    }
    if (picture->width != 2 * picture->height) {
        Q_EMIT told(tr("%1 is %2 x %3 pixels. An environment is twice as wide as high: all directions in "
                       "latitude and longitude. Choose another.")
                        .arg(QFileInfo(file).fileName())
                        .arg(picture->width)
                        .arg(picture->height),
                    true);
        return;
    }
    ViewSettings view = project().view;
    view.environment = QFileInfo(file).absoluteFilePath().toStdString();
    apply(edits::setView(project(), view), tr("Environment %1").arg(QFileInfo(file).fileName()));
}

void Session::layOver(const QString& folder) {
    bringIn(folder);
    m_laysOver = true;
}

void Session::bringIn(const QString& folder) {
    m_laysOver = false;
    m_laysLike.reset();
    m_bringing = folder;
    m_bringingRevision = m_history.revision();
    Q_EMIT progress(tr("Reading the maps of %1 …").arg(QFileInfo(folder).fileName()));
    m_reader.read({folder}, false, *m_resources);
}

void Session::broughtIn(const Result<BringPlan>& plan) {
    if (!plan) {
        Q_EMIT told(QString::fromStdString(plan.error().sentence), true);
        return;
    }
    if (m_history.revision() != m_bringingRevision) {
        Q_EMIT told(tr("The project was changed while %1 was read, so it stays open. Save it, then bring the "
                       "folder in again.")
                        .arg(QFileInfo(m_bringing).fileName()),
                    true);
        return;
    }
    const auto maps = mapsAlone(*plan, m_bringing.toStdString());
    if (!maps) {
        Q_EMIT told(QString::fromStdString(maps.error().sentence), true);
        return;
    }
    if (const auto like = std::exchange(m_laysLike, {})) return addLayersLike(*maps, *like);
    if (std::exchange(m_laysOver, false)) return addLayerOfPlan(*maps);
    takePlan(*maps, false);
}

void Session::takePlan(const BringPlan& plan, bool intoThis) {
    std::vector<std::string> notes = plan.notes;
    notes.insert(notes.end(), plan.leftOut.begin(), plan.leftOut.end());
    Project begun;
    if (!intoThis) begun.view = ViewSettings{};
    auto made = bringInto(intoThis ? project() : begun, plan, notes);
    if (!made) {
        Q_EMIT told(QString::fromStdString(made.error().sentence), true);
        return;
    }
    std::size_t count = 0;
    for (const PlannedSet& set : plan.sets)
        count += static_cast<std::size_t>(std::count_if(set.maps.begin(), set.maps.end(),
                                                        [](const PlannedMap& map) { return map.isTaken; }));
    if (intoThis) {
        if (!apply(std::move(made), tr("Bring in"))) return;
    } else {
        const std::filesystem::path beside = plan.sets.empty() ? plan.model->file : plan.sets.front().folder;
        load(std::move(*made), {}, beside.parent_path(), {});
    }
    QString sentence = count == 1 ? tr("Brought in one map.") : tr("Brought in %1 maps.").arg(count);
    if (count == 0) sentence = tr("Brought in the model.");
    tellNotes(sentence, notes);
}

void Session::replaceSet(const std::string& set, const BringPlan& plan) {
    std::vector<std::string> notes;
    const TextureSet* old = project().findSet(set);
    const QString name = old != nullptr ? QString::fromStdString(old->name) : QString();
    if (apply(kettle::replaceSet(project(), set, plan, notes), tr("Replace %1").arg(name)))
        tellNotes(tr("%1 has the maps of %2 now.")
                      .arg(name, QString::fromStdString(titleOfName(plan.sets.front().name))),
                  notes);
}

/// The sentence, and below it the first notes, a line each: a message is no list.
void Session::lookForMissing(const QString& folder) {
    const Relinked now = lookInFolder(project(), folder.toStdString());
    const QString first =
        now.missing.empty() ? QString() : QString::fromStdString(now.missing.front().filename().string());
    const QString left = now.missing.empty() ? tr("Nothing is missing any more.")
                         : now.missing.size() == 1
                             ? tr("Still missing: %1.").arg(first)
                             : tr("Still missing: %1 and %2 more.").arg(first).arg(now.missing.size() - 1);
    if (now.found == 0) {
        Q_EMIT told(tr("None of the missing files lie in %1. %2").arg(QFileInfo(folder).fileName(), left),
                    true);
        return;
    }
    if (apply(now.project, tr("Find missing files")))
        Q_EMIT told((now.found == 1 ? tr("Found one file.") : tr("Found %1 files.").arg(now.found)) +
                        QLatin1Char(' ') + left,
                    false);
}

void Session::tellNotes(const QString& sentence, const std::vector<std::string>& notes) {
    constexpr std::size_t kLines = 5;
    QString text = sentence;
    for (std::size_t i = 0; i < std::min(notes.size(), kLines); ++i)
        text += QLatin1Char('\n') + QString::fromStdString(notes[i]);
    if (notes.size() > kLines) text += QLatin1Char('\n') + tr("and %1 more").arg(notes.size() - kLines);
    Q_EMIT told(text, false);
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
    useResources(std::make_unique<Resources>(m_resources->folder(), m_store, std::move(colours),
                                             m_resources->steps()));
    if (!problems.empty()) Q_EMIT told(QString::fromStdString(problems.front()), true);
}

void Session::refreshRecipes() {
    const auto& now = project().recipes;
    const bool isSame = std::equal(now.begin(), now.end(), m_recipes.begin(), m_recipes.end(),
                                   [](const auto& a, const auto& b) { return a.sameAs(b); });
    if (isSame) return;
    m_recipes = now;
    m_stepsBefore = steps();
    useResources(std::make_unique<Resources>(m_resources->folder(), m_store, m_resources->colours(),
                                             withRecipes(shippedSteps(), m_recipes)));
}

Result<Project> Session::laidOver(const Target& to, const std::filesystem::path& picture, const Line& line,
                                  std::size_t index, std::string& step) const {
    const std::string role = line.kind == Kind::Normal   ? "normal"
                             : line.kind == Kind::Colour ? "base-colour"
                                                         : "mask";
    Project with = to.project;
    const TextureSet set = setOfPicture(with, picture, role);
    with.sets.emplace_back(set);
    Step source;
    source.type = kMap;
    source.set = set.id;
    source.role = role;
    if (line.kind == Kind::Scalar) {
        const auto reading = readingFor(picture, PicturePurpose::Grey);
        if (!reading) return fail(reading.error());
        setReading(source, *reading);
    }
    return edits::layOver(with, to.look, line.id, index, {NewSource{set.name, source}, {}, {}}, step);
}

void Session::insertFiles(const QStringList& files, const std::string& lineId, std::size_t index) {
    if (files.size() == 1) return insertFile(files.front(), lineId, index);
    const Target to = target();
    Target done = to;
    std::vector<std::string> notes;
    std::string step;
    std::size_t taken = 0;
    for (const QString& file : files) {
        const Line* line = done.project.findLine(lineId);
        if (line == nullptr) return;
        const std::filesystem::path path = file.toStdString();
        auto next = inspectImage(path)
                        ? laidOver(done, path, *line, index + taken, step)
                        : Result<Project>(fail(ErrorKind::Refused, tr("%1 is no picture and was left out.")
                                                                       .arg(QFileInfo(file).fileName())
                                                                       .toStdString()));
        if (!next) {
            notes.push_back(next.error().sentence);
            continue;
        }
        done.project = std::move(*next);
        ++taken;
    }
    if (taken > 0 && applyTo(to, std::move(done.project), tr("Lay %1 pictures over").arg(taken)))
        selectStep(step);
    if (!notes.empty()) tellNotes(tr("%1 of %2 files were taken.").arg(taken).arg(files.size()), notes);
}

void Session::insertFile(const QString& file, const std::string& lineId, std::size_t index) {
    const Line* line = project().findLine(lineId);
    const std::filesystem::path path = file.toStdString();
    if (line == nullptr) return;
    if (file.endsWith(QStringLiteral(".json"))) return insertEntry(file, lineId, index);
    if (inspectImage(path)) {
        const Target to = target();
        std::string step;
        auto next = laidOver(to, path, *line, index, step);
        if (applyTo(to, std::move(next), tr("Lay %1 over").arg(QFileInfo(file).fileName()))) selectStep(step);
        return;
    }
    const auto text = readFile(path);
    const auto colours = text ? coloursIn(*text) : std::vector<Vec3>{};
    if (colours.empty() || line->kind != Kind::Colour) {
        Q_EMIT told(tr("%1 is neither a picture nor a palette with colours for a colour line. Drop a PNG, "
                       "TIFF, EXR or JPEG, or a "
                       "text with hex colours.")
                        .arg(QFileInfo(file).fileName()),
                    true);
        return;
    }
    Palette palette;
    palette.name = tr("of %1").arg(QFileInfo(file).fileName()).toStdString();
    palette.colours = colours;
    insertPalette(lineId, index, palette);
}

}  // namespace kettle
