#include "core/scene/rays.h"

#include <embree3/rtcore.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <limits>
#include <new>

namespace kettle {
namespace {
/// On some processors the library keeps to narrow trees, so as not to lower their clock; our kernels use wide
/// vectors all the time, so nothing is saved by that, and packs of rays cost a twentieth more.
constexpr const char* kLibrarySettings = "frequency_level=simd256";
}  // namespace

struct RayScene::Impl {
    RTCDevice device = nullptr;
    RTCScene scene = nullptr;
    RTCGeometry geometry = nullptr;  ///< of a moving one
    void* vertices = nullptr;

    Impl() = default;
    Impl(const Impl&) = delete;
    Impl& operator=(const Impl&) = delete;
    ~Impl() {
        if (scene != nullptr) rtcReleaseScene(scene);
        if (device != nullptr) rtcReleaseDevice(device);
    }
    /// A scene that could not be built must not be traced. The library's errors here are those of missing
    /// memory: what a mesh holds was checked when it was read.
    void needSound() const {
        if (rtcGetDeviceError(device) != RTC_ERROR_NONE) throw std::bad_alloc();
    }
};

RayScene::RayScene(std::shared_ptr<const Mesh> mesh, Use use)
    : m_mesh(std::move(mesh)), m_impl(std::make_unique<Impl>()) {
    m_impl->device = rtcNewDevice(kLibrarySettings);
    if (m_impl->device == nullptr) throw std::bad_alloc();
    m_impl->scene = rtcNewScene(m_impl->device);
    m_impl->needSound();
    RTCGeometry geometry = rtcNewGeometry(m_impl->device, RTC_GEOMETRY_TYPE_TRIANGLE);
    void* vertices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                             sizeof(Vec3), m_mesh->positions.size());
    void* indices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                            3 * sizeof(std::uint32_t), m_mesh->triangleCount());
    if (vertices == nullptr || indices == nullptr) {
        rtcReleaseGeometry(geometry);
        throw std::bad_alloc();
    }
    std::memcpy(vertices, m_mesh->positions.data(), m_mesh->positions.size() * sizeof(Vec3));
    std::memcpy(indices, m_mesh->indices.data(), m_mesh->indices.size() * sizeof(std::uint32_t));
    const bool isMoving = use == Use::Moving;
    if (isMoving) {
        m_impl->geometry = geometry, m_impl->vertices = vertices;
        rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_REFIT);
    }
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(m_impl->scene, geometry);
    rtcReleaseGeometry(geometry);  // the scene holds it
    // Built once, asked millions of times; or built once, and its boxes fitted anew.
    rtcSetSceneFlags(m_impl->scene, isMoving ? RTC_SCENE_FLAG_CONTEXT_FILTER_FUNCTION | RTC_SCENE_FLAG_DYNAMIC
                                             : RTC_SCENE_FLAG_CONTEXT_FILTER_FUNCTION);
    rtcSetSceneBuildQuality(m_impl->scene, isMoving ? RTC_BUILD_QUALITY_LOW : RTC_BUILD_QUALITY_HIGH);
    rtcCommitScene(m_impl->scene);
    m_impl->needSound();
}

void RayScene::move(std::shared_ptr<const Mesh> mesh) {
    m_mesh = std::move(mesh);
    if (m_impl->vertices == nullptr) return;
    std::memcpy(m_impl->vertices, m_mesh->positions.data(), m_mesh->positions.size() * sizeof(Vec3));
    rtcUpdateGeometryBuffer(m_impl->geometry, RTC_BUFFER_TYPE_VERTEX, 0);
    rtcCommitGeometry(m_impl->geometry);
    rtcCommitScene(m_impl->scene);
    m_impl->needSound();
}

RayScene::~RayScene() = default;

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

namespace {
/// Of rays that go nearly the same way. Less than half a pack is quicker ray by ray, as the library does it
/// with those that do not.
void intersectAlike(RTCScene scene, RTCRayHit16& pack, std::size_t count) {
    const Lanes lanes(count);
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    if (count > RayScene::kPack / 2) context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    rtcIntersect16(lanes.valid, scene, &context, &pack);
}
void intersect(RTCScene scene, RTCRayHit16& pack, std::size_t count, Hit hits[]) {
    for (std::size_t i = 0; i < count; ++i) pack.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
    intersectAlike(scene, pack, count);
    for (std::size_t i = 0; i < count; ++i)
        hits[i] = pack.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID
                      ? Hit{}
                      : Hit{true, pack.hit.primID[i], pack.ray.tfar[i], pack.hit.u[i], pack.hit.v[i]};
}
}  // namespace

void RayScene::castPack(Vec3 from, const Vec3 directions[], std::size_t count, Hit hits[]) const {
    alignas(64) RTCRayHit16 pack{};
    for (std::size_t i = 0; i < count; ++i)
        fillLane(pack.ray, i, from, directions[i], 0, std::numeric_limits<float>::infinity());
    intersect(m_impl->scene, pack, count, hits);
}

