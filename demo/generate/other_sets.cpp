// Glazed tiles, rattan, sailcloth and the ferry's hull.
#include <cmath>

#include "demo/generate/noise.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr float kPi = 3.14159265f;

float fraction(float x) {
    return x - std::floor(x);
}

/// Four tiles with a blue and ochre star in each, fine cracks in the glaze, grey joints.
Texel tile(float u, float v) {
    Texel t;
    const float x = fraction(u * 2) * 2 - 1, y = fraction(v * 2) * 2 - 1;
    const float edge = 1 - std::max(std::fabs(x), std::fabs(y));
    const float joint = 1 - smoothStep(0.030f, 0.045f, edge + 0.006f * fractal(u, v, 40, 2, 1));
    const float r = std::hypot(x, y), angle = std::atan2(y, x);
    const float star = 0.52f + 0.16f * std::cos(8 * angle),
                corner = std::hypot(std::fabs(x) - 1, std::fabs(y) - 1);
    Vec3 colour = hex(0xEDE8DC);
    if (r < star && r > star - 0.13f) colour = hex(0x2B5A8C);
    if (r < 0.20f) colour = hex(0xC8892B);
    if (corner < 0.34f && corner > 0.25f) colour = hex(0x2B5A8C);
    if (corner < 0.15f) colour = hex(0xC8892B);
    const Cells crack = cellular(u + 0.01f * fractal(u, v, 20, 2, 4), v, 26, 2);
    const float line = 1 - smoothStep(0.0f, 0.035f, crack.second - crack.nearest);
    colour = colour * (1 + 0.06f * fractal(u, v, 8, 4, 3)) * (1 - 0.22f * line);
    t.colour = mix(colour, hex(0x8F8A80) * (1 + 0.2f * fractal(u, v, 90, 2, 5)), joint);
    t.roughness = mix(0.07f + 0.05f * line + 0.05f * std::max(0.0f, fractal(u, v, 6, 4, 6)), 0.88f, joint);
    t.height = mix(
        0.75f - 0.14f * (1 - smoothStep(0.03f, 0.16f, edge)) + 0.01f * fractal(u, v, 10, 2, 7) - 0.01f * line,
        0.45f, joint);
    return t;
}

/// Flat strips woven over two and under two.
Texel rattan(float u, float v) {
    Texel t;
    constexpr int kStrips = 12;
    const float x = u * kStrips, y = v * kStrips;
    const int i = static_cast<int>(std::floor(x)), j = static_cast<int>(std::floor(y));
    const bool across = ((i + j) % 4 + 4) % 4 < 2;
    const float along = across ? fraction(x) : fraction(y),
                side = (across ? fraction(y) : fraction(x)) * 2 - 1;
    const int strip = across ? j : i;
    const float gap = smoothStep(0.80f, 0.92f, std::fabs(side));
    const float fibre = across ? fractal(u * 0.15f, v, 120, 3, 21) : fractal(u, v * 0.15f, 120, 3, 22);
    const float tone =
        0.35f * noise(static_cast<float>(strip) * 0.37f + (across ? 0.0f : 40.0f), 0.5f, 512, 23);
    t.colour = mix(hex(0xA87A45), hex(0xDDB57C), std::clamp(0.5f + tone + 0.5f * fibre, 0.0f, 1.0f));
    const float lift = std::sqrt(std::max(0.0f, 1 - side * side)) * (0.6f + 0.4f * std::sin(kPi * along));
    t.colour = mix(t.colour * (0.72f + 0.28f * lift), hex(0x3A2616), gap);
    t.roughness = 0.48f + 0.2f * fibre + 0.3f * gap;
    t.height = 0.25f + 0.5f * lift * (1 - gap) + 0.03f * fibre;
    return t;
}

/// Plain weave, sun-bleached, with a broad stripe and a seam.
Texel sailcloth(float u, float v) {
    Texel t;
    constexpr float kThreads = 128;
    const float x = u * kThreads, y = v * kThreads;
    const bool over = ((static_cast<int>(x) + static_cast<int>(y)) & 1) != 0;
    const float cx = std::sin(kPi * fraction(x)), cy = std::sin(kPi * fraction(y));
    const float thread = over ? cy * (0.6f + 0.4f * cx) : cx * (0.6f + 0.4f * cy);
    const bool stripe = std::fabs(fraction(u * 2) - 0.5f) < 0.12f;
    const float seam = 1 - smoothStep(0.004f, 0.007f, std::fabs(fraction(u * 2 + 0.02f) - 0.5f));
    const float bleach = fractal(u, v, 4, 5, 31);
    t.colour = stripe ? mix(hex(0x9C3B2C), hex(0xC46A55), 0.5f + bleach)
                      : mix(hex(0xD9CFB8), hex(0xF1EADA), 0.5f + bleach);
    t.colour = t.colour * (0.80f + 0.20f * thread) * (1 - 0.35f * seam);
    t.roughness = 0.86f - 0.06f * thread;
    t.height = 0.45f + 0.20f * thread + 0.12f * seam + 0.03f * bleach;
    return t;
}

