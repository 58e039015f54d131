// Small vectors for geometry and colour triples. Plain floats, no units of their own: the field that holds
// one says them.
#pragma once

#include <algorithm>
#include <cmath>

namespace kettle {

struct Vec2 {
    float x = 0, y = 0;
    bool operator==(const Vec2&) const = default;
};
/// Component by component, as in mathematics; the same for three.
inline Vec2 operator+(Vec2 a, Vec2 b) {
    return {a.x + b.x, a.y + b.y};
}
inline Vec2 operator-(Vec2 a, Vec2 b) {
    return {a.x - b.x, a.y - b.y};
}
inline Vec2 operator*(Vec2 a, float s) {
    return {a.x * s, a.y * s};
}

struct Vec3 {
    float x = 0, y = 0, z = 0;
    bool operator==(const Vec3&) const = default;
};
inline Vec3 operator+(Vec3 a, Vec3 b) {
    return {a.x + b.x, a.y + b.y, a.z + b.z};
}
inline Vec3 operator-(Vec3 a, Vec3 b) {
    return {a.x - b.x, a.y - b.y, a.z - b.z};
}
inline Vec3 operator-(Vec3 a) {
    return {-a.x, -a.y, -a.z};
}
inline Vec3 operator*(Vec3 a, float s) {
    return {a.x * s, a.y * s, a.z * s};
}
inline Vec3 operator*(float s, Vec3 a) {
    return a * s;
}
inline Vec3 operator*(Vec3 a, Vec3 b) {
    return {a.x * b.x, a.y * b.y, a.z * b.z};
}
inline Vec3& operator+=(Vec3& a, Vec3 b) {
    return a = a + b;
}
/// The product of lengths and the cosine between; 0 at right angles.
inline float dot(Vec3 a, Vec3 b) {
    return a.x * b.x + a.y * b.y + a.z * b.z;
}
/// At right angles to both, by the right hand; as long as the area they span.
inline Vec3 cross(Vec3 a, Vec3 b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
/// Euclidean.
inline float length(Vec3 a) {
    return std::sqrt(dot(a, a));
}
/// Unit length; a vector of length 0 becomes (0, 0, 1), so that no NaN starts here.
inline Vec3 normalised(Vec3 a) {
    const float l = length(a);
    return l > 1e-20f ? a * (1.0f / l) : Vec3{0, 0, 1};
}
inline Vec3 mix(Vec3 a, Vec3 b, float t) {
    return a + (b - a) * t;
}
inline float mix(float a, float b, float t) {
    return a + (b - a) * t;
}
/// Hermite step 3t^2-2t^3 of (x - low) / (high - low), limited to 0..1; low < high.
inline float smoothStep(float low, float high, float x) {
    const float t = std::clamp((x - low) / (high - low), 0.0f, 1.0f);
    return t * t * (3.0f - 2.0f * t);
}

/// Two axes across a unit vector. Source: Duff and others, Building an Orthonormal Basis, Revisited, 2017.
inline void basis(Vec3 n, Vec3& a, Vec3& b) {
    const float s = std::copysign(1.0f, n.z), k = -1.0f / (s + n.z), m = n.x * n.y * k;
    a = {1 + s * n.x * n.x * k, s * m, -s * n.x};
    b = {m, s + n.y * n.y * k, -n.y};
}

}  // namespace kettle
