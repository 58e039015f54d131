#include "core/shading/lobes.h"

#include <algorithm>
#include <cmath>

#include "core/base/pi.h"
#include "core/base/vec.h"

namespace kettle {
namespace {

constexpr int kSize = LobeTable::kSize;

/// Height-correlated Smith visibility: G / (4 nl nv).
float visibility(float nl, float nv, float alpha2) {
    const float a = nl * std::sqrt(nv * nv * (1 - alpha2) + alpha2),
                b = nv * std::sqrt(nl * nl * (1 - alpha2) + alpha2);
    return 0.5f / std::max(a + b, 1e-7f);
}

Vec2 integrateSpecular(float nv, float roughness) {
    constexpr int kSamples = 256;
    const float alpha = std::max(roughness * roughness, 1e-4f), alpha2 = alpha * alpha;
    const Vec3 v{std::sqrt(1 - nv * nv), 0, nv};
    Vec2 sum;
    for (int i = 0; i < kSamples; ++i) {
        const float e = (static_cast<float>(i) + 0.5f) / kSamples;
        float turn = static_cast<float>(i) * 0.61803399f;
        turn = 2 * kPi * (turn - std::floor(turn));
        const float cosine = std::sqrt((1 - e) / (1 + (alpha2 - 1) * e)),
                    sine = std::sqrt(std::max(0.0f, 1 - cosine * cosine));
        const Vec3 h{sine * std::cos(turn), sine * std::sin(turn), cosine};
        const float vh = dot(v, h);
        const float nl = 2 * vh * h.z - v.z;
        if (nl <= 0 || vh <= 0) continue;
        const float weight = visibility(nl, nv, alpha2) * 4 * nl * vh / std::max(h.z, 1e-6f);
        const float fresnel = std::pow(1 - vh, 5.0f);
        sum = sum + Vec2{(1 - fresnel) * weight, fresnel * weight};
    }
    return sum * (1.0f / kSamples);
}

/// Estevez and Kulla 2017, the shadowing term's fitted curve.
float sheenLambda(float cosine, float roughness) {
    const float t = (1 - roughness) * (1 - roughness);
    const float a = mix(21.5473f, 25.3245f, t), b = mix(3.82987f, 3.32435f, t),
                c = mix(0.19823f, 0.16801f, t), d = mix(-1.97760f, -1.27393f, t),
                e = mix(-4.32054f, -4.85967f, t);
    const auto curve = [&](float x) { return a / (1 + b * std::pow(x, c)) + d * x + e; };
    return cosine < 0.5f ? std::exp(curve(std::max(cosine, 1e-4f)))
                         : std::exp(2 * curve(0.5f) - curve(std::max(1 - cosine, 1e-4f)));
}

float integrateSheen(float nv, float roughness) {
    constexpr int kRings = 24, kRound = 24;
    const Vec3 v{std::sqrt(1 - nv * nv), 0, nv};
    const float seen = sheenLambda(nv, roughness);
    double sum = 0;
    for (int ring = 0; ring < kRings; ++ring) {
        // Rings of equal solid angle.
        const float nl = (static_cast<float>(ring) + 0.5f) / kRings, sine = std::sqrt(1 - nl * nl);
        const float lit = sheenLambda(nl, roughness);
        for (int k = 0; k < kRound; ++k) {
            const float turn = kPi * (static_cast<float>(k) + 0.5f) / kRound;  // the other half is its mirror
            const Vec3 h = normalised(v + Vec3{sine * std::cos(turn), sine * std::sin(turn), nl});
            const float sineH = std::sqrt(std::max(1 - h.z * h.z, 0.0f));
            const float density = (2 + 1 / roughness) * std::pow(sineH, 1 / roughness) / (2 * kPi);
            sum += static_cast<double>(density / ((1 + seen + lit) * 4 * nl * nv) * nl);
        }
    }
    return static_cast<float>(std::min(sum * 2 * std::numbers::pi / (kRings * kRound), 1.0));
}

float cosineOf(int column) {
    return std::max(static_cast<float>(column) / (kSize - 1), 0.01f);
}

float unit(float v) {
    return v > 0 ? std::min(v, 1.0f) : 0.0f;
}

}  // namespace

float LobeTable::at(float cosine, float roughness) const {
    const float x = unit(cosine) * (kSize - 1), y = unit(roughness) * (kSize - 1);
    const int x0 = std::min(static_cast<int>(x), kSize - 2), y0 = std::min(static_cast<int>(y), kSize - 2);
    const float fx = x - static_cast<float>(x0), fy = y - static_cast<float>(y0);
    const auto value = [&](int i, int j) { return values[static_cast<std::size_t>(j * kSize + i)]; };
    return mix(mix(value(x0, y0), value(x0 + 1, y0), fx), mix(value(x0, y0 + 1), value(x0 + 1, y0 + 1), fx),
               fy);
}

const SpecularTables& specularTables() {
    static const auto tables = [] {
        SpecularTables t;
        for (int r = 0; r < kSize; ++r)
            for (int c = 0; c < kSize; ++c) {
                const Vec2 both = integrateSpecular(cosineOf(c), static_cast<float>(r) / (kSize - 1));
                const auto i = static_cast<std::size_t>(r * kSize + c);
                t.scale.values[i] = both.x, t.bias.values[i] = both.y;
            }
        return t;
    }();
    return tables;
}

const LobeTable& sheenTable() {
    static const auto table = [] {
        LobeTable t;
        for (int r = 0; r < kSize; ++r)
            for (int c = 0; c < kSize; ++c)
                t.values[static_cast<std::size_t>(r * kSize + c)] =
                    integrateSheen(cosineOf(c), std::max(static_cast<float>(r) / (kSize - 1), 0.07f));
        return t;
    }();
    return table;
}

}  // namespace kettle
