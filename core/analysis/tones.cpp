#include "core/analysis/tones.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

float orZero(float x) {
    return std::isfinite(x) ? x : 0.0f;
}

Vec3 shownValue(Kind kind, float r, float g, float b) {
    if (kind == Kind::Normal) return {r * 0.5f + 0.5f, g * 0.5f + 0.5f, b * 0.5f + 0.5f};
    if (kind == Kind::Scalar) return {r, r, r};
    return {linearToSrgb(r), linearToSrgb(g), linearToSrgb(b)};
}

std::uint32_t pack(Vec3 v) {
    return 0xFF000000u | static_cast<std::uint32_t>(toByte(v.x)) << 16 |
           static_cast<std::uint32_t>(toByte(v.y)) << 8 | toByte(v.z);
}

}  // namespace

std::uint32_t shownPixel(Kind kind, float r, float g, float b) {
    return pack(shownValue(kind, r, g, b));
}

Spread spreadOf(Kind kind, const std::array<const float*, 3>& planes, std::size_t count) {
    Spread spread;
    spread.components.resize(kind == Kind::Scalar ? 1 : 3);
    for (auto& bins : spread.components) bins.fill(0);
    if (count == 0) return spread;
    const float share = 1.0f / static_cast<float>(count);
    const auto binOf = [](float x) {
        return static_cast<std::size_t>(std::clamp(orZero(x), 0.0f, 1.0f) * (Spread::kBins - 1) + 0.5f);
    };
    for (std::size_t i = 0; i < count; ++i) {
        const float r = orZero(planes[0][i]);
        if (kind == Kind::Scalar) {
            spread.components[0][binOf(r)] += share;
            spread.brightness[binOf(r)] += share;
            continue;
        }
        const float g = orZero(planes[1][i]), b = orZero(planes[2][i]);
        const Vec3 shown = shownValue(kind, r, g, b);
        spread.components[0][binOf(shown.x)] += share;
        spread.components[1][binOf(shown.y)] += share;
        spread.components[2][binOf(shown.z)] += share;
        if (kind != Kind::Colour) continue;
        spread.brightness[binOf(linearToSrgb(luminance({r, g, b})))] += share;
        const Hsv hsv = hsvOf({r, g, b});
        const auto hue = static_cast<std::size_t>(hsv.hue / 5.0f) % Spread::kHues;
        spread.hues[hue] += share * hsv.saturation * std::min(hsv.value, 1.0f);
    }
    return spread;
}

std::vector<std::uint32_t> toneRibbonOf(Kind kind, const std::array<const float*, 3>& planes,
                                        std::size_t count, int rows) {
    std::vector<std::uint32_t> ribbon(static_cast<std::size_t>(rows), 0xFF808080u);
    if (count == 0) return ribbon;
    const auto at = [&](std::size_t i) {
        const float r = orZero(planes[0][i]);
        return kind == Kind::Scalar ? Vec3{r, r, r} : Vec3{r, orZero(planes[1][i]), orZero(planes[2][i])};
    };
    std::vector<float> key(count);
    for (std::size_t i = 0; i < count; ++i) key[i] = kind == Kind::Normal ? at(i).z : luminance(at(i));
    std::vector<std::uint32_t> order(count);
    std::iota(order.begin(), order.end(), 0u);
    // Ties by place in the list, so that the ribbon is the same on every run.
    std::sort(order.begin(), order.end(),
              [&](std::uint32_t a, std::uint32_t b) { return key[a] != key[b] ? key[a] > key[b] : a < b; });
    for (std::size_t row = 0; row < ribbon.size(); ++row) {
        const std::size_t begin = row * count / ribbon.size(),
                          end = std::max(begin + 1, (row + 1) * count / ribbon.size());
        Vec3 sum;
        for (std::size_t i = begin; i < end; ++i) sum += at(order[i]);
        sum = sum * (1.0f / static_cast<float>(end - begin));
        ribbon[row] = shownPixel(kind, sum.x, sum.y, sum.z);
    }
    return ribbon;
}

}  // namespace kettle
