// The surface: metalness and roughness in the sense of the open surface models (glTF 2.0, OpenPBR), lit by an
// environment. Diffuse: Lambert. Specular: GGX (Walter and others 2007) with height-correlated Smith and
// Schlick's Fresnel; image light by the split sum (Karis 2013); energy that bounces between facets is given
// back (Fdez-Agüera 2019).
#pragma once

#include "core/base/vec.h"
#include "core/shading/environment.h"

namespace kettle {

/// The surface's channels at one point; colours linear.
struct SurfaceValues {
    Vec3 baseColour{0.5f, 0.5f, 0.5f};
    float metalness = 0, roughness = 0.5f, specularLevel = 0.5f, occlusion = 1, opacity = 1;
    Vec3 normal{0, 0, 1};  ///< tangent space
    Vec3 emission;
};

/// The geometry that the light meets: unit vectors in world space.
struct ShadingPoint {
    Vec3 normal, tangent, view;
    float side = 1, keyLight = 1, openness = 1;
};

/// Radiance towards the viewer. `turn` is the environment's rotation about the vertical in radians. Never
/// negative or NaN for finite input. Accuracy: a white surface under uniform light stays within 2 % of white
/// at any roughness.
Vec3 shade(const SurfaceValues& surface, const ShadingPoint& point, const Environment& environment,
           float turn);

/// Scale and bias of the specular colour for image light, by cosine to the viewer and roughness: the split
/// sum's table.
Vec2 environmentBrdf(float cosine, float roughness);

}  // namespace kettle
