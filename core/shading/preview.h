// The lit picture, from coarse to fine. A Preview keeps what does not change while a slider moves (visible
// points, what they read from the maps), so that a new picture is one run of the program and one pass of
// shading.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/compile.h"
#include "core/scene/scene_store.h"
#include "core/scene/view_points.h"
#include "core/shading/environment.h"
#include "core/shading/surface_points.h"

namespace kettle {

/// 8-bit display pixels, 0xAARRGGBB, rows from the top.
struct Picture {
    int width = 0, height = 0;
    std::vector<std::uint32_t> pixels;
    /// True before anything was rendered.
    bool empty() const { return pixels.empty(); }
};

/// A result to show in place of the surface.
struct LookHere {
    std::string line, after;
    std::string component;  ///< empty: the whole value
    bool operator==(const LookHere&) const = default;
};

struct PreviewRequest {
    Project project;
    std::string look;
    std::optional<LookHere> lookHere;
    Camera camera;
    int width = 900, height = 600;
};

class Preview {
public:
    /// models, environments: folders in which "kettle" means kettle.obj and "morning-deck" morning-deck.exr.
    Preview(std::filesystem::path models, std::filesystem::path environments);
    /// With models that others use too.
    Preview(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments);

    /// Stage 0 is coarse (a third of the size), 1 is full with one ray a pixel, and each further one up to
    /// kLastStage adds a pass of other rays to the mean. A stage from 2 on must follow the one before with an
    /// equal request.
    static constexpr int kLastStage = 6;
    /// Errors: Missing, Unreadable (model or environment); Cancelled; NoMemory.
    Result<Picture> render(const PreviewRequest& request, const Resources& resources, int stage,
                           const CancelToken& cancel = {});

    /// The model in use, loading it if needed. Errors: those of loadMesh.
    Result<std::shared_ptr<const RayScene>> scene(const std::string& model, const std::string& unit = "auto");
    const std::vector<std::string>& problems() const { return m_problems; }
    /// Sum of what is kept beside the maps, in bytes.
    std::size_t bytesInUse() const;

private:
    struct Kept {
        std::shared_ptr<const RayScene> scene;
        std::string environment;
        Camera camera;
        int width = 0, height = 0;
        double turn = 0;
        std::vector<std::string> surfaces;  ///< in this order they are told apart by `ofPart`
        std::vector<int> ofPart;
        ViewPoints view;  ///< without its points, which the groups have
        std::vector<SurfacePoints> groups;
    };
    Result<Picture> renderStage(const PreviewRequest& request, const Resources& resources, int stage,
                                const CancelToken& cancel);
    Result<std::shared_ptr<const Environment>> environment(const std::string& name);
    Result<Kept*> keep(const PreviewRequest& request, int stage, const CancelToken& cancel);
    bool shadeView(const PreviewRequest& request, const Resources& resources, Kept& kept,
                   std::vector<Vec3>& pixels, const CancelToken& cancel);
    bool shadeSurface(const PreviewRequest& request, const Resources& resources, Kept& kept,
                      SurfacePoints& group, std::vector<Vec3>& pixels, const CancelToken& cancel);

    std::filesystem::path m_environments;
    std::shared_ptr<SceneStore> m_scenes;
    std::map<std::string, std::shared_ptr<const Environment>> m_lights;
    Kept m_coarse, m_full, m_pass;
    std::vector<Vec3> m_sum;
    std::vector<Plane> m_outputs;
    std::vector<std::string> m_problems;
};

/// The grey around the model, linear, of "pale", "middle" or "dark".
float surroundOf(const std::string& name);
/// Scene-linear to display: exposure in stops, then "standard" (sRGB), "soft", which rolls highlights off, or
/// a view of the colour configuration ("ACES"); a view that is not there shows as standard.
Picture toDisplay(const std::vector<Vec3>& linear, int width, int height, double exposure,
                  const std::string& transform,
                  const ColourManagement& colours = ColourManagement::shipped());
/// The transforms to choose from: "standard", "soft", then the configuration's views.
std::vector<std::string> displayTransforms(const ColourManagement& colours);

}  // namespace kettle
