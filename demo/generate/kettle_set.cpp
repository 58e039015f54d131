// The enamel kettle's maps: red enamel with a painted band of flowers, chipped and rusted; wood on handle and
// knob. The layout of texture space is shared with models.cpp: the body from v 0.30 up, the small parts below
// it.
#include <cmath>

#include "demo/generate/noise.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr int kSize = 1024;
constexpr float kPi = 3.14159265f;

struct Paint {
    Vec3 colour;
    float cover;
};

/// One flower in a cell of -1..1: five petals round a yellow heart, two leaves.
Paint flower(float x, float y, float turn) {
    const float r = std::hypot(x, y), angle = std::atan2(y, x) + turn;
    const float petal = 0.46f + 0.20f * std::cos(5 * angle);
    if (r < 0.17f) return {mix(hex(0xE8B53A), hex(0xC98A1E), r / 0.17f), 1};
    if (r < petal) {
        const float vein = 0.5f + 0.5f * std::cos(5 * angle);
        return {mix(hex(0x2F4A8C), hex(0x6C86C4), r / petal * 0.6f + 0.4f * vein), 1};
    }
    for (const float side : {-1.0f, 1.0f}) {
        const float lx = x * side - 0.66f, ly = y + 0.30f;
        const float a = lx * 0.80f + ly * 0.60f, b = -lx * 0.60f + ly * 0.80f;
        const float leaf = (a * a) / (0.30f * 0.30f) + (b * b) / (0.11f * 0.11f);
        if (leaf < 1)
            return {std::fabs(b) < 0.012f ? hex(0x2C5A3A) : mix(hex(0x3F7A4E), hex(0x6FA45E), 0.5f + b * 4),
                    1};
    }
    return {{}, 0};
}

/// The painted band round the body; y from -1 to 1 over its height.
Paint band(float u, float y) {
    if (std::fabs(y) > 1) return {{}, 0};
    const Vec3 cream = hex(0xEFE6D2), line = hex(0x2B3F73);
    if (std::fabs(y) > 0.86f && std::fabs(y) < 0.95f) return {line, 1};
    if (std::fabs(y) > 0.80f) return {cream, 1};
    const float cell = u * 14, x = (cell - std::floor(cell)) * 2 - 1;
    const bool odd = (static_cast<int>(std::floor(cell)) & 1) != 0;
    const Paint f = flower(x * (odd ? 1.55f : 1.18f),
                           (y * 0.92f + (odd ? 0.10f : 0.0f)) * (odd ? 1.45f : 1.10f), odd ? 0.3f : 0.95f);
    if (f.cover > 0) return f;
    // A thin wavy stem that joins the flowers.
    if (std::fabs(y + 0.55f - 0.13f * std::sin(u * 2 * kPi * 14)) < 0.035f) return {hex(0x3F7A4E), 1};
    return {cream, 1};
}

/// Enamel that is chipped where `proneness` is high; `base` is its undamaged colour.
Texel enamel(float u, float v, Vec3 base, float proneness) {
    Texel t;
    const float cloud = fractal(u, v, 5, 4, 11), fine = fractal(u, v, 48, 3, 12);
    const float warpU = u + 0.025f * fractal(u, v, 9, 3, 13), warpV = v + 0.025f * fractal(u, v, 9, 3, 14);
    const float field = fractal(warpU, warpV, 7, 5, 15) + 0.35f * fractal(u, v, 40, 3, 16) + proneness;
    const float chip = smoothStep(0.350f, 0.366f, field);
    const float halo = smoothStep(0.22f, 0.36f, field) * (0.55f + 0.45f * fractal(u, v, 24, 4, 17));
    const float speck = (1 - smoothStep(0.05f, 0.09f, cellular(u, v, 64, 18).nearest)) *
                        (cellular(u, v, 64, 18).id > 0.72f ? 1.0f : 0.0f);
    Vec3 colour = base * (1 + 0.10f * cloud + 0.02f * fine);
    colour = mix(colour, colour * 0.55f, 0.6f * speck);
    // Old enamel dulls a little where hands have been.
    const float smudge = smoothStep(0.05f, 0.45f, fractal(u, v, 4, 5, 19));
    const float rustTone = 0.5f + 0.9f * fractal(u, v, 60, 4, 20) + 0.4f * cloud;
    const Vec3 rust = mix(hex(0x5A2A14), hex(0xA85A24), std::clamp(rustTone, 0.0f, 1.0f));
    const Vec3 iron = mix(hex(0x2A2624), hex(0x4A4440), std::clamp(0.5f + fine, 0.0f, 1.0f));
    const float core = smoothStep(0.43f, 0.60f, field);
    colour = mix(colour, mix(colour, rust, 0.7f), std::clamp(halo, 0.0f, 1.0f) * (1 - chip));
    colour = mix(colour, mix(rust, iron, core * 0.75f), chip);
    t.colour = colour;
    t.metalness = chip * core * 0.7f;
    t.roughness = mix(mix(0.10f, 0.30f, smudge) + 0.03f * fine + 0.25f * std::max(0.0f, halo) * (1 - chip),
                      mix(0.82f, 0.55f, core), chip);
    t.height = 0.62f + 0.004f * fine + 0.012f * cloud - chip * (0.10f - 0.05f * fractal(u, v, 70, 3, 21)) +
               0.02f * halo * (1 - chip);
    t.wear = std::clamp(std::max(chip, halo * 1.1f), 0.0f, 1.0f);
    return t;
}

