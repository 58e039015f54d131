// The session: the open project with its history, the look in force, the chosen step, and what is shown.
// Every view reads it and asks it for edits; it computes nothing itself.
#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <optional>
#include <set>

#include "app/session/bring_reader.h"
#include "app/session/comparison.h"
#include "app/session/picture_reader.h"
#include "app/session/source_watch.h"
#include "core/analysis/effects.h"
#include "core/analysis/explore.h"
#include "core/document/history.h"
#include "core/document/layer_edits.h"
#include "core/document/recipe_edits.h"
#include "core/document/recipe_views.h"
#include "core/engine/resources.h"
#include "core/exchange/library.h"
#include "core/exchange/picture_reading.h"
#include "core/exchange/recognise.h"
#include "core/shading/preview.h"
#include "core/steps/laying_over.h"
#include "core/steps/step.h"

namespace kettle {

/// How layers are looked at: as they are, the surface up to one of them, one alone over neutral channels, or
/// one's mask laid over the surface.
/// UpTo: with the viewed layer and those below it; Below: without it and those above it.
enum class LayerView { All, UpTo, Below, Only, Mask };

class Session final : public QObject {
    Q_OBJECT

public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    // The project.
    const Project& project() const { return m_history.current(); }
    /// How far maps in tiles have been read; 0 of 0 when none is being read.
    ImageStore::Arrived arrived() const { return m_arrived; }
    const Resources& resources() const { return *m_resources; }
    /// Who finds the models that patterns and masks follow, for this project and all later ones.
    void setModels(std::shared_ptr<ModelFinder> models);
    const Catalogue& steps() const { return m_resources->steps(); }
    const History& history() const { return m_history; }
    QString filePath() const { return m_file; }
    bool isModified() const { return m_history.revision() != m_savedRevision; }
    /// Opens a project; on failure the old one stays and `told` says why.
    bool open(const QString& file);
    /// Takes up unsaved work of an earlier run: it is modified until it is saved. `file` may be empty.
    void recover(const Project& project, const QString& file, const std::filesystem::path& folder);
    /// Why a file should not be replaced without a question: it is not as this session read or wrote it last
    /// (another window, another program), or it is read-only.
    enum class SaveConcern { None, Changed, ReadOnly };
    SaveConcern concernOf(const QString& file) const;
    /// Writes the project, whatever concernOf says. False with a sentence by `told` if it could not.
    bool save(const QString& file);
    /// Leaves the project: an empty one takes its place.
    void close();
    /// A new project from a folder of maps. They are read on a thread of their own; `progress` says how far
    /// it is, and `told` in the end what came of it. Another project, or another folder, stops it; a project
    /// that was changed meanwhile stays.
    void bringIn(const QString& folder);
    bool isBringingIn() const { return m_reader.isReading(); }
    /// Makes a plan into a new project, or with `intoThis` adds it to the open one. What came of it is told.
    void takePlan(const BringPlan& plan, bool intoThis);
    /// Another set's maps in the place of a set's, by role, with all work kept. What does not match is told.
    void replaceSet(const std::string& set, const BringPlan& plan);
    /// Takes a colour configuration for the project ("": $OCIO, or the shipped one); one that cannot be read
    /// is told and changes nothing.
    void chooseConfiguration(const QString& file);
    /// Looks for missing maps, models and environments in a folder and below; what was found is one edit, and
    /// told.
    void lookForMissing(const QString& folder);
    /// What was wrong when the project was opened or last checked, one sentence each.
    const std::vector<std::string>& problems() const { return m_problems; }

