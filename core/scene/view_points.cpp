#include "core/scene/view_points.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/hash.h"
#include "core/scene/camera_frame.h"

namespace kettle {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;
constexpr int kTile = 32;

/// Places on a disc, equal areas alike, by the R2 sequence (M. Roberts 2018) with a start and a turn of the
/// pixel's own: the rays of one pass after the other fill the gaps that were left.
struct OnDisc {
    static constexpr int kMost = 64;
    std::array<float, 4> radius, x, y;
    OnDisc(std::uint64_t seed, int first, int count) {
        static const auto kRound = [] {
            std::array<Vec2, kMost> round;
            for (std::size_t i = 0; i < kMost; ++i) {
                const float angle = 2 * kPi * 0.5698403f * static_cast<float>(i);
                round[i] = {std::cos(angle), std::sin(angle)};
            }
            return round;
        }();
        const float start = unitFloat(mixBits(seed)), angle = 2 * kPi * unitFloat(mixBits(seed + 17));
        const float c = std::cos(angle), s = std::sin(angle);
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i) {
            const std::size_t n = (static_cast<std::size_t>(first) + i) % kMost;
            const float along = start + 0.7548777f * static_cast<float>(n);
            radius[i] = std::sqrt(along - std::floor(along));
            x[i] = radius[i] * (c * kRound[n].x - s * kRound[n].y);
            y[i] = radius[i] * (s * kRound[n].x + c * kRound[n].y);
        }
    }
};

/// Rays that wait until a pack is full; each open one adds its share to where it belongs.
class ShadowQueue {
public:
    ShadowQueue(const RayScene& scene, float nearest, float farthest, bool alike)
        : m_scene(scene), m_nearest(nearest), m_farthest(farthest), m_alike(alike) {}
    void add(Vec3 from, Vec3 direction, float* to, float share) {
        m_from[m_count] = from, m_direction[m_count] = direction;
        m_to[m_count] = to, m_share[m_count] = share;
        if (++m_count == RayScene::kPack) flush();
    }
    void flush() {
        if (m_count == 0) return;
        const unsigned blocked =
            m_scene.blockedOfPack(m_from.data(), m_direction.data(), m_count, m_nearest, m_farthest, m_alike);
        for (std::size_t i = 0; i < m_count; ++i)
            if ((blocked >> i & 1u) == 0) *m_to[i] += m_share[i];
        m_count = 0;
    }

private:
    const RayScene& m_scene;
    float m_nearest, m_farthest;
    bool m_alike;
    std::size_t m_count = 0;
    std::array<Vec3, RayScene::kPack> m_from, m_direction;
    std::array<float*, RayScene::kPack> m_to{};
    std::array<float, RayScene::kPack> m_share{};
};

/// What is the same for every ray of a picture.
struct Surroundings {
    const RayScene& scene;
    const ViewOptions& options;
    Vec3 across, along, centre;  ///< the key light's disc, and the model's middle
    float spreadAngle, floor, size;
    Surroundings(const RayScene& s, const ViewOptions& o) : scene(s), options(o) {
        basis(o.keyDirection, across, along);
        spreadAngle = std::tan(radians(o.keyRadius));
        Vec3 low, high;
        s.mesh().bounds(low, high);
        floor = low.y;
        size = length(high - low);
        centre = (low + high) * 0.5f;
    }
};

/// The shadow rays of a tile. What arrives is 0 before, and is whole after finish().
class Shadows {
public:
    explicit Shadows(const Surroundings& around)
        : m_around(around),
          m_key(around.scene, around.size * 2e-4f, around.size * 4, true),
          m_sky(around.scene, around.size * 2e-4f, around.size * 0.6f, false) {}
    void keyLight(Vec3 at, std::uint64_t seed, float* arriving) {
        const int count = m_around.options.shadowRays;
        const OnDisc disc(seed, m_around.options.firstRay, count);
        const float spread = m_around.spreadAngle;
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i)
            m_key.add(at,
                      normalised(m_around.options.keyDirection + m_around.across * (disc.x[i] * spread) +
                                 m_around.along * (disc.y[i] * spread)),
                      arriving, 1.0f / static_cast<float>(count));
    }
    /// Cosine-weighted; what blocks nearer than the model's own size counts.
    void openness(Vec3 at, Vec3 normal, std::uint64_t seed, float* arriving) {
        Vec3 a, b;
        basis(normal, a, b);
        const int count = m_around.options.shadowRays;
        const OnDisc disc(seed + 99, m_around.options.firstRay, count);
        for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i)
            m_sky.add(at,
                      a * disc.x[i] + b * disc.y[i] + normal * std::sqrt(1 - disc.radius[i] * disc.radius[i]),
                      arriving, 1.0f / static_cast<float>(count));
    }
    void finish() {
        m_key.flush();
        m_sky.flush();
    }