Texel wood(float u, float v) {
    Texel t;
    const float rings = fractal(u, v * 0.12f, 60, 3, 31) + 0.5f * fractal(u, v * 0.25f, 130, 2, 32);
    t.colour = mix(hex(0x2E211A), hex(0x5C4230), std::clamp(0.5f + rings, 0.0f, 1.0f));
    t.roughness = 0.52f + 0.15f * rings;
    t.height = 0.6f + 0.02f * rings;
    return t;
}

Texel texel(float u, float v) {
    const Vec3 red = hex(0xB9261C), cream = hex(0xEFE6D2);
    Texel t;
    if (v >= 0.30f) {
        const float h = (v - 0.30f) / 0.70f;
        t = enamel(u, v, red,
                   0.22f * (1 - smoothStep(0.22f, 0.40f, h)) - 0.06f + 0.16f * smoothStep(0.93f, 1.0f, h));
        const Paint p = band(u, (h - 0.60f) / 0.115f);
        if (p.cover > 0) {
            const Texel under = enamel(u, v, p.colour, 0.22f * (1 - smoothStep(0.22f, 0.40f, h)) - 0.06f);
            t.colour = under.colour;
            t.height += 0.010f;
        }
    } else if (u < 0.50f) {
        t = enamel(u, v, v > 0.045f && v < 0.075f ? cream : red, v < 0.03f ? 0.12f : -0.05f);
    } else if (u < 0.81f) {
        t = enamel(u, v, v > 0.235f && v < 0.255f ? cream : red, 0.20f * smoothStep(0.22f, 0.27f, v) - 0.04f);
    } else {
        t = wood(u, v);
    }
    t.grain = std::clamp(0.5f + 0.55f * fractal(u, v * 0.06f, 150, 3, 41) + 0.25f * fractal(u, v, 24, 3, 42),
                         0.0f, 1.0f);
    return t;
}

}  // namespace

Result<void> writeKettle(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    const Canvas canvas(kSize, texel);
    const std::pair<const char*, PixelBuffer> maps[] = {
        {"kettle_basecolor.png", canvas.colour()},
        {"kettle_gloss.png", canvas.grey([](const Texel& t) { return 1 - t.roughness; })},
        {"kettle_metalness.png", canvas.grey([](const Texel& t) { return t.metalness; })},
        {"kettle_normal.png", canvas.normal(9)},
        {"kettle_occlusion.png", canvas.occlusion(1.1f)},
        {"kettle_wear.png", canvas.maskInAlpha([](const Texel& t) { return t.wear; })},
        {"kettle_grain.png", canvas.grey([](const Texel& t) { return t.grain; })},
    };
    for (const auto& [name, pixels] : maps)
        if (auto done = writeImage(folder / name, pixels, FileFormat::Png8, ""); !done) return done;
    return writeImage(folder / "kettle_height.png",
                      canvas.grey([](const Texel& t) { return t.height; }, Depth::U16), FileFormat::Png16,
                      "");
}

}  // namespace kettle::demo
