// Between a place of the picture and the surface under it.
#include "core/scene/camera_frame.h"

namespace kettle {

SurfacePoint surfaceAt(const RayScene& scene, const Camera& camera, float aspect, float x, float y) {
    const CameraFrame frame(camera, aspect);
    const Hit hit = scene.cast(frame.from, frame.direction(x, y), 0);
    if (!hit.found) return {};
    const Mesh& mesh = scene.mesh();
    const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(hit.triangle) * 3];
    const Vec2 uv =
        mesh.uvs[t[0]] * (1 - hit.b1 - hit.b2) + mesh.uvs[t[1]] * hit.b1 + mesh.uvs[t[2]] * hit.b2;
    return {true, uv.x, uv.y, mesh.trianglePart[hit.triangle],
            frame.from + frame.direction(x, y) * hit.distance};
}

std::optional<Vec2> pictureOf(const Camera& camera, float aspect, Vec3 position) {
    const CameraFrame frame(camera, aspect);
    const Vec3 to = position - frame.from;
    const float deep = dot(to, frame.forward);
    if (deep <= 1e-4f) return std::nullopt;
    return Vec2{(dot(to, frame.right) / (deep * frame.halfWidth) + 1) / 2,
                (1 - dot(to, frame.up) / (deep * frame.halfHeight)) / 2};
}

}  // namespace kettle
