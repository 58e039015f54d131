#include "core/scene/rays.h"

#include <embree3/rtcore.h>

#include <array>
#include <cstring>
#include <limits>

namespace kettle {

struct RayScene::Impl {
    RTCDevice device = nullptr;
    RTCScene scene = nullptr;
};

RayScene::RayScene(std::shared_ptr<const Mesh> mesh, bool isBrief)
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
    rtcSetSceneBuildQuality(m_impl->scene, isBrief ? RTC_BUILD_QUALITY_LOW : RTC_BUILD_QUALITY_HIGH);
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

namespace {
/// Lanes that hold a ray.
struct Lanes {
    alignas(64) int valid[RayScene::kPack];
    explicit Lanes(std::size_t count) {
        for (std::size_t i = 0; i < RayScene::kPack; ++i) valid[i] = i < count ? -1 : 0;
    }
};

void fillLane(RTCRay16& rays, std::size_t i, Vec3 from, Vec3 direction, float nearest, float farthest) {
    rays.org_x[i] = from.x, rays.org_y[i] = from.y, rays.org_z[i] = from.z;
    rays.dir_x[i] = direction.x, rays.dir_y[i] = direction.y, rays.dir_z[i] = direction.z;
    rays.tnear[i] = nearest;
    rays.tfar[i] = farthest;
    rays.time[i] = 0;
    rays.mask[i] = ~0u;
    rays.id[i] = 0;
    rays.flags[i] = 0;
}
}  // namespace

void RayScene::castPack(Vec3 from, const Vec3 directions[], std::size_t count, Hit hits[]) const {
    std::array<Vec3, kPack> all;
    all.fill(from);
    castPack(all.data(), directions, count, hits);
}

void RayScene::castPack(const Vec3 from[], const Vec3 directions[], std::size_t count, Hit hits[]) const {
    const Lanes lanes(count);
    alignas(64) RTCRayHit16 pack{};
    for (std::size_t i = 0; i < count; ++i) {
        fillLane(pack.ray, i, from[i], directions[i], 0, std::numeric_limits<float>::infinity());
        pack.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
    }
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    rtcIntersect16(lanes.valid, m_impl->scene, &context, &pack);
    for (std::size_t i = 0; i < count; ++i)
        hits[i] = pack.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID
                      ? Hit{}
                      : Hit{true, pack.hit.primID[i], pack.ray.tfar[i], pack.hit.u[i], pack.hit.v[i]};
}

unsigned RayScene::blockedOfPack(const Vec3 from[], const Vec3 directions[], std::size_t count, float nearest,
                                 float farthest, bool alike) const {
    const Lanes lanes(count);
    alignas(64) RTCRay16 rays;
    for (std::size_t i = 0; i < count; ++i) fillLane(rays, i, from[i], directions[i], nearest, farthest);
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    if (alike) context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    rtcOccluded16(lanes.valid, m_impl->scene, &context, &rays);
    unsigned blocked = 0;
    for (std::size_t i = 0; i < count; ++i) blocked |= rays.tfar[i] < 0 ? 1u << i : 0u;
    return blocked;
}

}  // namespace kettle
