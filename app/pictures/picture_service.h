// The pictures' own thread. Views ask for pictures of a project; the newest request of each kind is worked
// on, coarse before fine, and answered by signals with its number. The window's thread never computes.
#pragma once

#include <QImage>
#include <QObject>
#include <QPointF>
#include <QString>
#include <array>
#include <chrono>
#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "app/pictures/compared.h"
#include "app/pictures/let_go.h"
#include "app/pictures/model_loader.h"
#include "core/analysis/board_pictures.h"
#include "core/analysis/checks.h"
#include "core/analysis/matching.h"
#include "core/analysis/transfer.h"
#include "core/geometry/mesh_facts.h"
#include "core/geometry/object_points.h"
#include "core/shading/preview.h"

namespace kettle {

struct CardPicture {
    QImage thumbnail;
    std::shared_ptr<const ResultPictures> result;  ///< never null
    const std::vector<std::uint32_t>& ribbon() const { return result->ribbon; }
    std::shared_ptr<const StepPictures::Read> read{};  ///< as StepPictures::read
    const Spread& spread() const { return result->spread; }
    std::string noEffect;  ///< why the step changes nothing; empty if it does
    std::string warning;   ///< what is wrong with its map's file; empty if nothing is
    std::string encoding;  ///< of a map: what it is read as, and whether by itself
};
using CardPictures = ByName<CardPicture>;

/// The probed place: what comes into the chosen step and what goes out of it.
struct ProbeAnswer {
    double u = 0, v = 0;
    ProbeValue before, after;
    bool hasBefore = false;
};

/// A model's edges in texture space, to be laid over the flat map; without a scene none.
struct UvEdges {
    std::shared_ptr<const RayScene> scene;
    std::vector<bool> isShown;  ///< of each part
};

/// A model's objects with what a result is on each, and on each of its parts (in the order of the mesh).
struct ObjectColours {
    std::shared_ptr<const RayScene> scene;
    std::vector<ModelObject> objects;
    Kind kind = Kind::Colour;
    std::vector<Vec3> ofObjects, ofParts;  ///< linear; a scalar's in all three
};

/// Pictures of many sides of one view.
struct CandidatePictures {
    QImage now;  ///< the first side's
    std::vector<QImage> all;
    std::vector<double> distances;  ///< mean CIEDE2000 of each from the first, over the model
    int stage = -1;                 ///< as in Preview::render; -1: there are none, and `problem` says why
    QString problem;
};

/// Something to be tried: a project that has it, and which result to look at.
struct Try {
    QString key;
    Project project;
    std::string line, after;
};

/// The other side of a flat map.
struct FlatSide {
    Project project;
    std::string look;
};

/// Draws them into a picture of the request. In a light and a dark line, so that they are seen on any map.
void paintEdges(QImage& picture, const FlatRequest& request, const UvEdges& edges);

class PictureService final : public QObject {
    Q_OBJECT

public:
    PictureService(std::filesystem::path models, std::filesystem::path environments,
                   QObject* parent = nullptr);
    ~PictureService() override;

