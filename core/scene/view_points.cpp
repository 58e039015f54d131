#include "core/scene/view_points.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"

namespace kettle {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;
constexpr int kTile = 32;
float radians(float degrees) {
    return degrees * kPi / 180.0f;
}

/// The camera's axes and the size of the picture plane at distance 1.
struct Frame {
    Vec3 from, right, up, forward;
    float halfWidth, halfHeight;
    Frame(const Camera& camera, float aspect) : from(camera.position()) {
        forward = normalised(camera.target - from);
        right = normalised(cross(forward, {0, 1, 0}));
        up = cross(right, forward);
        halfHeight = std::tan(radians(camera.fieldOfView) / 2);
        halfWidth = halfHeight * aspect;
    }
    /// x, y in 0..1 from the top left
    Vec3 direction(float x, float y) const {
        return normalised(forward + right * ((2 * x - 1) * halfWidth) + up * ((1 - 2 * y) * halfHeight));
    }
};

/// Two axes across a unit vector. Source: Duff and others, Building an Orthonormal Basis, Revisited, 2017.
void basis(Vec3 n, Vec3& a, Vec3& b) {
    const float s = std::copysign(1.0f, n.z), k = -1.0f / (s + n.z), m = n.x * n.y * k;
    a = {1 + s * n.x * n.x * k, s * m, -s * n.x};
    b = {m, s + n.y * n.y * k, -n.y};
}

/// Four well-spread places on a disc, turned by the pixel's own hash: equal areas outwards, golden angles
/// round.
struct FourOnDisc {
    std::array<float, 4> radius, x, y;
    explicit FourOnDisc(std::uint64_t seed) {
        // cos and sin of i golden angles.
        static const auto kRound = [] {
            std::array<Vec2, 4> round;
            for (std::size_t i = 0; i < 4; ++i) {
                const float angle = 2 * kPi * 0.61803399f * static_cast<float>(i);
                round[i] = {std::cos(angle), std::sin(angle)};
            }
            return round;
        }();
        const float shift = unitFloat(mixBits(seed)), angle = 2 * kPi * unitFloat(mixBits(seed + 17));
        const float c = std::cos(angle), s = std::sin(angle);
        for (std::size_t i = 0; i < 4; ++i) {
            radius[i] = std::sqrt((static_cast<float>(i) + shift) * 0.25f);
            x[i] = radius[i] * (c * kRound[i].x - s * kRound[i].y);
            y[i] = radius[i] * (s * kRound[i].x + c * kRound[i].y);
        }
    }
};

class Caster {
public:
    Caster(const RayScene& scene, const ViewOptions& options) : m_scene(scene), m_options(options) {
        basis(options.keyDirection, m_across, m_along);
        m_spreadAngle = std::tan(radians(options.keyRadius));
        Vec3 low, high;
        scene.mesh().bounds(low, high);
        m_floor = low.y;
        m_size = length(high - low);
        m_centre = (low + high) * 0.5f;
    }
    float floorHeight() const { return m_floor; }
    Vec3 centre() const { return m_centre; }
    float size() const { return m_size; }

    float keyLight(Vec3 at, std::uint64_t seed) const {
        const FourOnDisc disc(seed);
        std::array<Vec3, 4> rays;
        for (std::size_t i = 0; i < 4; ++i)
            rays[i] = normalised(m_options.keyDirection + m_across * (disc.x[i] * m_spreadAngle) +
                                 m_along * (disc.y[i] * m_spreadAngle));
        return 0.25f * static_cast<float>(m_scene.openOfFour(at, rays.data(), m_size * 2e-4f, m_size * 4));
    }