void RayScene::distancesOfPack(const Pack& rays, std::size_t count, float distances[]) const {
    alignas(64) RTCRayHit16 pack;
    std::copy_n(rays.fromX, kPack, pack.ray.org_x), std::copy_n(rays.x, kPack, pack.ray.dir_x);
    std::copy_n(rays.fromY, kPack, pack.ray.org_y), std::copy_n(rays.y, kPack, pack.ray.dir_y);
    std::copy_n(rays.fromZ, kPack, pack.ray.org_z), std::copy_n(rays.z, kPack, pack.ray.dir_z);
    std::fill_n(pack.ray.tnear, kPack, 0.0f), std::fill_n(pack.ray.time, kPack, 0.0f);
    std::fill_n(pack.ray.tfar, kPack, std::numeric_limits<float>::infinity());
    std::fill_n(pack.ray.mask, kPack, ~0u);
    std::fill_n(pack.ray.id, kPack, 0u), std::fill_n(pack.ray.flags, kPack, 0u);
    std::fill_n(pack.hit.geomID, kPack, RTC_INVALID_GEOMETRY_ID);
    intersectAlike(m_impl->scene, pack, count);
    // Where nothing is met it is still as far as it was told.
    std::copy_n(pack.ray.tfar, count, distances);
}

void RayScene::castPackBeyond(Vec3 from, const Vec3 directions[], const float nearest[], std::size_t count,
                              Hit hits[]) const {
    alignas(64) RTCRayHit16 pack{};
    for (std::size_t i = 0; i < count; ++i)
        fillLane(pack.ray, i, from, directions[i], nearest[i], std::numeric_limits<float>::infinity());
    intersect(m_impl->scene, pack, count, hits);
}

namespace {
/// A query's context with what its filter needs: the library hands the filter a pointer to its first member.
struct ThroughContext {
    RTCIntersectContext context;
    const Mesh* mesh;
    const SeeThrough* seeThrough;
    /// A tree that splits triangles asks about one of them several times, and on the edge between two both
    /// are met: what lies equally far is one. The last ones of each ray.
    static constexpr std::size_t kAsked = 8;
    std::array<std::array<float, kAsked>, RayScene::kPack> asked;
    std::array<std::size_t, RayScene::kPack> count{};
    std::array<float, RayScene::kPack> let;

    bool wasAsked(std::size_t ray, float distance) {
        const std::size_t known = std::min(count[ray], kAsked);
        for (std::size_t i = 0; i < known; ++i)
            if (std::fabs(asked[ray][i] - distance) <= 2e-5f * distance) return true;
        asked[ray][count[ray]++ % kAsked] = distance;
        return false;
    }
};

/// Below this nothing arrives that is seen.
constexpr float kNothing = 1.0f / 512;

/// Lets a ray pass a triangle, weakened, or ends it there.
void passThrough(const RTCFilterFunctionNArguments* args) {
    auto& c = *reinterpret_cast<ThroughContext*>(args->context);
    const Mesh& mesh = *c.mesh;
    for (unsigned i = 0; i < args->N; ++i) {
        if (args->valid[i] != -1) continue;
        const unsigned triangle = RTCHitN_primID(args->hit, args->N, i);
        const std::size_t ray = RTCRayN_id(args->ray, args->N, i);
        const OpacityPictures* opacity = c.seeThrough->of(mesh.trianglePart[triangle]);
        if (opacity == nullptr) {
            c.let[ray] = 0;
            continue;
        }
        if (!c.wasAsked(ray, RTCRayN_tfar(args->ray, args->N, i))) {
            const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(triangle) * 3];
            const float b1 = RTCHitN_u(args->hit, args->N, i), b2 = RTCHitN_v(args->hit, args->N, i);
            const Vec2 uv = mesh.uvs[t[0]] * (1 - b1 - b2) + mesh.uvs[t[1]] * b1 + mesh.uvs[t[2]] * b2;
            c.let[ray] *= 1 - opacity->at(uv.x, uv.y);
        }
        if (c.let[ray] > kNothing)
            args->valid[i] = 0;
        else
            c.let[ray] = 0;
    }
}
}  // namespace

void RayScene::throughPack(const Vec3 from[], const Vec3 directions[], std::size_t count, float nearest,
                           float farthest, bool alike, const SeeThrough& seeThrough, float let[]) const {
    const Lanes lanes(count);
    alignas(64) RTCRay16 rays;
    for (std::size_t i = 0; i < count; ++i) {
        fillLane(rays, i, from[i], directions[i], nearest, farthest);
        rays.id[i] = static_cast<unsigned>(i);
    }
    ThroughContext through;
    rtcInitIntersectContext(&through.context);
    through.context.filter = passThrough;
    if (alike) through.context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    through.mesh = m_mesh.get();
    through.seeThrough = &seeThrough;
    through.let.fill(1);
    rtcOccluded16(lanes.valid, m_impl->scene, &through.context, &rays);
    std::copy_n(through.let.begin(), count, let);
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
