// Curves and what is turned or drawn along them, for the demo's models.
#pragma once

#include <algorithm>
#include <cmath>
#include <functional>
#include <vector>

#include "core/base/vec.h"

namespace kettle::demo {

inline constexpr float kPi = 3.14159265f;

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
inline std::function<Vec3(float, float)> lathe(const Curve& profile, Vec3 centre = {}) {
    return [profile, centre](float s, float t) {
        const Vec3 p = profile.at(t);
        const float a = s * 2 * kPi;
        return centre + Vec3{p.x * std::sin(a), p.y, p.x * std::cos(a)};
    };
}

/// A tube along a curve in the plane z = 0.
inline std::function<Vec3(float, float)> tube(const Curve& path, const std::function<float(float)>& radius) {
    return [path, radius](float s, float t) {
        const Vec3 along = normalised(path.at(t + 1e-3f) - path.at(t - 1e-3f)), side{0, 0, 1},
                   up = cross(side, along);
        const float a = s * 2 * kPi, r = radius(t);
        return path.at(t) + up * (r * std::cos(a)) + side * (r * std::sin(a));
    };
}

/// A rectangle of texture space.
inline std::function<Vec2(float, float)> region(float u0, float v0, float u1, float v1) {
    return [=](float s, float t) { return Vec2{u0 + (u1 - u0) * s, v0 + (v1 - v0) * t}; };
}

/// The cup's wall, from the middle of its foot over the rim to the middle of its floor; and its handle.
inline Curve cupProfile() {
    return Curve({{0, 0, 0},
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
}
inline Curve cupHandle(float x) {
    return Curve({{x + 3.7f, 6.2f, 0},
                  {x + 5.6f, 6.4f, 0},
                  {x + 6.1f, 4.2f, 0},
                  {x + 4.9f, 2.6f, 0},
                  {x + 3.4f, 2.5f, 0}});
}

}  // namespace kettle::demo