private:
    const Surroundings& m_around;
    ShadowQueue m_key, m_sky;
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

/// The ground at a pixel, and what arrives there.
struct GroundPoint {
    std::uint32_t pixel = 0;
    float fade = 0, keyLight = 0, openness = 0;
};

struct TilePoints {
    std::vector<float> u, v, footprint;
    std::vector<Surfel> surfels;
    std::vector<GroundPoint> ground;
    std::vector<std::uint32_t> triangles;
    std::vector<float> b1, b2, covered;  ///< with triangles only if places are asked for
    explicit TilePoints(std::size_t most) {
        // The shadow rays write to their places.
        for (auto* list : {&u, &v, &footprint}) list->reserve(most);
        surfels.reserve(most), ground.reserve(most);
    }
};

class TileCaster {
public:
    TileCaster(const Surroundings& around, const CameraFrame& frame, int width, int height)
        : m_around(around), m_frame(frame), m_width(width), m_height(height), m_shadows(around) {}
    /// Pixels from (left, top) to before (right, bottom), at most kTile each way.
    TilePoints cast(int left, int top, int right, int bottom) {
        TilePoints out(static_cast<std::size_t>((right - left) * (bottom - top)));
        constexpr int kSide = 4;
        for (int y = top; y < bottom; y += kSide)
            for (int x = left; x < right; x += kSide)
                castBlock(x, y, std::min(x + kSide, right), std::min(y + kSide, bottom), out);
        m_shadows.finish();
        return out;
    }

private:
    void castBlock(int left, int top, int right, int bottom, TilePoints& out) {
        std::array<Vec3, RayScene::kPack> directions;
        std::array<std::uint32_t, RayScene::kPack> pixels;
        std::array<Hit, RayScene::kPack> hits;
        std::size_t count = 0;
        const Vec2 jitter = m_around.options.jitter;
        for (int y = top; y < bottom; ++y)
            for (int x = left; x < right; ++x, ++count) {
                pixels[count] = static_cast<std::uint32_t>(y * m_width + x);
                directions[count] =
                    m_frame.direction((static_cast<float>(x) + jitter.x) / static_cast<float>(m_width),
                                      (static_cast<float>(y) + jitter.y) / static_cast<float>(m_height));
            }
        m_around.scene.castPack(m_frame.from, directions.data(), count, hits.data());
        for (std::size_t i = 0; i < count; ++i) {
            const std::uint64_t seed = mixBits(pixels[i]);
            if (hits[i].found)
                addPoint(hits[i], directions[i], pixels[i], seed, out);
            else if (m_around.options.groundShadow)
                addGround(directions[i], pixels[i], seed, out);
        }
    }
    void addGround(Vec3 d, std::uint32_t pixel, std::uint64_t seed, TilePoints& out) {
        const float floor = m_around.floor;
        if (d.y > -1e-4f || m_frame.from.y < floor) return;
        const Vec3 at = m_frame.from + d * ((floor - m_frame.from.y) / d.y);
        const Vec3 away = at - Vec3{m_around.centre.x, floor, m_around.centre.z};
        const float fade = 1 - smoothStep(0.6f, 2.0f, length(away) / m_around.size);
        if (fade <= 0) return;
        if (const GroundShade* known = m_around.options.ground; known != nullptr) {
            const float lit = known->at(away.x / m_around.size, away.z / m_around.size);
            out.ground.push_back({pixel, fade, lit, lit});
            return;
        }
        GroundPoint& g = out.ground.emplace_back(GroundPoint{pixel, fade, 0, 0});
        m_shadows.keyLight(at, seed, &g.keyLight);
        m_shadows.openness(at, {0, 1, 0}, seed, &g.openness);
    }
    void addPoint(const Hit& hit, Vec3 d, std::uint32_t pixel, std::uint64_t seed, TilePoints& out) {
        const Mesh& mesh = m_around.scene.mesh();
        const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(hit.triangle) * 3];
        Surfel& s = out.surfels.emplace_back();
        s.pixel = pixel;
        s.part = mesh.trianglePart[hit.triangle];
        s.view = -d;
        s.normal =
            normalised(lerp3(mesh.normals[t[0]], mesh.normals[t[1]], mesh.normals[t[2]], hit.b1, hit.b2));
        Vec3 face = normalised(
            cross(mesh.positions[t[1]] - mesh.positions[t[0]], mesh.positions[t[2]] - mesh.positions[t[0]]));
        // Both sides of a sheet are shown: turn what faces away.
        if (dot(face, s.view) < 0) face = -face;
        if (dot(s.normal, face) < 0) s.normal = -s.normal;
        s.tangent = lerp3(mesh.tangents[t[0]].direction, mesh.tangents[t[1]].direction,
                          mesh.tangents[t[2]].direction, hit.b1, hit.b2);
        s.tangent = normalised(s.tangent - s.normal * dot(s.tangent, s.normal));
        s.side = mesh.tangents[t[0]].side;
        s.keyLight = s.openness = 0;
        const Vec3 at = m_frame.from + d * hit.distance + face * (m_around.size * 2e-4f);
        if (dot(face, m_around.options.keyDirection) > 0) m_shadows.keyLight(at, seed, &s.keyLight);
        m_shadows.openness(at, s.normal, seed, &s.openness);
        const Vec2 a = mesh.uvs[t[0]], b = mesh.uvs[t[1]], c = mesh.uvs[t[2]];
        const Vec2 uv = a * (1 - hit.b1 - hit.b2) + b * hit.b1 + c * hit.b2;
        out.u.push_back(uv.x);
        out.v.push_back(uv.y);
        const float pixelSize = hit.distance * 2 * m_frame.halfHeight / static_cast<float>(m_height);
        const float slant = std::sqrt(std::max(0.1f, dot(face, s.view)));
        // Without texture coordinates a map shows its mean.
        const bool hasUv = s.part >= mesh.partHasUv.size() || mesh.partHasUv[s.part] != 0;
        out.footprint.push_back(hasUv ? pixelSize / slant * uvDensity(mesh, t) : 1.0f);
        if (!m_around.options.places) return;
        out.triangles.push_back(hit.triangle);
        out.b1.push_back(hit.b1), out.b2.push_back(hit.b2);
        out.covered.push_back(pixelSize / slant);
    }

    const Surroundings& m_around;
    const CameraFrame& m_frame;
    int m_width, m_height;
    Shadows m_shadows;
};

}  // namespace