    // Edits. A failed one leaves everything and is told.
    bool apply(Result<Project> next, const QString& name, std::uint64_t gesture = 0);
    /// What an edit works on: the project and the look that the change goes to. As received, that look is a
    /// new one.
    struct Target {
        Project project;
        std::string look;
    };
    Target target() const;
    /// apply(), and the target's look is the one in force from then on.
    bool applyTo(const Target& target, Result<Project> next, const QString& name, std::uint64_t gesture = 0);
    /// A number for a new gesture: edits that carry it join into one entry.
    std::uint64_t newGesture() { return ++m_lastGesture; }
    /// A step that reads a map and lies as the others of its set.
    Step newMapStep(const std::string& set, const std::string& role) const;
    /// The same for a line of that kind: a scalar line reads where the map's content is.
    Step newMapStep(const std::string& set, const std::string& role, Kind kind, PicturePurpose purpose) const;
    /// Lays pictures over a line, each in a set of its own; what is no picture is named.
    void insertFiles(const QStringList& files, const std::string& line, std::size_t index);
    void setControl(const std::string& step, const std::string& control, ControlValue value,
                    std::uint64_t gesture = 0);
    /// Back to what is below: the look's change is taken away; where there is none, the default comes into
    /// the look.
    void resetControl(const std::string& step, const std::string& control);
    /// Makes a step of an earlier version new, in all looks.
    void useNewestVersion(const std::string& step);
    /// Takes a line out of the project, with what layers lay over it; its channel is neutral then. Refused
    /// with a sentence for a line that others read.
    void removeLine(const std::string& line);
    /// Puts steps under fresh ids at a place and chooses them. `recipes`: the project's from then on, if the
    /// steps bring some.
    void insertSteps(const std::string& line, std::size_t index, const std::vector<Step>& steps,
                     const QString& name,
                     const std::optional<std::vector<Shared<Recipe>>>& recipes = std::nullopt);
    /// Another file for one of a set's maps; a tile's name stands for all tiles. What cannot be read is told.
    void takeFile(const std::string& set, const std::string& role, const QString& file);
    /// A model, or an environment, of one's own. What cannot be an environment is told and changes nothing.
    void takeModel(const QString& file);
    void takeEnvironment(const QString& file);
    /// A new step, chosen; with these of its controls set.
    void insertStep(const std::string& line, std::size_t index, Step step);
    void insertStep(const std::string& line, std::size_t index, const std::string& type) {
        Step step;
        step.type = type;
        insertStep(line, index, std::move(step));
    }
    // Patterns (session_patterns.cpp).
    /// Lays something over a line at a place; `name` is the edit's.
    void blendOver(const std::string& line, std::size_t index, const LaidOver& over, const QString& name);
    /// What a step gives becomes the surface's height, over what that was, and moves it: one edit.
    void pushOutBy(const std::string& step);
    /// False for directions, and for the height's own line.
    bool canPushOut(const std::string& step) const;
    /// A line for a channel that has none on a surface ("": of a project without surfaces), beginning with
    /// one value that shows what the channel does.
    void addChannelLine(const std::string& channel, const std::string& surface);
    /// A file dropped on a gap: a picture is laid over the line, a palette becomes a ramp.
    void insertFile(const QString& file, const std::string& line, std::size_t index);
    void removeStep(const std::string& step);
    void toggleBypass(const std::string& step);
    /// Everything that is chosen, in the order of its line: the chosen step and what was chosen beside it.
    std::vector<std::string> selection() const;
    bool isSelected(const std::string& step) const { return step == m_step || m_beside.contains(step); }
    /// Adds a step of the chosen step's line to the choice, or takes it out.
    void toggleSelected(const std::string& step);
    /// All steps of the line from the chosen one to this one; on another line this one alone.
    void selectTo(const std::string& step);
    /// All steps of the chosen step's line but its source.
    void selectLine();
    void bypassSelection();
    void removeSelection();
    /// The choice as text, sources left out; empty if there is nothing to copy.
    QString copySelection() const;
    /// Puts copied steps behind the chosen one.
    void paste(const QString& text);
    void duplicateSelection();
    /// Moves the chosen step one place along its line: -1 towards the source, 1 towards the surface.
    void moveAlong(int way);
    /// Moves a step, or puts a copy of it, to a place on a line.
    void moveStep(const std::string& step, const std::string& line, std::size_t index, bool asCopy);
    void undo();
    void redo();
    /// Goes to any entry of the history.
    void jump(std::size_t entry);

