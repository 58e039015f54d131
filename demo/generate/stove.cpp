// The galley's stove: a model of two materials with a set for each, named as another hand would: what the
// sheet for bringing in is shown with.
#include <cmath>

#include "demo/generate/noise.h"
#include "demo/generate/obj_writer.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr float kPi = 3.14159265f, kWidth = 64, kDepth = 48, kHeight = 46, kFoot = 12;

/// Enamel in two greens with a pale rim, chipped to the iron at edges and foot.
Texel body(float u, float v) {
    Texel t;
    const float cloud = fractal(u, v, 6, 4, 71), fine = fractal(u, v, 40, 3, 72);
    const float band = smoothStep(0.50f, 0.51f, v) - smoothStep(0.545f, 0.555f, v);
    t.colour = mix(hex(0x4F7D6B), hex(0x5F8F7A), 0.5f + 0.5f * cloud);
    if (v < 0.14f) t.colour = mix(hex(0x2E4740), hex(0x38554C), 0.5f + 0.5f * cloud);
    t.colour = mix(t.colour, hex(0xE8E1CC), band);
    const float chip =
        smoothStep(0.30f, 0.34f, fractal(u, v, 14, 4, 73) + 0.30f * (1 - smoothStep(0.0f, 0.16f, v)));
    const float rust =
        smoothStep(0.22f, 0.34f, fractal(u, v, 14, 4, 73) + 0.30f * (1 - smoothStep(0.0f, 0.16f, v)));
    t.colour = mix(t.colour, hex(0x8A4B26), 0.6f * rust * (1 - chip));
    t.colour = mix(t.colour, hex(0x2C2926), chip);
    t.roughness = std::clamp(
        mix(0.16f + 0.05f * cloud, 0.72f + 0.1f * fine, chip) + 0.25f * rust * (1 - chip), 0.0f, 1.0f);
    t.metalness = 0.7f * chip;
    t.height = 0.6f - 0.22f * chip + 0.01f * fine;
    return t;
}

/// Cast iron, turned in rings, worn bright at the rims.
Texel rings(float u, float v) {
    Texel t;
    const float x = (u < 0.5f ? u : u - 0.5f) - 0.25f, y = (v < 0.5f ? v : v - 0.5f) - 0.25f;
    const float r = std::hypot(x, y) * 4, turned = 0.5f + 0.5f * std::sin(r * 120),
                cloud = fractal(u, v, 18, 4, 81);
    const float rim = smoothStep(0.82f, 0.94f, r);
    t.colour =
        mix(hex(0x2B2A2A), hex(0x474544), std::clamp(0.4f + 0.4f * cloud + 0.25f * turned, 0.0f, 1.0f));
    t.colour = mix(t.colour, hex(0x8C8780), 0.6f * rim);
    const float rust = smoothStep(0.20f, 0.38f, fractal(u, v, 9, 5, 82));
    t.colour = mix(t.colour, hex(0x6E3B21), 0.7f * rust);
    t.metalness = std::clamp(0.9f - 0.8f * rust, 0.0f, 1.0f);
    t.roughness = std::clamp(0.42f + 0.12f * turned + 0.35f * rust - 0.15f * rim, 0.0f, 1.0f);
    t.height = 0.5f + 0.06f * turned + 0.04f * cloud;
    return t;
}

float signedRoot(float v) {
    return std::copysign(std::pow(std::fabs(v), 0.28f), v);
}

