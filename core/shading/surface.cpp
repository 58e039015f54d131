#include "core/shading/surface.h"

#include "core/program/program.h"
#include "core/shading/lobes.h"

namespace kettle {

Vec2 environmentBrdf(float cosine, float roughness) {
    const SpecularTables& tables = specularTables();
    return {tables.scale.at(cosine, roughness), tables.bias.at(cosine, roughness)};
}

float sheenAlbedo(float cosine, float roughness) {
    return sheenTable().at(cosine, roughness);
}

void ShadingPlanes::set(std::size_t i, const ShadingPoint& p) {
    const std::array<float, kCount> numbers{p.normal.x,  p.normal.y,  p.normal.z, p.tangent.x,
                                            p.tangent.y, p.tangent.z, p.view.x,   p.view.y,
                                            p.view.z,    p.side,      p.keyLight, p.openness};
    for (std::size_t k = 0; k < kCount; ++k) planes[k][i] = numbers[k];
}

SurfacePlanes::SurfacePlanes(const SurfaceValues& s)
    : otherwise{s.baseColour.x,  s.baseColour.y,  s.baseColour.z,  s.metalness,     s.roughness,
                s.specularLevel, s.normal.x,      s.normal.y,      s.normal.z,      s.occlusion,
                s.emission.x,    s.emission.y,    s.emission.z,    s.coat,          s.coatRoughness,
                s.sheenColour.x, s.sheenColour.y, s.sheenColour.z, s.sheenRoughness} {}

Vec3 shade(const SurfaceValues& s, const ShadingPoint& p, const Environment& environment, float turn) {
    ShadingPlanes points(kPad);
    for (std::size_t i = 0; i < kPad; ++i) points.set(i, p);
    alignas(64) float out[3][kPad];
    shadePoints(SurfacePlanes(s), points, {&environment, turn}, 0, kPad, out[0], out[1], out[2]);
    return {out[0][0], out[1][0], out[2][0]};
}

}  // namespace kettle