namespace {
/// Beyond this distance from the middle, in sizes of the model, the ground bears no shadow.
constexpr float kGroundReach = 2.0f;
constexpr std::uint64_t kPasses = 3;  ///< of four rays a light
constexpr float kKeyShare = 0.45f, kSkyShare = 0.55f;
}  // namespace

GroundShade::GroundShade(const RayScene& scene, Vec3 keyDirection, float keyRadius, int size)
    : m_size(size), m_lit(static_cast<std::size_t>(size) * static_cast<std::size_t>(size)) {
    ViewOptions options;
    options.keyDirection = keyDirection, options.keyRadius = keyRadius;
    const Surroundings around(scene, options);
    // Squared, so that the net is dense in its middle.
    const auto place = [&](int i) {
        const float t = 2 * static_cast<float>(i) / static_cast<float>(m_size - 1) - 1;
        return t * std::fabs(t) * kGroundReach * around.size;
    };
    const auto count = static_cast<std::size_t>(m_size);
    parallelFor(count, 2, [&](std::size_t begin, std::size_t end) {
        for (std::size_t row = begin; row < end; ++row) {
            std::vector<float> key(count), sky(count);
            Shadows shadows(around);
            for (int i = 0; i < m_size; ++i) {
                const Vec3 at{around.centre.x + place(i), around.floor,
                              around.centre.z + place(static_cast<int>(row))};
                const std::uint64_t seed = combine(static_cast<std::uint64_t>(i), row);
                for (std::uint64_t pass = 0; pass < kPasses; ++pass) {
                    shadows.keyLight(at, combine(seed, pass), &key[static_cast<std::size_t>(i)]);
                    shadows.openness(at, {0, 1, 0}, combine(seed, pass), &sky[static_cast<std::size_t>(i)]);
                }
            }
            shadows.finish();
            for (std::size_t i = 0; i < count; ++i)
                m_lit[row * count + i] =
                    (kKeyShare * key[i] + kSkyShare * sky[i]) / static_cast<float>(kPasses);
        }
    });
    for (int i = 0; i < 2; ++i) smooth();
}

/// Each place with its neighbours, 1 2 1 both ways: what is left of the rays' grain.
void GroundShade::smooth() {
    const auto count = static_cast<std::size_t>(m_size);
    const auto blur = [&](std::size_t first, std::size_t step) {
        float before = m_lit[first];
        for (std::size_t i = 1; i + 1 < count; ++i) {
            float& place = m_lit[first + i * step];
            const float now = place;
            place = 0.25f * before + 0.5f * now + 0.25f * m_lit[first + (i + 1) * step];
            before = now;
        }
    };
    for (std::size_t i = 0; i < count; ++i) blur(i * count, 1);
    for (std::size_t i = 0; i < count; ++i) blur(i, count);
}

