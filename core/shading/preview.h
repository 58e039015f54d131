// The lit picture, from coarse to fine. A Preview keeps what does not change while a slider moves (visible
// points, what they read from the maps), so that a new picture is one run of the program and one pass of
// shading.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/compile.h"
#include "core/geometry/displacement.h"
#include "core/scene/scene_store.h"
#include "core/scene/view_points.h"
#include "core/shading/display.h"
#include "core/shading/environment.h"
#include "core/shading/opacity_fields.h"
#include "core/shading/preview_side.h"
#include "core/shading/surface_points.h"

namespace kettle {

/// A picture, and with `others` more from the same place in the same light, for comparing and choosing.
/// Model, light, exposure and what is seen through on the way to the light are those of the first one's
/// project.
struct PreviewRequest : PreviewSide {
    Camera camera;
    int width = 900, height = 600;
    std::set<std::string> off;  ///< channels that are shown as if they had no line
    std::vector<PreviewSide> others;
};

class Preview {
public:
    /// models, environments: folders in which "kettle" means kettle.obj and "morning-deck" morning-deck.exr.
    Preview(std::filesystem::path models, std::filesystem::path environments);
    /// With models that others use too.
    Preview(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments);

    /// Stage 0 is coarse (a third of the size, fewer shadow rays), 1 is full with one ray a pixel, and each
    /// further one up to kLastStage adds a pass of other rays to the mean. A stage from 2 on must follow the
    /// one before with an equal request.
    static constexpr int kLastStage = 6;
    /// Errors: Missing, Unreadable (model or environment); Cancelled; NoMemory.
    Result<Picture> render(const PreviewRequest& request, const Resources& resources, int stage,
                           const CancelToken& cancel = {});
    /// As render() gives it in the end, stage by stage from 1 to kLastStage; what lies between is not brought
    /// to the display. `afterStage` is called behind each. Errors: as render().
    Result<Picture> renderAtRest(const PreviewRequest& request, const Resources& resources,
                                 const CancelToken& cancel = {},
                                 const std::function<void()>& afterStage = {});
    /// The others' pictures of the last render(), as many as there were.
    const std::vector<Picture>& others() const { return m_others; }
    /// 1 for each pixel of the last render() that shows the model, else 0; rows from the top. Valid until the
    /// next one.
    const std::vector<std::uint8_t>& covered() const;

    /// The model in use, loading it if needed. Errors: those of loadMesh.
    Result<std::shared_ptr<const RayScene>> scene(const std::string& model, const std::string& unit = "auto");
    const std::vector<std::string>& problems() const { return m_problems; }
    /// Sum of what is kept beside the maps, in bytes.
    std::size_t bytesInUse() const;

private:
    /// What a side's picture was made of, group by group, and the picture: made again only if that changes.
    struct Shown {
        std::vector<Program> programs;
        std::vector<std::vector<std::uint64_t>> parts;
        std::string settings;
        std::vector<Vec3> pixels;  ///< linear
        bool isNew = true;         ///< made by the last render()
        Picture displayed;         ///< what they gave on the screen, of one pass; empty: not kept
        std::string displayedBy;
        /// Where something is seen through: of each group what each point sends, and how much of what lies
        /// behind it it hides.
        std::vector<std::vector<Vec3>> sent;
        std::vector<std::vector<float>> hiding;
        std::size_t byteSize() const;
    };
    /// One stage's view.
    struct Kept {
        std::shared_ptr<const RayScene> scene;
        std::string environment;
        Camera camera;
        int width = 0, height = 0;
        double turn = 0, softness = 0;
        bool ground = true;
        bool places = false;                ///< its points know where they lie on the model
        std::uint64_t seeThrough = 0;       ///< what the light passes; 0: nothing
        std::vector<bool> goesOn;           ///< parts that are seen through
        std::vector<std::string> surfaces;  ///< in this order they are told apart by `ofPart`
        std::vector<int> ofPart;
        ViewPoints view;  ///< without its points, which the groups have
        std::vector<SurfacePoints> groups;
        std::vector<std::uint8_t> covered;  ///< of each pixel
        std::vector<Shown> shown;
        std::size_t byteSize() const;
    };
    /// A side of a request with what is looked up once for it.
    struct Task;
    /// Without `shows` the picture is empty.
    Result<Picture> renderStage(const PreviewRequest& request, const Resources& resources, int stage,
                                const CancelToken& cancel, bool shows);
    Result<std::shared_ptr<const Environment>> environment(const std::string& name, const ImageStore& store);
    Result<Kept*> keep(const PreviewRequest& request, const Resources& resources, int stage,
                       const CancelToken& cancel);
    /// What a side's program of one surface gives, on the way into its picture.
    struct SideOfSurface;
    bool shadeViews(const std::vector<Task>& tasks, Kept& kept);
    bool shadeSurface(const std::vector<Task>& tasks, Kept& kept, std::size_t group,
                      const std::vector<bool>& isNew);
    bool runTogether(const std::vector<Task>& tasks, Kept& kept, std::size_t group,
                     std::vector<SideOfSurface>& sides);
    void shadeSide(const Task& task, const Kept& kept, std::size_t group, const SideOfSurface& side,
                   Shown& shown);
    /// Of sides that are seen through: lays their points over the ground, the farthest first.
    static void joinLayers(const Task& task, const Kept& kept, Shown& shown);
    /// What is seen through in any side's picture: parts, and the first side's on the way to the light.
    struct Openings {
        const SeeThrough* seeThrough = nullptr;
        std::uint64_t id = 0;
        std::vector<bool> goesOn;
    };
    Openings openingsOf(const PreviewRequest& request, const Resources& resources, const Mesh& mesh,
                        const CancelToken& cancel);
    std::vector<OpacityFields> m_opacity;  ///< of each side
    /// True if a step of a side reads where a point lies on the model, as the side's look shows it.
    bool followsModel(const PreviewSide& side, const Catalogue& steps);
    /// Lines, by their places in the project, none of whose steps can: they are not looked through again.
    std::vector<std::optional<Shared<Line>>> m_plain;
    std::optional<Catalogue> m_plainBy;  ///< the steps that they were looked up in