void writeBody(ObjWriter& obj) {
    obj.grid(
        "body", 64, 8,
        [](float s, float t) {
            const float a = 2 * kPi * s;
            return Vec3{kWidth / 2 * signedRoot(std::cos(a)), kFoot + kHeight * t,
                        kDepth / 2 * signedRoot(std::sin(a))};
        },
        [](float s, float t) {
            return Vec2{s, 0.58f * t};
        },
        true);
    obj.grid(
        "top", 48, 8,
        [](float s, float t) {
            const float a = 2 * kPi * s;
            return Vec3{kWidth / 2 * signedRoot(std::cos(a)) * t * 1.03f, kFoot + kHeight + 0.4f,
                        kDepth / 2 * signedRoot(std::sin(a)) * t * 1.03f};
        },
        [](float s, float t) {
            const float a = 2 * kPi * s;
            return Vec2{0.24f + 0.22f * t * std::cos(a), 0.80f + 0.18f * t * std::sin(a)};
        });
    obj.grid(
        "door", 16, 16,
        [](float s, float t) {
            const float x = 2 * s - 1, y = 2 * t - 1;
            const float swell = (1 - std::pow(x, 8.0f)) * (1 - std::pow(y, 8.0f));
            return Vec3{x * 17, kFoot + 23 + y * 14, kDepth / 2 - 0.5f + 2.6f * swell};
        },
        [](float s, float t) {
            return Vec2{0.52f + 0.44f * s, 0.62f + 0.34f * t};
        });
    for (const auto& [name, x, z] : {std::tuple{"leg 1", -1.0f, 1.0f},
                                     {"leg 2", 1.0f, 1.0f},
                                     {"leg 3", -1.0f, -1.0f},
                                     {"leg 4", 1.0f, -1.0f}})
        obj.grid(
            name, 16, 3,
            [x = x, z = z](float s, float t) {
                const float a = 2 * kPi * s, r = 2.2f + 1.6f * t * t;
                return Vec3{x * (kWidth / 2 - 7) + r * std::cos(a), kFoot * t,
                            z * (kDepth / 2 - 7) + r * std::sin(a)};
            },
            [](float s, float t) {
                return Vec2{s, 0.14f * t};
            },
            true);
}

void writeRings(ObjWriter& obj) {
    for (const auto& [name, x, z, radius, corner] :
         {std::tuple{"front ring", -14.0f, 5.0f, 12.5f, 0.0f}, {"back ring", 15.0f, -6.0f, 10.0f, 0.5f}})
        obj.grid(
            name, 48, 24,
            [x = x, z = z, radius = radius](float s, float t) {
                const float a = 2 * kPi * s, groove = 0.25f * std::pow(std::sin(t * kPi * 4), 2.0f);
                const float y = kFoot + kHeight + 0.5f + 1.3f * (1 - smoothStep(0.9f, 1.0f, t)) - groove;
                return Vec3{x + radius * t * std::cos(a), y, z + radius * t * std::sin(a)};
            },
            [corner = corner](float s, float t) {
                const float a = 2 * kPi * s;
                return Vec2{corner + 0.25f + 0.24f * t * std::cos(a), 0.25f + 0.24f * t * std::sin(a)};
            });
    obj.grid(
        "pipe", 32, 24,
        [](float s, float t) {
            const float a = 2 * kPi * s,
                        flange = 1.5f * (1 - smoothStep(0.0f, 0.08f, t)) + 0.6f * smoothStep(0.9f, 0.93f, t);
            const float r = 5.2f + flange;
            return Vec3{-18 + r * std::cos(a), kFoot + kHeight + 44 * t, -13 + r * std::sin(a)};
        },
        [](float s, float t) {
            return Vec2{0.02f + 0.46f * s, 0.52f + 0.46f * t};
        },
        true);
}

Result<void> writeAll(const std::filesystem::path& folder,
                      const std::vector<std::pair<std::string, PixelBuffer>>& maps) {
    for (const auto& [name, pixels] : maps)
        if (auto done = writeImage(folder / name, pixels, FileFormat::Png8, ""); !done) return done;
    return {};
}

}  // namespace

Result<void> writeStove(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    ObjWriter obj;
    obj.library("galley-stove.mtl");
    obj.material("stove body");
    writeBody(obj);
    obj.material("iron rings");
    writeRings(obj);
    if (auto done = obj.save(folder / "galley-stove.obj"); !done) return done;
    if (auto done =
            writeFileAtomically(folder / "galley-stove.mtl",
                                "newmtl stove body\nKd 0.4 0.6 0.5\nnewmtl iron rings\nKd 0.2 0.2 0.2\n");
        !done)
        return done;
    const auto gloss = [](const Texel& t) { return 1 - t.roughness; };
    const auto rough = [](const Texel& t) { return t.roughness; };
    const auto metal = [](const Texel& t) { return t.metalness; };
    const Canvas enamel(512, body), iron(512, rings);
    if (auto done = writeAll(folder, {{"stv_body_v03.png", enamel.colour()},
                                      {"stv_body_v03_glossy.png", enamel.grey(gloss)},
                                      {"stv_body_v03_nm.png", enamel.normal(8)},
                                      {"stv_body_v03_mtl.png", enamel.grey(metal)}});
        !done)
        return done;
    return writeAll(folder, {{"IronRings-Albedo.png", iron.colour()},
                             {"IronRings-Rgh.png", iron.grey(rough)},
                             {"IronRings-Nrml.png", iron.normal(5)},
                             {"IronRings-Mask.png", iron.packed(1.0f)}});
}

}  // namespace kettle::demo