    // Layers (session_layers.cpp). A new one lies on the surface of the chosen step: over the layer whose
    // head, mask or fill that is, else over what stands in front of the step; its head is then chosen.
    /// The layer whose head is chosen; null if none is.
    const Line* selectedLayer() const;
    /// All whose heads are chosen, from the bottom up.
    std::vector<std::string> selectedLayers() const;
    /// One colour, multiplied over the base colour, until channels are chosen.
    void addLayer();
    /// A set's maps over all channels that both have.
    void addLayerOf(const std::string& set);
    /// A layer for each picture, laid once by its alpha.
    void addStamps(const QStringList& files);
    /// A folder of maps becomes a set of the project and lies over the surface as a layer. Read as by
    /// bringIn().
    void layOver(const QString& folder);
    /// The chosen steps become a layer that lies everywhere.
    void layerFromSelection();
    /// Covers a channel with what is usual there, or takes its fill off.
    void setCovered(const std::string& layer, const std::string& line, bool covered);
    /// Takes a project in which a feed of a step was joined, and joins it to all that lie together with the
    /// step if they share it. As apply.
    bool applyFeed(Result<Project> next, const std::string& step, const std::string& feed,
                   const QString& name, std::uint64_t gesture = 0);
    /// A feed from a new line of one source; a fill's own line takes it as its own.
    void feedFromNew(const std::string& step, const std::string& feed, const std::string& name, Kind kind,
                     Step source);
    /// A feed from a new line: what comes into the step, on a ramp of more contrast.
    void feedFromRampedCopy(const std::string& step, const std::string& feed);
    /// Joins a feed or takes it off; a fill leaves its own line with it.
    void joinFeed(const std::string& step, const std::string& feed, std::optional<Feed> value);
    void fillFromSet(const std::string& layer, const std::string& set);
    /// The mask begins with this source, which is then chosen.
    void setMaskSource(const std::string& layer, Step source);
    /// The same from a picture's file, which becomes a set of its own; read by its alpha if it has one.
    void setMaskFile(const std::string& layer, const QString& file);
    /// A picture's file becomes the mask of a step, as a shared line of its own; of a layer's head, what its
    /// mask begins with.
    void joinMaskFile(const std::string& step, const QString& file);
    void renameLayer(const std::string& layer, const QString& name);
    /// One place up or down in the order; several keep theirs.
    void moveLayers(int way);
    /// A band was dragged: its fills go to these places of their lines.
    void moveFills(const std::string& layer, const std::map<std::string, std::size_t>& targets);
    LayerView layerView() const { return m_layerView; }
    const std::string& viewedLayer() const { return m_viewedLayer; }
    /// Twice the same: back to all.
    void viewLayer(LayerView how, const std::string& layer);
    /// The surface up to the next layer above (1) or below (-1); chooses its head.
    void stepThroughLayers(int way);
    /// What somebody wrote on a step, a line or a look; empty takes it off.
    void setNote(const std::string& id, const QString& note);

    // What the library has, recipes, and objects of the model (session_library.cpp).
    /// Takes a recipe into the project and puts it behind the chosen step; inputs that bear a channel's name
    /// are joined to it. A line that it does not fit is told.
    void addRecipe(const Recipe& recipe);
    void addRecipeAt(const Recipe& recipe, const std::string& line, std::size_t index);
    /// A step that gives a line this ramp's colours.
    void insertRamp(const std::string& line, std::size_t index, const Ramp& ramp, const QString& name);
    /// A file of a library: its recipe or ramp at a place of a line, its layer over the surface.
    void insertEntry(const QString& file, const std::string& line, std::size_t index);
    /// The chosen steps become one.
    bool packSelection(const edits::PackWish& wish);
    void unpackRecipe(const std::string& step);
    // Recipes looked into (session_recipes.cpp): their steps are named as in core/document/recipe_views.h.
    /// The recipe's steps stand on the board in front of it from now on, or no longer.
    void toggleOpen(const std::string& step);
    bool isOpen(const std::string& step) const { return m_opened && m_opened->steps.contains(step); }
    std::set<std::string> openRecipes() const { return m_opened ? m_opened->steps : std::set<std::string>{}; }
    /// True for a step that stands in an open recipe.
    bool isInner(const std::string& step) const;
    /// The project with what is open, as the board shows it, and as its pictures are computed.
    const Project& boardProject() const { return m_opened ? m_opened->shown : project(); }
    const Project& picturedProject() const { return m_opened ? m_opened->computed : project(); }
    /// Which of them has this step, to ask for pictures at it.
    const Project& projectWith(const std::string& step) const;
    /// Another edition in the place of the project's; what changes is told.
    void updateRecipe(const std::string& id, const Recipe& newer);
    /// Kept layers over the surface. One that reads a set whose place is empty takes the project's first set
    /// that has its roles.
    void addKeptLayer(const KeptLayer& layer);
    /// The same with a folder's maps in the place of its set.
    void layOverWith(const QString& folder, const KeptLayer& layer);
    /// The chosen step's ramp; on a line without one a new step's.
    void takeRamp(const Ramp& ramp, const QString& name);
    /// Numbers of objects or parts; nothing: as the model counts.
    void setNumbers(bool ofParts, const std::map<std::string, std::optional<int>>& numbers,
                    const QString& name);
    /// Objects of the model by their names, as they are chosen in the drawer or on the model.
    const std::set<std::string>& chosenObjects() const { return m_objects; }
    void chooseObjects(std::set<std::string> names);
    /// Whose texture Flat shows where several share a place; empty: the first.
    void showObject(const std::string& object);