    /// Cosine-weighted; what blocks nearer than the model's own size counts.
    float openness(Vec3 at, Vec3 normal, std::uint64_t seed) const {
        Vec3 a, b;
        basis(normal, a, b);
        const FourOnDisc disc(seed + 99);
        std::array<Vec3, 4> rays;
        for (std::size_t i = 0; i < 4; ++i)
            rays[i] = a * disc.x[i] + b * disc.y[i] + normal * std::sqrt(1 - disc.radius[i] * disc.radius[i]);
        return 0.25f * static_cast<float>(m_scene.openOfFour(at, rays.data(), m_size * 2e-4f, m_size * 0.6f));
    }

private:
    const RayScene& m_scene;
    const ViewOptions& m_options;
    Vec3 m_across, m_along, m_centre;
    float m_spreadAngle = 0, m_floor = 0, m_size = 1;
};

Vec3 lerp3(Vec3 a, Vec3 b, Vec3 c, float b1, float b2) {
    return a * (1 - b1 - b2) + b * b1 + c * b2;
}

/// How much texture space a centimetre of the triangle covers.
float uvDensity(const Mesh& mesh, const std::uint32_t* t) {
    const Vec3 e1 = mesh.positions[t[1]] - mesh.positions[t[0]],
               e2 = mesh.positions[t[2]] - mesh.positions[t[0]];
    const Vec2 f1 = mesh.uvs[t[1]] - mesh.uvs[t[0]], f2 = mesh.uvs[t[2]] - mesh.uvs[t[0]];
    const float area = length(cross(e1, e2)), uvArea = std::fabs(f1.x * f2.y - f1.y * f2.x);
    return area > 0 ? std::sqrt(uvArea / area) : 0.0f;
}

struct TilePoints {
    std::vector<float> u, v, footprint;
    std::vector<Surfel> surfels;
    std::vector<GroundPixel> ground;
};

void castPixel(const RayScene& scene, const Caster& caster, const Frame& frame, const ViewOptions& options,
               int width, int height, int x, int y, TilePoints& out) {
    const auto pixel = static_cast<std::uint32_t>(y * width + x);
    const std::uint64_t seed = combine(pixel, options.pass);
    const Vec3 d = frame.direction((static_cast<float>(x) + options.jitter.x) / static_cast<float>(width),
                                   (static_cast<float>(y) + options.jitter.y) / static_cast<float>(height));
    const Hit hit = scene.cast(frame.from, d, 0);
    if (!hit.found) {
        const float floor = caster.floorHeight();
        if (d.y > -1e-4f || frame.from.y < floor) return;
        const Vec3 at = frame.from + d * ((floor - frame.from.y) / d.y);
        const Vec3 away = at - Vec3{caster.centre().x, floor, caster.centre().z};
        const float fade = 1 - smoothStep(0.6f, 2.0f, length(away) / caster.size());
        if (fade <= 0) return;
        const float lit = 0.45f * caster.keyLight(at, seed) + 0.55f * caster.openness(at, {0, 1, 0}, seed);
        out.ground.push_back({pixel, 1 - 0.75f * fade * (1 - lit)});
        return;
    }
    const Mesh& mesh = scene.mesh();
    const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(hit.triangle) * 3];
    Surfel s;
    s.pixel = pixel;
    s.part = mesh.trianglePart[hit.triangle];
    s.view = -d;
    s.normal = normalised(lerp3(mesh.normals[t[0]], mesh.normals[t[1]], mesh.normals[t[2]], hit.b1, hit.b2));
    Vec3 face = normalised(
        cross(mesh.positions[t[1]] - mesh.positions[t[0]], mesh.positions[t[2]] - mesh.positions[t[0]]));
    // Both sides of a sheet are shown: turn what faces away.
    if (dot(face, s.view) < 0) face = -face;
    if (dot(s.normal, face) < 0) s.normal = -s.normal;
    s.tangent = lerp3(mesh.tangents[t[0]].direction, mesh.tangents[t[1]].direction,
                      mesh.tangents[t[2]].direction, hit.b1, hit.b2);
    s.tangent = normalised(s.tangent - s.normal * dot(s.tangent, s.normal));
    s.side = mesh.tangents[t[0]].side;
    const Vec3 at = frame.from + d * hit.distance + face * (caster.size() * 2e-4f);
    s.keyLight = dot(face, options.keyDirection) > 0 ? caster.keyLight(at, seed) : 0.0f;
    s.openness = caster.openness(at, s.normal, seed);
    const Vec2 a = mesh.uvs[t[0]], b = mesh.uvs[t[1]], c = mesh.uvs[t[2]];
    const Vec2 uv = a * (1 - hit.b1 - hit.b2) + b * hit.b1 + c * hit.b2;
    out.u.push_back(uv.x);
    out.v.push_back(uv.y);
    const float pixelSize = hit.distance * 2 * frame.halfHeight / static_cast<float>(height);
    const float slant = std::sqrt(std::max(0.1f, dot(face, s.view)));
    // Without texture coordinates a map shows its mean.
    const bool hasUv = s.part >= mesh.partHasUv.size() || mesh.partHasUv[s.part] != 0;
    out.footprint.push_back(hasUv ? pixelSize / slant * uvDensity(mesh, t) : 1.0f);
    out.surfels.push_back(s);
}

}  // namespace

