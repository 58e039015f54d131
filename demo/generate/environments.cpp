// Three environments in latitude and longitude, linear: a morning on deck, the galley under its lamp, an
// overcast river.
#include <cmath>
#include <functional>

#include "demo/generate/noise.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr int kWidth = 512, kHeight = 256;
constexpr float kPi = 3.14159265f;

float angleBetween(Vec3 a, Vec3 b) {
    return std::acos(std::clamp(dot(a, b), -1.0f, 1.0f));
}
Vec3 towards(float turn, float tilt) {
    const float a = turn * kPi / 180, b = tilt * kPi / 180;
    return {std::sin(a) * std::cos(b), std::sin(b), std::cos(a) * std::cos(b)};
}

/// 1 inside a rectangle seen from the origin, with a soft edge: half sizes as tangents.
float panel(Vec3 d, Vec3 centre, float halfWidth, float halfHeight, float soft) {
    const Vec3 right = normalised(cross({0, 1, 0}, centre)), up = cross(centre, right);
    const float depth = dot(d, centre);
    if (depth <= 0.02f) return 0;
    const float x = std::fabs(dot(d, right) / depth), y = std::fabs(dot(d, up) / depth);
    return (1 - smoothStep(halfWidth - soft, halfWidth + soft, x)) *
           (1 - smoothStep(halfHeight - soft, halfHeight + soft, y));
}

Vec3 morningDeck(Vec3 d) {
    const Vec3 sky = mix({0.95f, 0.86f, 0.74f}, {0.42f, 0.56f, 0.78f}, smoothStep(0.0f, 0.8f, d.y));
    const Vec3 deck = mix({0.20f, 0.15f, 0.11f}, {0.30f, 0.25f, 0.20f}, smoothStep(-1.0f, -0.1f, d.y));
    Vec3 c = mix(deck, sky, smoothStep(-0.03f, 0.03f, d.y));
    // The cabin: a pale wall with two windows on one side, a dark bulkhead on the other.
    const float wall = panel(d, towards(-115, 8), 0.75f, 0.42f, 0.03f);
    c = mix(c, {0.55f, 0.52f, 0.47f}, wall);
    c = mix(c, {0.16f, 0.17f, 0.18f}, panel(d, towards(150, 4), 0.9f, 0.5f, 0.04f));
    for (const float turn : {-62.0f, -30.0f}) {
        const float glass = panel(d, towards(turn, 30), 0.20f, 0.34f, 0.012f),
                    bar = panel(d, towards(turn, 30), 0.012f, 0.36f, 0.008f);
        c += Vec3{3.6f, 3.3f, 2.9f} * (glass * (1 - bar));
    }
    c += Vec3{1.5f, 1.7f, 2.0f} * panel(d, towards(78, 22), 0.26f, 0.50f, 0.02f);
    return c + Vec3{520, 450, 350} * (1 - smoothStep(0.030f, 0.045f, angleBetween(d, towards(-38, 44))));
}

Vec3 galleyLamp(Vec3 d) {
    const float plank = 0.85f + 0.15f * std::sin(std::atan2(d.x, d.z) * 24);
    Vec3 c = mix({0.055f, 0.040f, 0.030f}, {0.20f, 0.14f, 0.09f}, smoothStep(-0.9f, 0.9f, d.y)) * plank;
    const float lamp = panel(d, towards(-20, 66), 0.42f, 0.20f, 0.02f);
    c += Vec3{9.0f, 6.2f, 3.4f} * lamp;
    for (const float turn : {62.0f, 96.0f}) {
        const float port = 1 - smoothStep(0.16f, 0.175f, angleBetween(d, towards(turn, 12)));
        c += Vec3{0.75f, 1.15f, 1.9f} * port;
    }
    c += Vec3{1.2f, 0.62f, 0.25f} * panel(d, towards(-108, 2), 0.24f, 0.20f, 0.03f);
    return c + Vec3{200, 132, 66} * (1 - smoothStep(0.050f, 0.075f, angleBetween(d, towards(-20, 66))));
}

Vec3 overcastRiver(Vec3 d) {
    const float u = std::atan2(d.x, d.z) / (2 * kPi) + 0.5f,
                v = std::asin(std::clamp(d.y, -1.0f, 1.0f)) / kPi + 0.5f;
    const float cloud = fractal(u, v, 6, 5, 71);
    Vec3 sky =
        mix({0.62f, 0.66f, 0.68f}, {1.25f, 1.27f, 1.28f}, smoothStep(-0.1f, 0.9f, d.y)) * (1 + 0.35f * cloud);
    sky += Vec3{1.6f, 1.55f, 1.45f} * (1 - smoothStep(0.15f, 0.75f, angleBetween(d, towards(35, 52))));
    const float bank = 0.05f + 0.05f * fractal(u, 0.3f, 22, 4, 72);
    const Vec3 trees = Vec3{0.10f, 0.14f, 0.08f} * (1 + 0.8f * fractal(u, v, 60, 3, 73));
    Vec3 water = mix({0.30f, 0.34f, 0.34f}, {0.06f, 0.08f, 0.08f}, smoothStep(0.0f, 0.9f, -d.y)) *
                 (1 + 0.3f * fractal(u, v * 4, 40, 3, 74));
    water = mix(trees * 0.8f, water, smoothStep(0.03f, 0.12f, -d.y));
    return d.y > bank ? sky : d.y > 0 ? trees : water;
}

Result<void> write(const std::filesystem::path& file, const std::function<Vec3(Vec3)>& radiance) {
    PixelBuffer p = PixelBuffer::make(kWidth, kHeight, 3, Depth::Float);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const float phi = ((static_cast<float>(x) + 0.5f) / kWidth - 0.5f) * 2 * kPi;
            const float theta = (static_cast<float>(y) + 0.5f) / kHeight * kPi;
            const Vec3 c = radiance(
                {std::sin(theta) * std::sin(phi), std::cos(theta), -std::sin(theta) * std::cos(phi)});
            float* to = p.row<float>(y) + 3 * x;
            to[0] = c.x, to[1] = c.y, to[2] = c.z;
        }
    return writeImage(file, p, FileFormat::ExrHalf, "");
}

}  // namespace

Result<void> writeEnvironments(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    if (auto done = write(folder / "morning-deck.exr", morningDeck); !done) return done;
    if (auto done = write(folder / "galley-lamp.exr", galleyLamp); !done) return done;
    return write(folder / "overcast-river.exr", overcastRiver);
}

}  // namespace kettle::demo
