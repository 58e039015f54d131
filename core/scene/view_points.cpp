#include "core/scene/view_points.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/scene/camera_frame.h"
#include "core/scene/shadow_rays.h"
#include "core/scene/shadow_smoothing.h"

namespace kettle {
namespace {

constexpr int kTile = 32;

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
    std::vector<float> u, v, footprint, distance;
    std::vector<Surfel> surfels;
    std::vector<GroundPoint> ground;
    std::vector<std::uint32_t> triangles;
    std::vector<float> b1, b2, covered;  ///< with triangles only if places are asked for
    explicit TilePoints(std::size_t most) {
        // The shadow rays write to their places.
        for (auto* list : {&u, &v, &footprint, &distance}) list->reserve(most);
        surfels.reserve(most), ground.reserve(most);
    }
};

/// Where a ray goes through.
struct Pixel {
    std::uint32_t number;
    std::size_t phase;
};

/// What many points of a triangle ask of it, worked out once while they come.
class TriangleFacts {
public:
    struct Facts {
        std::uint32_t triangle = ~0u;
        Vec3 face;          ///< its own normal
        float density = 0;  ///< uvDensity()
    };
    const Facts& of(const Mesh& mesh, std::uint32_t triangle) {
        Facts& known = m_known[triangle % kMost];
        if (known.triangle == triangle) return known;
        const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(triangle) * 3];
        known = {triangle,
                 normalised(cross(mesh.positions[t[1]] - mesh.positions[t[0]],
                                  mesh.positions[t[2]] - mesh.positions[t[0]])),
                 uvDensity(mesh, t)};
        return known;
    }

private:
    static constexpr std::size_t kMost = 256;
    std::array<Facts, kMost> m_known;
};

