// The test card: colours, greys, gradients, fine stripes and an edge of alpha, to learn what a step or a mode
// does.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/colour/models.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr int kSide = 512;

/// Display-encoded colour and alpha at a place; u to the right, v up.
std::array<float, 4> cardAt(int x, int y) {
    const float u = (static_cast<float>(x) + 0.5f) / kSide, v = 1 - (static_cast<float>(y) + 0.5f) / kSide;
    const auto with = [](Vec3 c, float alpha) { return std::array<float, 4>{c.x, c.y, c.z, alpha}; };
    if (v > 0.8f) {  // full colours, each with a darker half
        constexpr std::array<unsigned, 8> kColours{0xFF0000, 0xFFFF00, 0x00FF00, 0x00FFFF,
                                                   0x0000FF, 0xFF00FF, 0xFFFFFF, 0x000000};
        const auto i = static_cast<std::size_t>(std::min(u * 8, 7.0f));
        return with(hex(kColours[i]) * (v > 0.9f ? 1.0f : 0.5f), 1);
    }
    if (v > 0.66f) {  // eleven greys, from black to white by tenths
        const float g = std::floor(u * 11) / 10;
        return with({g, g, g}, 1);
    }
    if (v > 0.34f) {  // all hues across, from pale above to full below
        const float saturation = 1 - (v - 0.34f) / 0.32f;
        return with(rgbOf({u * 360, saturation, 0.85f}), 1);
    }
    if (v > 0.2f) return with({u, u, u}, 1);  // a smooth run
    if (u < 0.25f) return with((x & 1) != 0 ? Vec3{1, 1, 1} : Vec3{0, 0, 0}, 1);
    if (u < 0.5f) return with((y >> 1 & 1) != 0 ? Vec3{1, 1, 1} : Vec3{0, 0, 0}, 1);
    // A warm colour that ends: hard at half of the way, then softly.
    const float alpha = u < 0.62f ? 1.0f : u < 0.75f ? 0.0f : std::clamp((u - 0.75f) / 0.25f, 0.0f, 1.0f);
    return with(hex(0xC8793A), alpha);
}

}  // namespace

Result<void> writeTestCard(const std::filesystem::path& folder) {
    PixelBuffer p = PixelBuffer::make(kSide, kSide, 4, Depth::U8);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const auto c = cardAt(x, y);
            for (int k = 0; k < 4; ++k)
                p.row<std::uint8_t>(y)[x * 4 + k] = static_cast<std::uint8_t>(
                    std::clamp(c[static_cast<std::size_t>(k)], 0.0f, 1.0f) * 255 + 0.5f);
        }
    std::error_code code;
    std::filesystem::create_directories(folder, code);
    return writeImage(folder / "card.png", p, FileFormat::Png8, "");
}

}  // namespace kettle::demo