    std::filesystem::path m_environments;
    std::shared_ptr<SceneStore> m_scenes;
    std::map<std::string, std::shared_ptr<const Environment>> m_lights;
    std::array<Kept, kLastStage + 1> m_kept;
    /// A side's pixels as the screen shows them; what is as it was is not made again.
    Picture displayOf(const PreviewRequest& request, const Resources& resources, Kept& kept, std::size_t side,
                      int stage);
    /// The mean of a side's passes up to this stage, which begins with those of stage 1; the pixels
    /// themselves where there is but one.
    const std::vector<Vec3>& meanOf(const std::vector<Vec3>& pixels, std::size_t side, int stage);
    std::vector<std::vector<Vec3>> m_sums;  ///< of passes, by side
    std::vector<Vec3> m_mean;
    /// The ground's shadow, which no camera changes: a coarse net for coarse pictures and a fine one.
    struct Ground {
        std::shared_ptr<const RayScene> scene;
        Vec3 keyDirection;
        float keyRadius = 0;
        std::uint64_t seeThrough = 0;
        std::optional<GroundShade> shade;
        bool isPrepared = false;  ///< lies beside the prepared maps
    };
    /// `model`: whose scene it is, if it is that as it lies in its file; else null. With `keeps` it is kept
    /// beside the prepared maps.
    const GroundShade* groundOf(const std::shared_ptr<const RayScene>& scene, const ViewOptions& options,
                                std::uint64_t seeThrough, int size, const ViewSettings* model,
                                const ImageStore& store, bool keeps);
    std::array<Ground, 2> m_grounds;
    /// The model moved by its heights, and what that was made of.
    struct Displaced {
        std::shared_ptr<const RayScene> from;
        std::shared_ptr<RayScene> scene;
        float longest = 0;  ///< edge, cm
        double depth = 0, middle = 0;
        std::vector<Program> programs;
        std::vector<std::uint64_t> parts;
        std::shared_ptr<const MovableMesh> fine;  ///< tessellated, not yet moved
        float footprint = 0;                      ///< of its edges in texture space, on the whole
    };
    /// The model as a finer stage shows it: moved, where the view and a height line say so.
    Result<std::shared_ptr<const RayScene>> displaced(const PreviewRequest& request,
                                                      const Resources& resources,
                                                      const std::shared_ptr<const RayScene>& from,
                                                      const CancelToken& cancel);
    /// Gives the displaced scene this shape.
    void moveTo(std::shared_ptr<const Mesh> mesh);
    Displaced m_displaced;
    std::vector<Plane> m_outputs;
    std::vector<std::string> m_problems;
    std::vector<Picture> m_others;
    const Kept* m_last = nullptr;  ///< what the last picture was made from; one of m_kept
};

}  // namespace kettle
