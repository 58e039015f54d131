#include "demo/generate/noise.h"

#include <cmath>

#include "core/base/hash.h"
#include "core/base/vec.h"

namespace kettle::demo {
namespace {

std::uint64_t at(int x, int y, int period, unsigned seed) {
    const int i = ((x % period) + period) % period, j = ((y % period) + period) % period;
    return combine(combine(seed, static_cast<std::uint64_t>(i)), static_cast<std::uint64_t>(j));
}

float gradient(std::uint64_t h, float dx, float dy) {
    const float angle = unitFloat(h) * 6.2831853f;
    return std::cos(angle) * dx + std::sin(angle) * dy;
}

}  // namespace

float noise(float x, float y, int period, unsigned seed) {
    const int i = static_cast<int>(std::floor(x)), j = static_cast<int>(std::floor(y));
    const float fx = x - static_cast<float>(i), fy = y - static_cast<float>(j);
    const auto fade = [](float t) { return t * t * t * (t * (t * 6 - 15) + 10); };
    const float u = fade(fx), v = fade(fy);
    const float a =
        mix(gradient(at(i, j, period, seed), fx, fy), gradient(at(i + 1, j, period, seed), fx - 1, fy), u);
    const float b = mix(gradient(at(i, j + 1, period, seed), fx, fy - 1),
                        gradient(at(i + 1, j + 1, period, seed), fx - 1, fy - 1), u);
    return mix(a, b, v) * 1.41f;
}

float fractal(float u, float v, int cells, int octaves, unsigned seed) {
    float sum = 0, height = 0.5f;
    for (int o = 0; o < octaves; ++o, cells *= 2, height *= 0.5f)
        sum += height * noise(u * static_cast<float>(cells), v * static_cast<float>(cells), cells,
                              seed + static_cast<unsigned>(o) * 31u);
    return sum;
}

Cells cellular(float u, float v, int cells, unsigned seed) {
    const float x = u * static_cast<float>(cells), y = v * static_cast<float>(cells);
    const int i = static_cast<int>(std::floor(x)), j = static_cast<int>(std::floor(y));
    Cells best{9, 9, 0};
    for (int b = -1; b <= 1; ++b)
        for (int a = -1; a <= 1; ++a) {
            const std::uint64_t h = at(i + a, j + b, cells, seed);
            const float px = static_cast<float>(i + a) + unitFloat(h),
                        py = static_cast<float>(j + b) + unitFloat(mixBits(h));
            const float d = std::hypot(px - x, py - y);
            if (d < best.nearest)
                best = {d, best.nearest, unitFloat(mixBits(h + 7))};
            else if (d < best.second)
                best.second = d;
        }
    return best;
}

}  // namespace kettle::demo
