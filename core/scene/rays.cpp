#include "core/scene/rays.h"

#include <embree3/rtcore.h>

#include <cstring>
#include <limits>

namespace kettle {

struct RayScene::Impl {
    RTCDevice device = nullptr;
    RTCScene scene = nullptr;
};

RayScene::RayScene(std::shared_ptr<const Mesh> mesh)
    : m_mesh(std::move(mesh)), m_impl(std::make_unique<Impl>()) {
    m_impl->device = rtcNewDevice(nullptr);
    m_impl->scene = rtcNewScene(m_impl->device);
    RTCGeometry geometry = rtcNewGeometry(m_impl->device, RTC_GEOMETRY_TYPE_TRIANGLE);
    void* vertices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                             sizeof(Vec3), m_mesh->positions.size());
    void* indices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                            3 * sizeof(std::uint32_t), m_mesh->triangleCount());
    if (vertices != nullptr && indices != nullptr) {
        std::memcpy(vertices, m_mesh->positions.data(), m_mesh->positions.size() * sizeof(Vec3));
        std::memcpy(indices, m_mesh->indices.data(), m_mesh->indices.size() * sizeof(std::uint32_t));
    }
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(m_impl->scene, geometry);
    rtcReleaseGeometry(geometry);
    // Built once, asked millions of times.
    rtcSetSceneBuildQuality(m_impl->scene, RTC_BUILD_QUALITY_HIGH);
    rtcCommitScene(m_impl->scene);
}

RayScene::~RayScene() {
    rtcReleaseScene(m_impl->scene);
    rtcReleaseDevice(m_impl->device);
}

namespace {
void fill(RTCRay& ray, Vec3 from, Vec3 direction, float nearest, float farthest) {
    ray.org_x = from.x, ray.org_y = from.y, ray.org_z = from.z;
    ray.dir_x = direction.x, ray.dir_y = direction.y, ray.dir_z = direction.z;
    ray.tnear = nearest;
    ray.tfar = farthest;
    ray.time = 0;
    ray.mask = ~0u;
    ray.id = 0;
    ray.flags = 0;
}
}  // namespace

Hit RayScene::cast(Vec3 from, Vec3 direction, float nearest) const {
    RTCRayHit ray{};
    fill(ray.ray, from, direction, nearest, std::numeric_limits<float>::infinity());
    ray.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(m_impl->scene, &context, &ray);
    if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return {};
    return {true, ray.hit.primID, ray.ray.tfar, ray.hit.u, ray.hit.v};
}

bool RayScene::isBlocked(Vec3 from, Vec3 direction, float nearest, float farthest) const {
    RTCRay ray{};
    fill(ray, from, direction, nearest, farthest);
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(m_impl->scene, &context, &ray);
    return ray.tfar < 0;
}

int RayScene::openOfFour(Vec3 from, const Vec3 directions[4], float nearest, float farthest) const {
    alignas(16) RTCRay4 rays{};
    for (int i = 0; i < 4; ++i) {
        rays.org_x[i] = from.x, rays.org_y[i] = from.y, rays.org_z[i] = from.z;
        rays.dir_x[i] = directions[i].x, rays.dir_y[i] = directions[i].y, rays.dir_z[i] = directions[i].z;
        rays.tnear[i] = nearest;
        rays.tfar[i] = farthest;
        rays.mask[i] = ~0u;
    }
    alignas(16) const int all[4]{-1, -1, -1, -1};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded4(all, m_impl->scene, &context, &rays);
    int open = 0;
    for (const float end : rays.tfar) open += end < 0 ? 0 : 1;
    return open;
}

}  // namespace kettle
