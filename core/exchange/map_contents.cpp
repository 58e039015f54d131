#include "core/exchange/map_contents.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/exchange/map_words.h"

namespace kettle {
namespace {

constexpr int kSide = 256;
// A compressed grey is not quite grey; a plain map may be noisy by a code.
constexpr double kAlike = 2 / 255.0, kPlain = 0.75 / 255, kSaysSomething = 0.02, kFollows = 0.6;

double numberAt(const PixelView& p, int x, int y, int c) {
    const int at = x * p.channels + c;
    if (p.depth == Depth::U8) return p.row<std::uint8_t>(y)[at] / 255.0;
    if (p.depth == Depth::U16) return p.row<std::uint16_t>(y)[at] / 65535.0;
    const double v = static_cast<double>(p.row<float>(y)[at]);
    return std::isfinite(v) ? v : 0.0;
}

/// Sums over the pixels that are looked at.
struct Sums {
    double count = 0, unlike = 0, unit = 0;
    std::array<double, 4> sum{}, squares{};
    std::array<double, 3> products{};  ///< red green, green blue, blue red

    void add(const std::array<double, 4>& v) {
        count += 1;
        for (std::size_t c = 0; c < 4; ++c) sum[c] += v[c], squares[c] += v[c] * v[c];
        for (std::size_t c = 0; c < 3; ++c) products[c] += v[c] * v[(c + 1) % 3];
        unlike += std::max({v[0], v[1], v[2]}) - std::min({v[0], v[1], v[2]});
        const double x = v[0] * 2 - 1, y = v[1] * 2 - 1, z = v[2] * 2 - 1;
        unit += std::fabs(std::sqrt(x * x + y * y + z * z) - 1) < 0.1 && z > 0 ? 1 : 0;
    }
};

}  // namespace

MapContents contentsOf(const PixelView& p) {
    Sums s;
    const int stepX = std::max(1, p.width / kSide), stepY = std::max(1, p.height / kSide);
    const bool isColour = p.channels >= 3, hasAlpha = p.channels == 2 || p.channels == 4;
    for (int y = 0; y < p.height; y += stepY)
        for (int x = 0; x < p.width; x += stepX) {
            std::array<double, 4> v{};
            for (std::size_t c = 0; c < 3; ++c) v[c] = numberAt(p, x, y, isColour ? static_cast<int>(c) : 0);
            v[3] = hasAlpha ? numberAt(p, x, y, p.channels - 1) : 1;
            s.add(v);
        }
    MapContents m;
    if (s.count == 0) return m;
    for (std::size_t c = 0; c < 4; ++c) {
        m.mean[c] = s.sum[c] / s.count;
        m.deviation[c] = std::sqrt(std::max(0.0, s.squares[c] / s.count - m.mean[c] * m.mean[c]));
    }
    m.isGrey = !isColour || s.unlike / s.count < kAlike;
    m.isPlain =
        std::all_of(m.deviation.begin(), m.deviation.begin() + 3, [](double d) { return d < kPlain; });
    m.alphaSays = hasAlpha && m.deviation[3] > kSaysSomething;
    const auto isMiddle = [](double v) { return std::fabs(v - 0.5) < 0.12; };
    m.isNormal =
        isColour && isMiddle(m.mean[0]) && isMiddle(m.mean[1]) && m.mean[2] > 0.7 && s.unit / s.count > 0.9;
    m.isPacked = isColour && !m.isNormal;
    for (std::size_t c = 0; c < 3 && m.isPacked; ++c) {
        const std::size_t next = (c + 1) % 3;
        const double spread = m.deviation[c] * m.deviation[next];
        const double together = s.products[c] / s.count - m.mean[c] * m.mean[next];
        m.isPacked = m.deviation[c] > kSaysSomething && std::fabs(together) < kFollows * spread;
    }
    return m;
}

std::string contradictionOf(const MapName& name, const MapContents& contents) {
    if (!name.isKnown) return {};
    const auto code = [&](std::size_t c) { return std::lround(contents.mean[c] * 255); };
    if (name.role != channel::kNormal && contents.isNormal && !contents.isPlain)
        return fmt::format(
            "{} is called {}, but looks like a normal map: its mean is {} {} {}. Check its role.",
            name.pattern, titleOfRole(name.role), code(0), code(1), code(2));
    if (name.role == channel::kNormal && !contents.isNormal && !contents.isPlain)
        return fmt::format("{} is called normal, but {}. Check its role.", name.pattern,
                           contents.isGrey ? "is grey, as a height map is" : "its colours are no directions");
    const bool isScalar = name.role != channel::kBaseColour && name.role != channel::kEmission &&
                          name.role != channel::kNormal && name.role != kSpecularRole && !name.isPacked();
    if (isScalar && contents.isPacked)
        return fmt::format(
            "{} is called {}, but its components are three pictures, as in a packed map. Only its "
            "luminance is read; choose the component in the tuner.",
            name.pattern, titleOfRole(name.role));
    return {};
}

}  // namespace kettle