    /// Each returns the request's number; answers to older ones may still come and are recognised by it.
    /// `still`: a picture that stands in for the other side, in the request's size; null: the request's own.
    std::uint64_t askModel(PreviewRequest request, const Resources& resources, QImage still = {});
    /// All sides of a request, from coarse to fine; candidatesReady answers each stage.
    std::uint64_t askCandidates(PreviewRequest request, const Resources& resources);
    /// Nobody looks at them any more.
    void dropCandidates();
    std::uint64_t askBoard(Project project, std::string look, const Resources& resources, double scale);
    std::uint64_t askFlat(Project project, std::string look, FlatRequest request, const Resources& resources,
                          UvEdges edges = {}, std::optional<FlatSide> other = {});
    std::uint64_t askLooks(Project project, const Resources& resources);
    /// Reads the model and the environment that a new project has, and what light needs, before somebody
    /// waits for them: behind everything else.
    void warm(const Resources& resources);
    void askProbe(Project project, std::string look, std::string line, std::string step, double u, double v,
                  const Resources& resources);
    /// The same at several places, answered together.
    std::uint64_t askProbes(Project project, std::string look, std::string line, std::string step,
                            std::vector<QPointF> places, const Resources& resources);
    /// Reads a model beside everything else; modelShapeReady or modelShapeFailed answers the newest request.
    void askModelShape(std::string model, std::string unit = "auto");
    /// The models that were read so far.
    const SceneStore& scenes() const { return *m_scenes; }
    /// The same for whoever makes pictures beside the window.
    const std::shared_ptr<SceneStore>& sceneStore() const { return m_scenes; }
    /// Where points lie on those models.
    const std::shared_ptr<FactsStore>& facts() const { return m_facts; }
    /// A Blend step in every mode, for the gallery.
    std::uint64_t askModes(Project project, std::string look, std::string step, const Resources& resources);
    /// How a Blend answers at a place.
    std::uint64_t askTransfer(Project project, std::string look, std::string step, QPointF place,
                              const Resources& resources);
    /// The mean colour of an area of a line's result after a step.
    std::uint64_t askColour(Project project, std::string look, std::string line, std::string after, Area area,
                            const Resources& resources);
    /// What a result is on every object of the model. Who asks for a list of objects and who asks for one
    /// step's copies do not wait for each other.
    enum class ObjectsFor { List, Copies };
    std::uint64_t askObjects(ObjectsFor whom, Project project, std::string look, std::string line,
                             std::string after, const Resources& resources);
    /// Small pictures of things to try, one after the other, once the rest is done.
    std::uint64_t askTries(std::vector<Try> tries, std::string look, const Resources& resources);
    /// What looks wrong in the project, once nothing else is to be done.
    std::uint64_t askChecks(Project project, std::string look, const Resources& resources);
    /// What an artist asks to have measured: the change of the project that comes of it, worked out on the
    /// thread.
    using Measure = std::function<Result<Project>(const Project&, const Resources&)>;
    std::uint64_t askMeasure(Project project, const Resources& resources, Measure measure);
    /// True when nothing is asked for or being made; for tests and for taking screenshots.
    bool isIdle() const;

    static constexpr int kRibbonRows = 14;
    static constexpr int kModeWidth = 60, kModeHeight = 36;
    static constexpr int kThumbWidth = 102, kThumbHeight = 50;
    static constexpr int kTryWidth = 96, kTryHeight = 64;

Q_SIGNALS:
    /// `stage` as in Preview::render; `problem` is empty or the first sentence about a missing map.
    /// `compared` is null without another side.
    void modelReady(quint64 number, const QImage& picture, int stage, const QString& problem,
                    const std::shared_ptr<const kettle::Compared>& compared);
    void modelFailed(quint64 number, const QString& sentence);
    /// Something could not be made at all: no memory, or a library's own failure. The service goes on.
    void failed(const QString& sentence);
    void candidatesReady(quint64 number, const std::shared_ptr<const kettle::CandidatePictures>& pictures);
    void boardReady(quint64 number, const std::shared_ptr<const kettle::CardPictures>& pictures);
    void flatReady(quint64 number, const QImage& picture,
                   const std::shared_ptr<const kettle::Compared>& compared,
                   const std::shared_ptr<const std::vector<kettle::StampCorners>>& stamps);
    void lookReady(const QString& look, const QImage& picture);
    void probeReady(const kettle::ProbeAnswer& answer);
    void probesReady(quint64 number, const std::shared_ptr<const std::vector<kettle::ProbeAnswer>>& answers);
    void modesReady(quint64 number, const std::shared_ptr<const std::map<std::string, QImage>>& pictures);
    /// Null with a sentence that says why there is none.
    void transferReady(quint64 number, const std::shared_ptr<const kettle::BlendTransfer>& transfer,
                       const QString& sentence);
    void colourReady(quint64 number, const kettle::Colour& colour);
    void colourFailed(quint64 number, const QString& sentence);
    /// Null if the model cannot be read.
    void objectsReady(quint64 number, const std::shared_ptr<const kettle::ObjectColours>& objects);
    void tryReady(quint64 number, const QString& key, const QImage& picture);
    void checksReady(quint64 number, const std::shared_ptr<const std::vector<kettle::Finding>>& findings);
    void measured(quint64 number, const kettle::Project& project);
    void measureFailed(quint64 number, const QString& sentence);
    void modelShapeReady(const std::shared_ptr<const kettle::RayScene>& scene);
    void modelShapeFailed(const QString& sentence);

private:
    struct Asked {
        Project project;
        std::string look;
        std::shared_ptr<const Resources> resources;
        std::uint64_t number = 0;
    };
    struct ModelAsked : Asked {
        PreviewRequest request;
        int stage = 0;
        QImage still;
    };
    struct BoardAsked : Asked {
        double scale = 1;
    };
    struct FlatAsked : Asked {
        FlatRequest request;
        UvEdges edges;
        std::optional<FlatSide> other;
    };
    struct ProbeAsked : Asked {
        std::string line, step;
        double u = 0, v = 0;
    };