class TileCaster {
public:
    TileCaster(const Surroundings& around, const CameraFrame& frame, int width, int height)
        : m_around(around), m_frame(frame), m_width(width), m_height(height), m_shadows(around) {}
    /// Pixels from (left, top) to before (right, bottom), at most kTile each way.
    TilePoints cast(int left, int top, int right, int bottom) {
        const int layers = m_around.options.goesOn.empty() ? 1 : ViewOptions::kMostLayers;
        TilePoints out(static_cast<std::size_t>((right - left) * (bottom - top) * layers));
        constexpr int kSide = 4;
        for (int y = top; y < bottom; y += kSide)
            for (int x = left; x < right; x += kSide)
                castBlock(x, y, std::min(x + kSide, right), std::min(y + kSide, bottom), out);
        m_shadows.finish();
        smoothShadows(out.surfels, out.distance, {left, top, right - left, bottom - top, m_width},
                      m_around.size * 0.02f, m_around.options.keyRadius > 0);
        return out;
    }

private:
    void castBlock(int left, int top, int right, int bottom, TilePoints& out) {
        std::array<Vec3, RayScene::kPack> directions;
        std::array<Pixel, RayScene::kPack> pixels;
        std::array<Hit, RayScene::kPack> hits;
        std::size_t count = 0;
        const Vec2 jitter = m_around.options.jitter;
        for (int y = top; y < bottom; ++y)
            for (int x = left; x < right; ++x, ++count) {
                pixels[count] = {static_cast<std::uint32_t>(y * m_width + x), phaseOf(x, y)};
                directions[count] =
                    m_frame.direction((static_cast<float>(x) + jitter.x) / static_cast<float>(m_width),
                                      (static_cast<float>(y) + jitter.y) / static_cast<float>(m_height));
            }
        m_around.scene.castPack(m_frame.from, directions.data(), count, hits.data());
        for (int layer = 0; count > 0; ++layer) {
            addHits(directions.data(), pixels.data(), hits.data(), count, layer, out);
            if (m_around.options.goesOn.empty() || layer + 1 == ViewOptions::kMostLayers) return;
            count = goOn(directions, pixels, hits, count);
        }
    }
    void addHits(const Vec3 directions[], const Pixel pixels[], const Hit hits[], std::size_t count,
                 int layer, TilePoints& out) {
        for (std::size_t i = 0; i < count; ++i) {
            if (hits[i].found) {
                addPoint(hits[i], directions[i], pixels[i], out);
                out.surfels.back().layer = static_cast<std::uint8_t>(layer);
            } else if (m_around.options.groundShadow) {
                addGround(directions[i], pixels[i], out);
            }
        }
    }
    /// Keeps the rays that go on behind what they hit, and casts them; how many those are.
    std::size_t goOn(std::array<Vec3, RayScene::kPack>& directions,
                     std::array<Pixel, RayScene::kPack>& pixels, std::array<Hit, RayScene::kPack>& hits,
                     std::size_t count) {
        std::array<float, RayScene::kPack> nearest;
        const std::vector<bool>& goesOn = m_around.options.goesOn;
        std::size_t kept = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const std::size_t part =
                hits[i].found ? m_around.scene.mesh().trianglePart[hits[i].triangle] : goesOn.size();
            if (part >= goesOn.size() || !goesOn[part]) continue;
            nearest[kept] = hits[i].distance + m_around.size * 2e-5f;
            directions[kept] = directions[i], pixels[kept] = pixels[i];
            ++kept;
        }
        m_around.scene.castPackBeyond(m_frame.from, directions.data(), nearest.data(), kept, hits.data());
        return kept;
    }
    void addGround(Vec3 d, Pixel pixel, TilePoints& out) {
        const float floor = m_around.floor;
        if (d.y > -1e-4f || m_frame.from.y < floor) return;
        const Vec3 at = m_frame.from + d * ((floor - m_frame.from.y) / d.y);
        const Vec3 away = at - Vec3{m_around.centre.x, floor, m_around.centre.z};
        const float fade = 1 - smoothStep(0.6f, 2.0f, length(away) / m_around.size);
        if (fade <= 0) return;
        if (const GroundShade* known = m_around.options.ground; known != nullptr) {
            const float lit = known->at(away.x / m_around.size, away.z / m_around.size);
            out.ground.push_back({pixel.number, fade, lit, lit});
            return;
        }
        GroundPoint& g = out.ground.emplace_back(GroundPoint{pixel.number, fade, 0, 0});
        m_shadows.keyLight(at, pixel.phase, &g.keyLight);
        m_shadows.openness(at, {0, 1, 0}, pixel.phase, &g.openness);
    }
    void addPoint(const Hit& hit, Vec3 d, Pixel pixel, TilePoints& out) {
        const Mesh& mesh = m_around.scene.mesh();
        const std::uint32_t* t = &mesh.indices[static_cast<std::size_t>(hit.triangle) * 3];
        Surfel& s = out.surfels.emplace_back();
        s.pixel = pixel.number;
        s.part = mesh.trianglePart[hit.triangle];
        s.view = -d;
        s.normal =
            normalised(lerp3(mesh.normals[t[0]], mesh.normals[t[1]], mesh.normals[t[2]], hit.b1, hit.b2));
        const TriangleFacts::Facts& facts = m_facts.of(mesh, hit.triangle);
        Vec3 face = facts.face;
        // Both sides of a sheet are shown: turn what faces away.
        if (dot(face, s.view) < 0) face = -face;
        if (dot(s.normal, face) < 0) s.normal = -s.normal;
        s.tangent = lerp3(mesh.tangents[t[0]].direction, mesh.tangents[t[1]].direction,
                          mesh.tangents[t[2]].direction, hit.b1, hit.b2);
        s.tangent = normalised(s.tangent - s.normal * dot(s.tangent, s.normal));
        s.side = mesh.tangents[t[0]].side;
        s.keyLight = s.openness = 0;
        const Vec3 at = m_frame.from + d * hit.distance + face * (m_around.size * 2e-4f);
        if (dot(face, m_around.options.keyDirection) > 0) m_shadows.keyLight(at, pixel.phase, &s.keyLight);
        m_shadows.openness(at, s.normal, pixel.phase, &s.openness);
        const Vec2 a = mesh.uvs[t[0]], b = mesh.uvs[t[1]], c = mesh.uvs[t[2]];
        const Vec2 uv = a * (1 - hit.b1 - hit.b2) + b * hit.b1 + c * hit.b2;
        out.u.push_back(uv.x);
        out.v.push_back(uv.y);
        out.distance.push_back(hit.distance);
        const float pixelSize = hit.distance * 2 * m_frame.halfHeight / static_cast<float>(m_height);
        const float slant = std::sqrt(std::max(0.1f, dot(face, s.view)));
        // Without texture coordinates a map shows its mean.
        const bool hasUv = s.part >= mesh.partHasUv.size() || mesh.partHasUv[s.part] != 0;
        out.footprint.push_back(hasUv ? pixelSize / slant * facts.density : 1.0f);
        if (!m_around.options.places) return;
        out.triangles.push_back(hit.triangle);
        out.b1.push_back(hit.b1), out.b2.push_back(hit.b2);
        out.covered.push_back(pixelSize / slant);
    }

    const Surroundings& m_around;
    const CameraFrame& m_frame;
    int m_width, m_height;
    TriangleFacts m_facts;
    Shadows m_shadows;
};

}  // namespace

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
        TileCaster caster(around, frame, width, height);
        for (std::size_t i = begin; i < end && !cancel.isCancelled(); ++i) {
            const int left = static_cast<int>(i) % columns * kTile,
                      top = static_cast<int>(i) / columns * kTile;
            tiles[i] = caster.cast(left, top, std::min(left + kTile, width), std::min(top + kTile, height));
        }
    });
    ViewPoints view;
    view.width = width;
    view.height = height;
    if (cancel.isCancelled()) return view;
    std::vector<std::size_t> firsts{0}, firstGrounds{0};
    for (const auto& tile : tiles) {
        firsts.push_back(firsts.back() + tile->u.size());
        firstGrounds.push_back(firstGrounds.back() + tile->ground.size());
    }
    const std::size_t count = firsts.back();
    view.points = {Plane(count), Plane(count), Plane(count)};
    view.surfels = LargeArray<Surfel>(count);
    view.ground = LargeArray<GroundPixel>(firstGrounds.back());
    ModelPlaces& places = view.points.places;
    if (options.places)
        places = {std::vector<std::uint32_t>(count), Plane(count), Plane(count), Plane(count)};
    parallelFor(tiles.size(), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const TilePoints& tile = *tiles[i];
            std::copy(tile.u.begin(), tile.u.end(), view.points.u.data() + firsts[i]);
            std::copy(tile.v.begin(), tile.v.end(), view.points.v.data() + firsts[i]);
            std::copy(tile.footprint.begin(), tile.footprint.end(), view.points.footprint.data() + firsts[i]);
            std::copy(tile.surfels.begin(), tile.surfels.end(), view.surfels.begin() + firsts[i]);
            std::transform(tile.ground.begin(), tile.ground.end(), view.ground.begin() + firstGrounds[i],
                           [](const GroundPoint& g) {
                               const float arriving = kKeyShare * g.keyLight + kSkyShare * g.openness;
                               return GroundPixel{g.pixel, 1 - 0.75f * g.fade * (1 - arriving)};
                           });
            if (!options.places) continue;
            std::copy(tile.triangles.begin(), tile.triangles.end(),
                      places.triangles.begin() + static_cast<std::ptrdiff_t>(firsts[i]));
            std::copy(tile.b1.begin(), tile.b1.end(), places.b1.data() + firsts[i]);
            std::copy(tile.b2.begin(), tile.b2.end(), places.b2.data() + firsts[i]);
            std::copy(tile.covered.begin(), tile.covered.end(), places.covered.data() + firsts[i]);
        }
    });
    return view;
}

}  // namespace kettle