Vec3 Camera::position() const {
    const float a = radians(turn), b = radians(tilt);
    return target + Vec3{std::sin(a) * std::cos(b), std::sin(b), std::cos(a) * std::cos(b)} * distance;
}

void Camera::frame(const Mesh& mesh, float aspect) {
    Vec3 low, high;
    mesh.bounds(low, high);
    target = (low + high) * 0.5f;
    distance = 1;
    const Frame axes(*this, aspect);
    float needed = 1;
    for (const Vec3& p : mesh.positions) {
        const Vec3 d = p - target;
        const float depth = dot(d, axes.forward);
        needed = std::max({needed, std::fabs(dot(d, axes.right)) / axes.halfWidth - depth,
                           std::fabs(dot(d, axes.up)) / axes.halfHeight - depth});
    }
    distance = needed * 1.16f;
}

ViewPoints castView(const RayScene& scene, const Camera& camera, int width, int height,
                    const ViewOptions& options, const CancelToken& cancel) {
    const Frame frame(camera, static_cast<float>(width) / static_cast<float>(height));
    const Caster caster(scene, options);
    const int columns = (width + kTile - 1) / kTile, rows = (height + kTile - 1) / kTile;
    std::vector<TilePoints> tiles(static_cast<std::size_t>(columns * rows));
    parallelFor(tiles.size(), 2, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !cancel.isCancelled(); ++i) {
            const int left = static_cast<int>(i) % columns * kTile,
                      top = static_cast<int>(i) / columns * kTile;
            for (int y = top; y < std::min(top + kTile, height); ++y)
                for (int x = left; x < std::min(left + kTile, width); ++x)
                    castPixel(scene, caster, frame, options, width, height, x, y, tiles[i]);
        }
    });
    ViewPoints view;
    view.width = width;
    view.height = height;
    std::size_t count = 0;
    for (const TilePoints& tile : tiles) count += tile.u.size();
    view.points = {Plane(count), Plane(count), Plane(count)};
    view.surfels.reserve(count);
    std::size_t at = 0;
    for (const TilePoints& tile : tiles) {
        std::copy(tile.u.begin(), tile.u.end(), view.points.u.data() + at);
        std::copy(tile.v.begin(), tile.v.end(), view.points.v.data() + at);
        std::copy(tile.footprint.begin(), tile.footprint.end(), view.points.footprint.data() + at);
        view.surfels.insert(view.surfels.end(), tile.surfels.begin(), tile.surfels.end());
        view.ground.insert(view.ground.end(), tile.ground.begin(), tile.ground.end());
        at += tile.u.size();
    }
    return view;
}

SurfacePoint surfaceAt(const RayScene& scene, const Camera& camera, float aspect, float x, float y) {
    const Frame frame(camera, aspect);
    const Hit hit = scene.cast(frame.from, frame.direction(x, y), 0);
    if (!hit.found) return {};
    const Mesh& mesh = scene.mesh();
    const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(hit.triangle) * 3];
    const Vec2 uv =
        mesh.uvs[t[0]] * (1 - hit.b1 - hit.b2) + mesh.uvs[t[1]] * hit.b1 + mesh.uvs[t[2]] * hit.b2;
    return {true, uv.x, uv.y, mesh.trianglePart[hit.triangle]};
}

}  // namespace kettle
