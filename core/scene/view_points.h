// The camera, and the visible points of a model from it: where each pixel's ray meets the surface, with
// everything that shading needs and that does not change while the artist moves a slider.
#pragma once

#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

#include "core/base/large_array.h"
#include "core/engine/run.h"
#include "core/scene/rays.h"
#include "core/scene/see_through.h"

namespace kettle {

/// Turns around a target. Angles in degrees, lengths in centimetres.
struct Camera {
    Vec3 target;
    float distance = 60;
    float turn = 28;         ///< around the vertical; 0 looks along -z
    float tilt = 14;         ///< above the horizon
    float fieldOfView = 28;  ///< vertical
    bool operator==(const Camera&) const = default;

    /// Where the camera stands, in centimetres.
    Vec3 position() const;
    /// Shows all of a mesh, or of those of its parts, from the current direction in a picture of the given
    /// width / height.
    void frame(const Mesh& mesh, float aspect, const std::vector<bool>& parts = {});
};

/// One visible point beside its place in texture space.
struct Surfel {
    Vec3 normal, tangent, view;  ///< unit; `view` points to the camera
    float side = 1;              ///< of the tangent
    float keyLight = 1;          ///< how much of the key light arrives, 0..1
    float openness = 1;          ///< how much of the sky is not hidden by the model, 0..1
    std::uint32_t pixel = 0;     ///< row * width + column
    std::uint16_t part = 0;
    std::uint8_t layer = 0;  ///< how many points of its pixel lie before it
};

/// A pixel beside the model: how bright the ground is there, 1 away from any shadow.
struct GroundPixel {
    std::uint32_t pixel;
    float shade;
};

struct ViewPoints {
    int width = 0, height = 0;
    PointSet points;  ///< in tiles of 32 x 32 pixels, which keeps neighbouring lookups near
    LargeArray<Surfel> surfels;
    LargeArray<GroundPixel> ground;  ///< also behind what is seen through
};

/// How dark the ground around a model is in a light, which no camera changes: a net of places, densest under
/// the model.
class GroundShade {
public:
    /// Casts its shadow rays, twelve a light and place, for a net of `size` x `size` places. `keyDirection`,
    /// `keyRadius`: as in ViewOptions. Threads: uses all.
    GroundShade(const RayScene& scene, Vec3 keyDirection, float keyRadius, int size,
                const SeeThrough* seeThrough = nullptr);
    /// One that was cast before: `lit` is what its lit() was.
    GroundShade(std::vector<float> lit, int size) : m_size(size), m_lit(std::move(lit)) {}
    /// What arrives at each place, 0..1, row by row.
    const std::vector<float>& lit() const { return m_lit; }
    /// What arrives at a place on the ground, 0..1; `x` and `z` from the model's middle in its own sizes.
    float at(float x, float z) const;

private:
    void smooth();
    int m_size;
    std::vector<float> m_lit;
};

struct ViewOptions {
    Vec3 keyDirection{0.3f, 0.8f, 0.5f};  ///< towards the light, unit
    float keyRadius = 4;                  ///< half the light's angle in degrees: softens its shadow
    Vec2 jitter{0.5f, 0.5f};              ///< where in the pixel the rays go
    int firstRay = 0;                     ///< of the shadow rays; a pass goes on where the last one ended
    int shadowRays = 4;                   ///< 1 to 4 a light and point
    bool groundShadow = true;
    bool places = false;                  ///< tell the points' places on the mesh
    const GroundShade* ground = nullptr;  ///< looked up instead of cast, where it is known
    /// What is seen through on the way to the light.
    const SeeThrough* seeThrough = nullptr;
    /// By part: a pixel's ray goes on behind it, through at most kMostLayers. Parts beyond are the last ones.
    std::vector<bool> goesOn{};
    static constexpr int kMostLayers = 6;
};

/// Casts one ray a pixel, which goes on where something is seen through. Empty parts if cancelled. Threads:
/// uses all.
ViewPoints castView(const RayScene& scene, const Camera& camera, int width, int height,
                    const ViewOptions& options, const CancelToken& cancel = {});

/// The point of the surface under a place of the picture (0..1, from the top left), for the probe.
struct SurfacePoint {
    bool found = false;
    float u = 0, v = 0;
    std::uint16_t part = 0;
    Vec3 position;
};
/// `aspect`: width / height of the picture. Not found beside the model. Threads: safe.
SurfacePoint surfaceAt(const RayScene& scene, const Camera& camera, float aspect, float x, float y);

/// And back: where a point of the world stands in the picture, 0..1 from the top left, hidden or not; nothing
/// behind the camera.
std::optional<Vec2> pictureOf(const Camera& camera, float aspect, Vec3 position);

}  // namespace kettle
