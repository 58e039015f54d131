// The models, in centimetres, y up, as OBJ with a group a part.
#include <fmt/format.h>

#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include "core/base/files.h"
#include "demo/generate/obj_writer.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr float kPi = 3.14159265f;

/// A smooth curve through points (Catmull and Rom 1974), evenly by arc length.
class Curve {
public:
    explicit Curve(std::vector<Vec3> points) : m_points(std::move(points)) {
        constexpr int kSteps = 400;
        m_lengths.push_back(0);
        Vec3 last = raw(0);
        for (int i = 1; i <= kSteps; ++i) {
            const Vec3 p = raw(static_cast<float>(i) / kSteps);
            m_lengths.push_back(m_lengths.back() + length(p - last));
            last = p;
        }
    }
    Vec3 at(float t) const {
        const float wanted = std::clamp(t, 0.0f, 1.0f) * m_lengths.back();
        std::size_t i = 1;
        while (i + 1 < m_lengths.size() && m_lengths[i] < wanted) ++i;
        const float part = (wanted - m_lengths[i - 1]) / std::max(m_lengths[i] - m_lengths[i - 1], 1e-9f);
        return raw((static_cast<float>(i - 1) + part) / static_cast<float>(m_lengths.size() - 1)) + over(t);
    }

private:
    /// Beyond the ends the curve goes straight on, so that derivatives there are right.
    Vec3 over(float t) const {
        if (t >= 0 && t <= 1) return {};
        const float e = 1e-3f;
        return t < 0 ? (raw(e) - raw(0)) * (t / e) : (raw(1) - raw(1 - e)) * ((t - 1) / e);
    }
    Vec3 raw(float t) const {
        const float x = t * static_cast<float>(m_points.size() - 1);
        const int i = std::min(static_cast<int>(x), static_cast<int>(m_points.size()) - 2);
        const float f = x - static_cast<float>(i);
        const auto p = [&](int k) {
            return m_points[static_cast<std::size_t>(
                std::clamp(k, 0, static_cast<int>(m_points.size()) - 1))];
        };
        const Vec3 a = p(i - 1), b = p(i), c = p(i + 1), d = p(i + 2);
        return 0.5f * (2 * b + (c - a) * f + (2 * a - 5 * b + 4 * c - d) * (f * f) +
                       (3 * b - a - 3 * c + d) * (f * f * f));
    }
    std::vector<Vec3> m_points;
    std::vector<float> m_lengths;
};

/// Turns a profile (x radius, y height) about the vertical axis through `centre`.
std::function<Vec3(float, float)> lathe(const Curve& profile, Vec3 centre = {}) {
    return [profile, centre](float s, float t) {
        const Vec3 p = profile.at(t);
        const float a = s * 2 * kPi;
        return centre + Vec3{p.x * std::sin(a), p.y, p.x * std::cos(a)};
    };
}

/// A tube along a curve in the plane z = 0.
std::function<Vec3(float, float)> tube(const Curve& path, const std::function<float(float)>& radius) {
    return [path, radius](float s, float t) {
        const Vec3 along = normalised(path.at(t + 1e-3f) - path.at(t - 1e-3f)), side{0, 0, 1},
                   up = cross(side, along);
        const float a = s * 2 * kPi, r = radius(t);
        return path.at(t) + up * (r * std::cos(a)) + side * (r * std::sin(a));
    };
}

std::function<Vec2(float, float)> region(float u0, float v0, float u1, float v1) {
    return [=](float s, float t) { return Vec2{u0 + (u1 - u0) * s, v0 + (v1 - v0) * t}; };
}

Result<void> writeKettleModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const Curve body({{0, 0, 0},
                      {4, 0, 0},
                      {7.6f, 0.15f, 0},
                      {9.2f, 1.4f, 0},
                      {10.0f, 4.5f, 0},
                      {9.8f, 8.0f, 0},
                      {8.7f, 11.2f, 0},
                      {7.0f, 13.6f, 0},
                      {6.2f, 14.6f, 0},
                      {6.3f, 15.2f, 0},
                      {6.0f, 15.35f, 0}});
    obj.grid("body", 128, 64, lathe(body), region(0, 0.30f, 1, 1));
    const Curve lid({{6.05f, 14.9f, 0},
                     {6.1f, 15.35f, 0},
                     {5.4f, 16.1f, 0},
                     {3.6f, 17.1f, 0},
                     {1.6f, 17.6f, 0},
                     {0, 17.7f, 0}});
    obj.grid("lid", 96, 24, lathe(lid), region(0.005f, 0.005f, 0.495f, 0.275f));
    const Curve knob({{0.55f, 17.5f, 0},
                      {0.5f, 18.0f, 0},
                      {1.1f, 18.5f, 0},
                      {1.25f, 19.2f, 0},
                      {0.8f, 19.8f, 0},
                      {0, 19.95f, 0}});
    obj.grid("knob", 48, 20, lathe(knob), region(0.945f, 0.005f, 0.995f, 0.275f));
    const Curve spout(
        {{7.6f, 4.6f, 0}, {10.6f, 6.2f, 0}, {12.8f, 9.2f, 0}, {14.4f, 12.2f, 0}, {16.6f, 14.2f, 0}});
    const auto spoutRadius = [](float t) {
        return mix(2.5f, 1.15f, smoothStep(-0.1f, 0.8f, t)) + 0.28f * smoothStep(0.90f, 1.0f, t);
    };
    obj.grid("spout", 56, 48, tube(spout, spoutRadius), region(0.52f, 0.005f, 0.80f, 0.275f), true);
    obj.grid("spout", 56, 10, tube(spout, [&](float t) { return spoutRadius(t) - 0.18f; }),
             region(0.52f, 0.275f, 0.80f, 0.20f));
    std::vector<Vec3> arch;
    for (int i = 0; i <= 16; ++i) {
        const float a = kPi * (1 - static_cast<float>(i) / 16);
        arch.push_back({7.7f * std::cos(a), 12.9f + 12.6f * std::pow(std::max(0.0f, std::sin(a)), 0.82f), 0});
    }
    const Curve handle(arch);
    obj.grid("handle", 32, 96,
             tube(handle,
                  [](float t) {
                      return 0.46f + 0.42f * smoothStep(0.30f, 0.36f, t) * (1 - smoothStep(0.64f, 0.70f, t));
                  }),
             region(0.83f, 0.005f, 0.93f, 0.275f), true);
    return obj.save(folder / "kettle.obj");
}