    // Looks. "" is the base, as received.
    const std::string& look() const { return m_look; }
    void setLook(const std::string& look);
    void keepLook();
    /// A candidate's values in the look in force.
    bool takeCandidate(const Candidate& candidate);
    /// Each becomes a look of its own, beside the one in force, which stays; one edit.
    bool keepCandidates(const std::vector<Candidate>& candidates);
    /// What the base is called: "As received" until a step of it does something.
    QString baseName() const;
    /// How many steps of the base do something (core/analysis/effects.h).
    int workedSteps() const;
    /// True while the base is chosen and untouched: the first change then begins a look of its own, and the
    /// original stays. The bases of older projects may hold steps; those go on being changed.
    bool isAsReceived() const;
    /// The name of a source that has changed on the disk and is not whole yet; empty if there is none.
    QString changingSource() const { return m_watch.changing(); }
    /// What this look changes of a step (of one control, or with "" of all) is to hold in all looks, or in
    /// this one alone.
    void holdInAllLooks(const std::string& step, const std::string& control, bool all);
    /// True if the value that is shown comes from what all looks change.
    bool holdsInAllLooks(const std::string& step, const std::string& control) const;

    // What is chosen and shown.
    const std::string& selectedStep() const { return m_step; }
    const Line* selectedLine() const;
    void selectStep(const std::string& step);
    const std::optional<LookHere>& lookHere() const { return m_lookHere; }
    void setLookHere(std::optional<LookHere> here);
    void toggleLookHere();
    /// Which component Flat and look here show of a result; empty: all of it.
    std::optional<Component> shownComponent() const { return m_component; }
    void setShownComponent(std::optional<Component> component);
    /// What the model shows as colour: look here, or the end of the base colour's line (else of the first
    /// line).
    LookHere surfacePlace() const;
    /// While held, pictures show the project with the chosen step bypassed.
    void setShowBefore(bool before);
    bool showsBefore() const { return m_before; }
    Project shownProject() const;

    // What the picture is compared with.
    const std::optional<Comparison>& comparison() const { return m_comparison; }
    /// Nothing: the picture alone. A look or a kept picture that is not there is left alone.
    void compare(std::optional<Comparison> with);
    void setCompareWay(CompareWay way);
    /// The two sides change places.
    void swapSides();
    /// A picture's file as the other side, read on a thread of its own; one that cannot be read is told.
    void compareWithFile(const QString& file);
    /// What the other side shows; nothing without a comparison, and for a file's picture.
    std::optional<PreviewSide> otherSide() const;
    /// What both sides are called.
    QString sideName(bool isOther) const;
    const std::vector<KeptPicture>& keptPictures() const { return m_kept; }
    void keepPicture(const QImage& picture, const Camera& camera);
    void dropKept(int id);
    /// Writes a picture as PNG, whole or not at all and never over a source map; `problem` says why not.
    bool savePicture(const QImage& picture, const QString& file, QString& problem);
    /// What was kept as the project again, as one edit.
    void takeKept(int id);

    /// The test card in place of every map of colours, while one looks. `file`: where it lies; nothing is
    /// shown without.
    void setTestCard(const QString& file) { m_testCard = file; }
    bool hasTestCard() const { return !m_testCard.isEmpty(); }
    bool showsTestCard() const { return m_showsCard; }
    void showTestCard(bool on);

    // Channels that are shown as if they had no line, while one looks; never exported so.
    const std::set<std::string>& channelsOff() const { return m_channelsOff; }
    void toggleChannel(const std::string& channel);
    void allChannelsOn();

