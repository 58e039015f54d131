// The surface: metalness and roughness in the sense of the open surface models (glTF 2.0, OpenPBR), lit by an
// environment. Diffuse: Lambert. Specular: GGX (Walter and others 2007) with height-correlated Smith and
// Schlick's Fresnel; image light by the split sum (Karis 2013); energy that bounces between facets is given
// back (Fdez-Agüera 2019). Over it lie sheen (Estevez and Kulla 2017) and a clear coat, a second GGX lobe of
// 4 % on the surface's own normal (as glTF's clear coat has it); each takes from what is below what it
// reflects.
#pragma once

#include <array>
#include <cstddef>

#include "core/base/plane.h"
#include "core/base/vec.h"
#include "core/document/channels.h"
#include "core/shading/environment.h"

namespace kettle {

/// The surface's channels at one point; colours linear.
struct SurfaceValues {
    Vec3 baseColour{0.5f, 0.5f, 0.5f};
    float metalness = 0, roughness = 0.5f, specularLevel = 0.5f, occlusion = 1, opacity = 1;
    Vec3 normal{0, 0, 1};  ///< tangent space
    Vec3 emission;
    float coat = 0, coatRoughness = 0.1f;
    Vec3 sheenColour;
    float sheenRoughness = 0.3f;
};

/// The geometry that the light meets: unit vectors in world space.
struct ShadingPoint {
    Vec3 normal, tangent, view;
    float side = 1, keyLight = 1, openness = 1;
};

/// The same of many points, a plane for each number.
struct ShadingPlanes {
    enum Number {
        NormalX,
        NormalY,
        NormalZ,
        TangentX,
        TangentY,
        TangentZ,
        ViewX,
        ViewY,
        ViewZ,
        Side,
        KeyLight,
        Openness
    };
    static constexpr std::size_t kCount = 12;
    std::array<Plane, kCount> planes;
    ShadingPlanes() = default;
    explicit ShadingPlanes(std::size_t points) {
        for (Plane& p : planes) p = Plane(points);
    }
    void set(std::size_t i, const ShadingPoint& point);
};

/// What the surface is made of at many points: for each number a plane, or null and the number that holds for
/// all.
struct SurfacePlanes {
    using Number = SurfaceNumber;
    using enum SurfaceNumber;
    static constexpr std::size_t kCount = static_cast<std::size_t>(SheenRoughness) + 1;
    std::array<const float*, kCount> planes{};
    std::array<float, kCount> otherwise{};
    /// Neutral everywhere.
    SurfacePlanes() : SurfacePlanes(SurfaceValues{}) {}
    explicit SurfacePlanes(const SurfaceValues& everywhere);
    /// True unless the number is 0 for all points.
    bool has(Number number) const { return plane(number) != nullptr || everywhere(number) != 0; }
    const float* plane(Number number) const { return planes[static_cast<std::size_t>(number)]; }
    float everywhere(Number number) const { return otherwise[static_cast<std::size_t>(number)]; }
};

/// The light around the surface: an environment turned about the vertical by `turn` radians, its key light
/// times `keyStrength`.
struct Light {
    const Environment* environment = nullptr;
    float turn = 0;
    float keyStrength = 1;
};

/// Radiance towards the viewer at points `first` to `first + count` (multiples of kPad, or to the planes'
/// end, whose padding may be written) into red, green and blue, which begin at `first`. Never negative or NaN
/// for finite geometry. Accuracy: a white surface under uniform light stays within 2 % of white at any
/// roughness, with any coat and sheen; the processor's own kinds of vectors agree within 1e-4.
void shadePoints(const SurfacePlanes& surface, const ShadingPlanes& points, const Light& light,
                 std::size_t first, std::size_t count, float* red, float* green, float* blue);

/// The same for one point.
Vec3 shade(const SurfaceValues& surface, const ShadingPoint& point, const Environment& environment,
           float turn);

/// Scale and bias of the specular colour for image light, by cosine to the viewer and roughness: the split
/// sum's table.
Vec2 environmentBrdf(float cosine, float roughness);
/// How much of uniform light a sheen of colour 1 sends to a viewer at that cosine (0..1).
float sheenAlbedo(float cosine, float roughness);

}  // namespace kettle