Result<void> writeTilePanel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const float w = 30, h = 20, d = 0.9f;
    obj.grid(
        "face", 30, 20,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, t * h, 0};
        },
        region(0, 0, 1.5f, 1));
    obj.grid(
        "edge", 2, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, h, -t * d};
        },
        region(0, 0.98f, 1.5f, 1));
    obj.grid(
        "edge", 1, 2,
        [=](float s, float t) {
            return Vec3{w / 2, t * h, -s * d};
        },
        region(0.98f, 0, 1, 1));
    obj.grid(
        "edge", 1, 2,
        [=](float s, float t) {
            return Vec3{-w / 2, t * h, -s * d};
        },
        region(0.98f, 0, 1, 1), true);
    obj.grid(
        "back", 1, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, t * h, -d};
        },
        region(0, 0, 1.5f, 1), true);
    return obj.save(folder / "tile-panel.obj");
}

Result<void> writeFloorModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const float w = 240, l = 180, d = 4;
    obj.grid(
        "floor", 48, 36,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, 0, (0.5f - t) * l};
        },
        region(0, 0, 1, 0.75f));
    obj.grid(
        "edge", 1, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, (t - 1) * d, l / 2};
        },
        region(0, 0.76f, 1, 0.78f));
    obj.grid(
        "edge", 1, 1,
        [=](float s, float t) {
            return Vec3{w / 2, (t - 1) * d, (0.5f - s) * l};
        },
        region(0, 0.79f, 0.75f, 0.81f));
    return obj.save(folder / "floor.obj");
}

Result<void> writeCups(const std::filesystem::path& folder) {
    ObjWriter obj;
    const Curve outside({{0, 0, 0},
                         {2.2f, 0, 0},
                         {2.7f, 0.3f, 0},
                         {3.5f, 2.4f, 0},
                         {3.9f, 5.2f, 0},
                         {4.1f, 7.4f, 0},
                         {4.0f, 7.55f, 0},
                         {3.85f, 7.4f, 0},
                         {3.6f, 4.6f, 0},
                         {2.9f, 1.6f, 0},
                         {0, 0.9f, 0}});
    for (int k = 0; k < 5; ++k) {
        const float x = (static_cast<float>(k) - 2) * 11;
        obj.grid(fmt::format("cup-{}", k + 1), 64, 48, lathe(outside, {x, 0, 0}), region(0, 0, 2, 1));
        const Curve ear({{x + 3.7f, 6.2f, 0},
                         {x + 5.6f, 6.4f, 0},
                         {x + 6.1f, 4.2f, 0},
                         {x + 4.9f, 2.6f, 0},
                         {x + 3.4f, 2.5f, 0}});
        obj.grid(fmt::format("cup-{}", k + 1), 20, 32, tube(ear, [](float) { return 0.42f; }),
                 region(0, 0, 0.2f, 0.5f), true);
    }
    return obj.save(folder / "cups.obj");
}

Result<void> writeCloth(const std::filesystem::path& folder) {
    ObjWriter obj;
    // Thrown over a rail: two falling sides with folds that deepen towards the hem.
    const auto point = [](float s, float t) {
        const float fall = (t - 0.5f) * 64, side = fall < 0 ? -1.0f : 1.0f,
                    drop = std::max(0.0f, std::fabs(fall) - 4.7f);
        const float angle = std::clamp(fall / 3.0f, -kPi / 2, kPi / 2), deep = drop / 28;
        const float fold = deep * (2.2f * std::sin(s * 21 + side) + 1.1f * std::sin(s * 37 + 2 * side));
        return Vec3{(s - 0.5f) * (44 - 3 * deep) + 0.5f * fold, 30 + 3 * std::cos(angle) - drop,
                    3 * std::sin(angle) + side * 1.6f * deep + fold};
    };
    obj.grid(
        "cloth", 160, 160, [&](float s, float t) { return point(s, 1 - t); }, region(0, 0, 1.4f, 2));
    return obj.save(folder / "cloth.obj");
}

Result<void> writeHullModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    // A stretch of the bow's side, 8 m long: each quarter lies on its own tile.
    const auto point = [](float s, float t) {
        const float taper = std::pow(s, 2.2f),
                    depth = 60 * std::sqrt(t) * (1 - 0.75f * taper) + 40 * taper * t;
        return Vec3{(s - 0.5f) * 300, t * 110 + 26 * taper * t, depth - 40 * taper};
    };
    obj.grid("hull", 160, 48, point, region(0, 0, 4, 1));
    return obj.save(folder / "hull.obj");
}

}  // namespace

Result<void> writeModels(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    for (const auto& write :
         {writeKettleModel, writeTilePanel, writeFloorModel, writeCups, writeCloth, writeHullModel})
        if (auto done = write(folder); !done) return done;
    return {};
}

}  // namespace kettle::demo