float GroundShade::at(float x, float z) const {
    const auto cell = [this](float v) {
        const float t = std::copysign(std::sqrt(std::min(std::fabs(v) / kGroundReach, 1.0f)), v);
        return (t + 1) * 0.5f * static_cast<float>(m_size - 1);
    };
    const float cx = cell(x), cz = cell(z);
    const int x0 = std::min(static_cast<int>(cx), m_size - 2),
              z0 = std::min(static_cast<int>(cz), m_size - 2);
    const auto lit = [&](int i, int j) {
        return m_lit[static_cast<std::size_t>((z0 + j) * m_size + x0 + i)];
    };
    const float fx = cx - static_cast<float>(x0);
    return mix(mix(lit(0, 0), lit(1, 0), fx), mix(lit(0, 1), lit(1, 1), fx), cz - static_cast<float>(z0));
}

Vec3 Camera::position() const {
    const float a = radians(turn), b = radians(tilt);
    return target + Vec3{std::sin(a) * std::cos(b), std::sin(b), std::cos(a) * std::cos(b)} * distance;
}

void Camera::frame(const Mesh& mesh, float aspect, const std::vector<bool>& parts) {
    std::vector<Vec3> corners;
    for (std::size_t t = 0; t < mesh.triangleCount() && !parts.empty(); ++t) {
        const std::size_t part = mesh.trianglePart[t];
        if (part < parts.size() && parts[part])
            for (std::size_t k = 0; k < 3; ++k) corners.push_back(mesh.positions[mesh.indices[3 * t + k]]);
    }
    const std::vector<Vec3>& points = corners.empty() ? mesh.positions : corners;
    if (points.empty()) return;
    Vec3 low = points.front(), high = low;
    for (const Vec3& p : points) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
    }
    target = (low + high) * 0.5f;
    distance = 1;
    const CameraFrame axes(*this, aspect);
    float needed = 1;
    for (const Vec3& p : points) {
        const Vec3 d = p - target;
        const float depth = dot(d, axes.forward);
        needed = std::max({needed, std::fabs(dot(d, axes.right)) / axes.halfWidth - depth,
                           std::fabs(dot(d, axes.up)) / axes.halfHeight - depth});
    }
    distance = needed * 1.16f;
}

ViewPoints castView(const RayScene& scene, const Camera& camera, int width, int height,
                    const ViewOptions& options, const CancelToken& cancel) {
    const CameraFrame frame(camera, static_cast<float>(width) / static_cast<float>(height));
    const Surroundings around(scene, options);
    const int columns = (width + kTile - 1) / kTile, rows = (height + kTile - 1) / kTile;
    std::vector<std::optional<TilePoints>> tiles(static_cast<std::size_t>(columns * rows));
    parallelFor(tiles.size(), 2, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !cancel.isCancelled(); ++i) {
            const int left = static_cast<int>(i) % columns * kTile,
                      top = static_cast<int>(i) / columns * kTile;
            tiles[i] = TileCaster(around, frame, width, height)
                           .cast(left, top, std::min(left + kTile, width), std::min(top + kTile, height));
        }
    });
    ViewPoints view;
    view.width = width;
    view.height = height;
    if (cancel.isCancelled()) return view;
    std::vector<std::size_t> firsts{0};
    for (const auto& tile : tiles) firsts.push_back(firsts.back() + tile->u.size());
    const std::size_t count = firsts.back();
    view.points = {Plane(count), Plane(count), Plane(count)};
    view.surfels.resize(count);
    ModelPlaces& places = view.points.places;
    if (options.places)
        places = {std::vector<std::uint32_t>(count), Plane(count), Plane(count), Plane(count)};
    parallelFor(tiles.size(), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const TilePoints& tile = *tiles[i];
            std::copy(tile.u.begin(), tile.u.end(), view.points.u.data() + firsts[i]);
            std::copy(tile.v.begin(), tile.v.end(), view.points.v.data() + firsts[i]);
            std::copy(tile.footprint.begin(), tile.footprint.end(), view.points.footprint.data() + firsts[i]);
            std::copy(tile.surfels.begin(), tile.surfels.end(),
                      view.surfels.begin() + static_cast<std::ptrdiff_t>(firsts[i]));
            if (!options.places) continue;
            std::copy(tile.triangles.begin(), tile.triangles.end(),
                      places.triangles.begin() + static_cast<std::ptrdiff_t>(firsts[i]));
            std::copy(tile.b1.begin(), tile.b1.end(), places.b1.data() + firsts[i]);
            std::copy(tile.b2.begin(), tile.b2.end(), places.b2.data() + firsts[i]);
            std::copy(tile.covered.begin(), tile.covered.end(), places.covered.data() + firsts[i]);
        }
    });
    for (const auto& tile : tiles)
        for (const GroundPoint& g : tile->ground)
            view.ground.push_back(
                {g.pixel, 1 - 0.75f * g.fade * (1 - kKeyShare * g.keyLight - kSkyShare * g.openness)});
    return view;
}

}  // namespace kettle