    struct ProbesAsked : Asked {
        std::string line, step;
        std::vector<QPointF> places;
    };
    struct ModesAsked : Asked {
        std::string step;
    };
    struct TransferAsked : Asked {
        std::string step;
        QPointF place;
    };
    struct ColourAsked : Asked {
        std::string line, after;
        Area area;
    };
    struct ObjectsAsked : Asked {
        std::string line, after;
    };
    struct TriesAsked : Asked {
        std::vector<Try> tries;
    };
    struct MeasureAsked : Asked {
        Measure measure;
    };

    void work();
    bool workOnce(std::unique_lock<std::mutex>& lock);
    void makeModel(const ModelAsked& asked, const CancelToken& cancel);
    void makeCandidates(const ModelAsked& asked, const CancelToken& cancel);
    bool serveCandidates(bool isStopped, std::unique_lock<std::mutex>& lock);
    void makeBoard(const BoardAsked& asked, const CancelToken& cancel);
    bool serveBoard(std::unique_lock<std::mutex>& lock);
    void makeFlat(const FlatAsked& asked);
    void makeProbe(const ProbeAsked& asked);
    std::optional<ProbeAnswer> probeAt(const ProbeAsked& asked) const;
    void makeProbes(const ProbesAsked& asked);
    void makeModes(const ModesAsked& asked);
    void makeMeasure(const MeasureAsked& asked);
    void makeTransfer(const TransferAsked& asked);
    void makeColour(const ColourAsked& asked);
    void makeChecks(const Asked& asked, const CancelToken& cancel);
    void makeWarm(const Asked& asked);
    void makeObjects(const ObjectsAsked& asked);
    void makeNextTry(std::unique_lock<std::mutex>& lock);
    void makeNextLook(std::unique_lock<std::mutex>& lock);
    template <class A>
    bool serve(std::optional<A>& slot, void (PictureService::*make)(const A&),
               std::unique_lock<std::mutex>& lock);
    template <class A>
    bool serveInTheEnd(std::optional<A>& slot, void (PictureService::*make)(const A&, const CancelToken&),
                       std::unique_lock<std::mutex>& lock);
    bool serveModel(bool isStopped, std::unique_lock<std::mutex>& lock);
    /// Puts a request into its slot, under the lock, with its number; an urgent one stops what is fine.
    std::uint64_t submit(const std::function<void(std::uint64_t)>& change, bool isUrgent = true);

    mutable std::mutex m_mutex;
    std::condition_variable m_wake;
    bool m_stop = false, m_busy = false;
    std::uint64_t m_numbers = 0;
    std::optional<ModelAsked> m_model, m_candidates;
    QSize m_candidatesSize;  ///< of the view that was asked for last
    Camera m_candidatesCamera;
    std::optional<BoardAsked> m_board;
    std::optional<FlatAsked> m_flat;
    std::optional<ProbeAsked> m_probe;
    std::optional<ProbesAsked> m_probes;
    std::optional<ModesAsked> m_modes;
    std::optional<MeasureAsked> m_measure;
    std::optional<TransferAsked> m_transfer;
    std::optional<ColourAsked> m_colour;
    std::optional<ObjectsAsked> m_objects, m_copies;
    std::optional<TriesAsked> m_tries;
    std::size_t m_nextTry = 0;
    std::optional<Asked> m_looks, m_checks, m_warm;
    std::size_t m_nextLook = 0;
    CancelToken m_fine;       ///< stops a fine stage, and the checks, as soon as anything new is asked for
    CancelToken m_all;        ///< stops everything when the service ends
    CancelToken m_boardWork;  ///< stops the board for what is newer, but lets it keep up
    std::chrono::steady_clock::time_point m_boardDone;

    std::shared_ptr<SceneStore> m_scenes;
    std::shared_ptr<FactsStore> m_facts;
    std::unique_ptr<ModelLoader> m_loader;
    // Used on the thread alone.
    Preview m_preview, m_candidatesPreview;
    std::unique_ptr<BoardPictures> m_boardPainter, m_lookPainter;
    double m_boardScale = 0;
    LetGo<CardPictures> m_letGo;
    FlatPainter m_flatPainter, m_otherFlatPainter, m_tryPainter;
    std::thread m_thread;
};

}  // namespace kettle
