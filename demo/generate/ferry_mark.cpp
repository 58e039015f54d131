// The ferry's mark: a small ship in a ring, printed in three colours with soft edges; a stamp with alpha.
#include <algorithm>
#include <array>
#include <cmath>

#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr int kSide = 512;

/// How much of a texel lies inside, by the signed distance to the edge (inside below 0), in units of the
/// side.
float inside(float distance) {
    return std::clamp(0.5f - distance * kSide / 3, 0.0f, 1.0f);
}
float boxDistance(float x, float y, float left, float bottom, float right, float top) {
    const float dx = std::max(left - x, x - right), dy = std::max(bottom - y, y - top);
    return std::max(dx, dy);
}

struct Inks {
    float blue = 0, brick = 0, cream = 0;
};

/// x, y from -1 to 1, y up. Narrower than high: on the kettle's shoulder the texture is half as wide again.
Inks inksAt(float x, float y) {
    Inks ink;
    x *= 1.45f;
    const float r = std::hypot(x, y);
    ink.blue = std::max(inside(std::fabs(r - 0.86f) - 0.07f), inside(std::fabs(r - 0.72f) - 0.012f));
    ink.cream = inside(r - 0.79f);
    // Three waves, cut by the ring.
    for (int k = 0; k < 3; ++k) {
        const float at =
            -0.36f - 0.13f * static_cast<float>(k) + 0.028f * std::sin(x * 15 + static_cast<float>(k) * 2);
        ink.blue = std::max(ink.blue, std::min(inside(std::fabs(y - at) - 0.022f), inside(r - 0.66f)));
    }
    // Hull: a box whose ends lean outwards; house, funnel and a stripe.
    const float lean = 0.34f * (y + 0.24f);
    const float hull = std::max({std::fabs(x) - 0.44f - lean, y - 0.02f, -0.24f - y});
    ink.brick = std::max(inside(hull), inside(boxDistance(x, y, 0.04f, 0.2f, 0.16f, 0.44f)));
    ink.blue = std::max(ink.blue, inside(boxDistance(x, y, -0.3f, 0.04f, 0.3f, 0.18f)));
    for (int k = 0; k < 4; ++k) {
        const float middle = -0.2f + 0.13f * static_cast<float>(k);
        ink.blue = std::min(ink.blue, 1 - inside(std::hypot(x - middle, y - 0.11f) - 0.035f));
    }
    return ink;
}

}  // namespace

Result<void> writeFerryMark(const std::filesystem::path& folder) {
    PixelBuffer p = PixelBuffer::make(kSide, kSide, 4, Depth::U8);
    const Vec3 blue = hex(0x24466B), brick = hex(0x9A3A26), cream = hex(0xEFE6CF);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const Inks ink = inksAt((static_cast<float>(x) + 0.5f) / kSide * 2 - 1,
                                    1 - (static_cast<float>(y) + 0.5f) / kSide * 2);
            Vec3 c = mix(cream, blue, ink.blue);
            c = mix(c, brick, ink.brick);
            const std::array<float, 4> texel{c.x, c.y, c.z, std::max({ink.cream, ink.blue, ink.brick})};
            for (std::size_t k = 0; k < 4; ++k)
                p.row<std::uint8_t>(y)[static_cast<std::size_t>(x) * 4 + k] =
                    static_cast<std::uint8_t>(std::clamp(texel[k], 0.0f, 1.0f) * 255 + 0.5f);
        }
    std::error_code code;
    std::filesystem::create_directories(folder, code);
    return writeImage(folder / "ferry_mark.png", p, FileFormat::Png8, "");
}

}  // namespace kettle::demo