    /// The step as the current look shows it; null if it is not there.
    std::optional<Step> shownStep(const std::string& id) const;

Q_SIGNALS:
    void projectChanged();
    void selectionChanged();
    void viewChanged();  ///< look here, before, the comparison, or channels that are off
    void keptChanged();
    void lookChanged();
    void openedChanged();   ///< which recipes are looked into
    void objectsChanged();  ///< which are chosen
    /// A change of what was received began this look.
    void lookBegun(const QString& look);
    void fileChanged();
    void told(const QString& sentence, bool isError);
    void progress(const QString& sentence);         ///< of what goes on behind the window
    void readingMaps();                             ///< large maps are being read: how far (arrived)
    void sourcesChanged(const QStringList& names);  ///< files that the project is made of are others now
    void mapsArrived();                             ///< more of them has been read, or all

private:
    void tookPicture(const QString& file, const Result<QImage>& picture);
    /// The same for a control or the bypass of one step: what a map is holds for all looks.
    SourceWatch::Files sourceFiles() const;
    SourceWatch m_watch{[this] { return sourceFiles(); }, std::chrono::milliseconds(250)};
    Target targetOf(const std::string& step) const;
    /// The project with a picture blended over a line, in a set of its own; `step`: the blend's id.
    Result<Project> laidOver(const Target& to, const std::filesystem::path& picture, const Line& line,
                             std::size_t index, std::string& step) const;
    /// The steps that a control of one changes: those of its set where it says so.
    std::vector<std::string> togetherWith(const Target& to, const std::string& step,
                                          const ControlSpec& control) const;
    void load(Project project, const QString& file, std::filesystem::path folder,
              std::vector<std::string> problems);
    /// What must follow when the project is another one than `before`.
    void afterHistory(const Project& before);
    /// For a step that is gone: the nearest one before it on its line that is left, or empty.
    std::string nearestTo(const std::string& step, const Project& before) const;
    void refreshColours();
    void useResources(std::unique_ptr<Resources> resources);
    void refreshRecipes();
    void refreshOpened();
    /// An inner step's control, where it stands: at the recipe's step, or in the recipe for all who use it.
    void setInner(const std::string& step, const std::string& control, const ControlValue& value,
                  std::uint64_t gesture);
    void resetInner(const std::string& step, const std::string& control);
    /// True, and told, if the step stands in an open recipe, where steps are neither added nor taken.
    bool refuseInner(const std::string& step);
    void broughtIn(const Result<BringPlan>& plan);
    void tellNotes(const QString& sentence, const std::vector<std::string>& notes);

    History m_history;
    mutable WorkedSteps m_workedSteps;
    mutable std::pair<std::uint64_t, int> m_worked{~std::uint64_t{0}, 0};  ///< of a revision
    std::unique_ptr<Resources> m_resources;
    std::shared_ptr<ModelFinder> m_models;
    std::shared_ptr<ImageStore> m_store = std::make_shared<ImageStore>();
    ImageStore::Arrived m_arrived;
    std::vector<std::string> m_problems;
    std::string m_configuration;  ///< the one that m_resources were made with
    QString m_file;
    std::string m_look, m_step;
    std::optional<Component> m_component;
    std::string m_lastLook;          ///< the one that went when it was undone
    std::set<std::string> m_beside;  ///< chosen beside m_step, on the same line
    std::optional<LookHere> m_lookHere;
    bool m_before = false;
    std::optional<Comparison> m_comparison;
    std::vector<KeptPicture> m_kept;
    int m_lastKept = 0;
    std::set<std::string> m_channelsOff;
    QString m_testCard;
    bool m_showsCard = false;
    /// With the test card and the view of a layer, if they are shown.
    Project subjectOf(Project project) const;
    LayerView m_layerView = LayerView::All;
    std::string m_viewedLayer;
    /// Where a new layer goes.
    edits::LayerWish layerWish(const QString& name) const;
    /// The fill of the chosen step's line moves right behind that step, if it is no source.
    Result<Project> behindChosen(Project next, const std::string& layer) const;
    bool takeLayer(const Target& to, Result<Project> next, const QString& name, const std::string& layer);
    bool pasteLayers(const QString& text);
    /// Copied colours: into the ramp of the chosen step if it has one, else a palette behind it.
    bool pasteColours(const QString& text);
    void insertPalette(const std::string& line, std::size_t index, const Palette& palette);
    QString copyLayers() const;
    void duplicateLayers();
    void removeLayers();
    void addLayerOfPlan(const BringPlan& plan);
    void addLayersLike(const BringPlan& plan, const KeptLayer& layer);
    std::set<std::string> m_objects;
    std::set<std::string> m_toOpen;            ///< recipes that are looked into
    std::optional<OpenRecipes> m_opened;       ///< nothing if none is
    std::vector<Shared<Recipe>> m_recipes;     ///< that m_resources know
    Catalogue m_stepsBefore = shippedSteps();  ///< what a view may still show for a moment
    std::optional<KeptLayer> m_laysLike;       ///< the folder that is read fills this
    bool m_laysOver = false;                   ///< what is read is laid over, and no project of its own
    std::optional<std::uint64_t>
        m_content;  ///< hash of the file as it was read or written last; none: there was none
    std::uint64_t m_savedRevision = 0;  ///< the revision in the file; 0: the file is not written
    std::uint64_t m_lastGesture = 0;
    BringReader m_reader;
    PictureReader m_pictureReader;
    QString m_bringing;                    ///< the folder that is read
    std::uint64_t m_bringingRevision = 0;  ///< of the project when reading began
};

}  // namespace kettle