/// Painted planks; `u` runs over all four tiles, 0..4. Water line, boot top, flaking paint, run-down rust at
/// the bolts.
Texel hull(float u, float v) {
    Texel t;
    constexpr int kPlanks = 8;
    const float plank = fraction(v * kPlanks), w = u * 0.25f;
    const float joint = 1 - smoothStep(0.012f, 0.03f, std::min(plank, 1 - plank));
    const float cloud = fractal(w, v, 12, 5, 41), grain = fractal(w, v * 4, 90, 3, 42);
    Vec3 paint = v > 0.55f ? hex(0x2F5D62) : v > 0.47f ? hex(0xE9E2CF) : hex(0x7E2A22);
    if (v > 0.86f && v < 0.90f) paint = hex(0xD9A33A);
    const float below = 1 - smoothStep(0.30f, 0.55f, v);
    const float flake =
        smoothStep(0.36f, 0.40f, fractal(w + 0.02f * cloud, v, 24, 5, 43) + 0.14f * below + 0.18f * joint);
    const float bx = fraction(u * 3) - 0.5f, by = plank - 0.5f, bolt = std::hypot(bx / 3.0f, by / kPlanks);
    const float run = (by < 0 ? 1 - smoothStep(0.0f, 0.5f, -by) : 0.0f) *
                      (1 - smoothStep(0.006f, 0.016f, std::fabs(bx / 3.0f)));
    t.colour = paint * (1 + 0.12f * cloud + 0.03f * grain);
    t.colour = mix(t.colour, mix(hex(0x6B5946), hex(0x9A8468), std::clamp(0.5f + grain, 0.0f, 1.0f)), flake);
    t.colour = mix(t.colour, hex(0x7A4020), 0.6f * run);
    t.colour = mix(t.colour, hex(0x4A4642), bolt < 0.012f ? 1.0f : 0.0f);
    t.colour = t.colour * (1 - 0.55f * joint) * (1 - 0.25f * below * (0.5f + cloud));
    t.metalness = bolt < 0.010f ? 0.8f : 0.0f;
    t.roughness = std::clamp(mix(0.34f + 0.15f * cloud, 0.85f, flake) + 0.2f * run, 0.0f, 1.0f);
    t.height = 0.6f - 0.28f * joint - 0.05f * flake + 0.02f * grain * flake + (bolt < 0.012f ? 0.08f : 0.0f);
    return t;
}

Result<void> writeAll(const std::filesystem::path& folder,
                      const std::vector<std::pair<std::string, PixelBuffer>>& maps) {
    std::filesystem::create_directories(folder);
    for (const auto& [name, pixels] : maps) {
        const FileFormat format = pixels.depth == Depth::U16 ? FileFormat::Png16 : FileFormat::Png8;
        if (auto done = writeImage(folder / name, pixels, format, ""); !done) return done;
    }
    return {};
}

float roughnessOf(const Texel& t) {
    return t.roughness;
}
float heightOf(const Texel& t) {
    return t.height;
}

}  // namespace

Result<void> writeTile(const std::filesystem::path& folder) {
    const Canvas c(1024, tile);
    return writeAll(folder, {{"Tile_BaseColor.png", c.colour()},
                             {"Tile_Roughness.png", c.grey(roughnessOf)},
                             {"Tile_Normal.png", c.normal(14)},
                             {"Tile_Height.png", c.grey(heightOf, Depth::U16)},
                             {"Tile_AO.png", c.occlusion(1.2f)}});
}

Result<void> writeRattan(const std::filesystem::path& folder) {
    const Canvas c(768, rattan);
    return writeAll(folder, {{"rattan-albedo.png", c.colour()},
                             {"rattan-rgh.png", c.grey(roughnessOf)},
                             {"rattan-nrm.png", c.normal(16)},
                             {"rattan-ao.png", c.occlusion(0.8f)}});
}

Result<void> writeSailcloth(const std::filesystem::path& folder) {
    const Canvas c(768, sailcloth);
    return writeAll(folder, {{"SailclothBaseColor.png", c.colour()},
                             {"SailclothRoughness.png", c.grey(roughnessOf)},
                             {"SailclothNormalGL.png", c.normal(4)}});
}

Result<void> writeHull(const std::filesystem::path& folder) {
    for (int k = 0; k < 4; ++k) {
        const Canvas c(512, [k](float u, float v) { return hull(u + static_cast<float>(k), v); });
        const std::string tile = std::to_string(1001 + k);
        if (auto done = writeAll(folder, {{"hull_basecolor." + tile + ".png", c.colour()},
                                          {"hull_orm." + tile + ".png", c.packed(1.0f)},
                                          {"hull_normal." + tile + ".png", c.normal(8)}});
            !done)
            return done;
    }
    return {};
}

}  // namespace kettle::demo
