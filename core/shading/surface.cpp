#include "core/shading/surface.h"

#include <array>
#include <cmath>
#include <numbers>

namespace kettle {
namespace {

constexpr float kPi = std::numbers::pi_v<float>;
constexpr int kTable = 32;

/// Height-correlated Smith visibility: G / (4 nl nv).
float visibility(float nl, float nv, float alpha2) {
    const float a = nl * std::sqrt(nv * nv * (1 - alpha2) + alpha2),
                b = nv * std::sqrt(nl * nl * (1 - alpha2) + alpha2);
    return 0.5f / std::max(a + b, 1e-7f);
}

Vec2 integrateBrdf(float nv, float roughness) {
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

const std::array<Vec2, kTable * kTable>& brdfTable() {
    static const auto table = [] {
        std::array<Vec2, kTable * kTable> t{};
        for (int r = 0; r < kTable; ++r)
            for (int c = 0; c < kTable; ++c)
                t[static_cast<std::size_t>(r * kTable + c)] =
                    integrateBrdf(std::max(static_cast<float>(c) / (kTable - 1), 0.01f),
                                  static_cast<float>(r) / (kTable - 1));
        return t;
    }();
    return table;
}

/// Limited to 0..1; what is no number is 0.
float unit(float v) {
    return v > 0 ? std::min(v, 1.0f) : 0.0f;
}

Vec3 turned(Vec3 d, float c, float s) {
    return {d.x * c - d.z * s, d.y, d.x * s + d.z * c};
}

}  // namespace

Vec2 environmentBrdf(float cosine, float roughness) {
    const auto& table = brdfTable();
    const float x = unit(cosine) * (kTable - 1), y = unit(roughness) * (kTable - 1);
    const int x0 = std::min(static_cast<int>(x), kTable - 2), y0 = std::min(static_cast<int>(y), kTable - 2);
    const float fx = x - static_cast<float>(x0), fy = y - static_cast<float>(y0);
    const auto at = [&](int i, int j) { return table[static_cast<std::size_t>(j * kTable + i)]; };
    const Vec2 a = at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx,
               b = at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx;
    return a * (1 - fy) + b * fy;
}

Vec3 shade(const SurfaceValues& s, const ShadingPoint& p, const Environment& environment, float turn) {
    const Vec3 bitangent = cross(p.normal, p.tangent) * p.side;
    Vec3 n = normalised(p.tangent * s.normal.x + bitangent * s.normal.y + p.normal * s.normal.z);
    float nv = dot(n, p.view);
    // A bumped normal can turn away from the viewer, which no surface shows; bend it back to the horizon.
    if (nv < 0.02f) {
        n = normalised(n + p.view * (0.02f - nv));
        nv = std::max(dot(n, p.view), 0.01f);
    }
    const float metal = unit(s.metalness), rough = unit(s.roughness);
    const Vec3 base{std::max(s.baseColour.x, 0.0f), std::max(s.baseColour.y, 0.0f),
                    std::max(s.baseColour.z, 0.0f)};
    // Specular level 0.5 is the 4 % of glass and glaze.
    const float level = 0.08f * unit(s.specularLevel);
    const Vec3 dielectric{level, level, level}, one{1, 1, 1};
    const Vec2 ab = environmentBrdf(nv, rough);
    const float lost = 1 / std::max(ab.x + ab.y, 1e-3f) - 1;
    const auto reflectance = [&](Vec3 f0) {
        return (f0 * ab.x + Vec3{ab.y, ab.y, ab.y}) * (one + f0 * lost);
    };
    // In between it is a mix of two surfaces, metal and not (glTF 2.0, appendix B), which keeps their energy.
    const Vec3 specularOfDielectric = reflectance(dielectric);
    const Vec3 specular = mix(specularOfDielectric, reflectance(base), metal);
    const Vec3 diffuse = base * (1 - metal) * (one - specularOfDielectric);

    const float c = std::cos(turn), sn = std::sin(turn);
    const float hidden = std::min(unit(s.occlusion), p.openness);
    const Vec3 r = n * (2 * dot(n, p.view)) - p.view;
    // Specular occlusion after Lagarde and de Rousiers 2014: smooth surfaces still mirror what an open
    // direction shows.
    const float specularHidden =
        std::clamp(std::pow(nv + hidden, std::exp2(-16 * rough - 1)) - 1 + hidden, 0.0f, 1.0f);
    Vec3 light = diffuse * environment.diffuse(turned(n, c, sn)) * hidden +
                 specular * environment.reflected(turned(r, c, sn), rough) * specularHidden;

    const Vec3 key = turned(environment.keyDirection(), c, -sn);
    const float nl = dot(n, key);
    if (nl > 0 && p.keyLight > 0) {
        const Vec3 h = normalised(key + p.view);
        const float nh = std::max(dot(n, h), 0.0f), vh = std::max(dot(p.view, h), 0.0f);
        // The light has a size: a mirror shows it as a disc, not as a point.
        const float alpha = std::max(rough * rough, 0.03f), alpha2 = alpha * alpha,
                    k = nh * nh * (alpha2 - 1) + 1;
        const float fresnel = std::pow(1 - vh, 5.0f);
        const auto facing = [&](Vec3 f0) { return (f0 + (one - f0) * fresnel) * (one + f0 * lost); };
        const float lobe = alpha2 / (kPi * k * k) * visibility(nl, nv, alpha2);
        light += (diffuse * (1 / kPi) + mix(facing(dielectric), facing(base), metal) * lobe) *
                 environment.keyIrradiance() * (nl * p.keyLight);
    }
    return light + s.emission;
}

}  // namespace kettle
