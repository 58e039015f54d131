#include "core/image/spread_tables.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/image/map_image.h"
#include "core/image/table_kernels.h"

namespace kettle {
namespace {

/// Deviations of the normal spread for a share below. Source: P. J. Acklam 2003, relative error 1.2e-9.
double deviationsOf(double p) {
    constexpr double a[] = {-3.969683028665376e+01, 2.209460984245205e+02,  -2.759285104469687e+02,
                            1.383577518672690e+02,  -3.066479806614716e+01, 2.506628277459239e+00};
    constexpr double b[] = {-5.447609879822406e+01, 1.615858368580409e+02, -1.556989798598866e+02,
                            6.680131188771972e+01, -1.328068155288572e+01};
    constexpr double c[] = {-7.784894002430293e-03, -3.223964580411365e-01, -2.400758277161838e+00,
                            -2.549732539343734e+00, 4.374664141464968e+00,  2.938163982698783e+00};
    constexpr double d[] = {7.784695709041462e-03, 3.224671290700398e-01, 2.445134137142996e+00,
                            3.754408661907416e+00};
    const auto tail = [&](double q) {
        return (((((c[0] * q + c[1]) * q + c[2]) * q + c[3]) * q + c[4]) * q + c[5]) /
               ((((d[0] * q + d[1]) * q + d[2]) * q + d[3]) * q + 1);
    };
    if (p < 0.02425) return tail(std::sqrt(-2 * std::log(p)));
    if (p > 1 - 0.02425) return -tail(std::sqrt(-2 * std::log(1 - p)));
    const double q = p - 0.5, r = q * q;
    return (((((a[0] * r + a[1]) * r + a[2]) * r + a[3]) * r + a[4]) * r + a[5]) * q /
           (((((b[0] * r + b[1]) * r + b[2]) * r + b[3]) * r + b[4]) * r + 1);
}

}  // namespace

SpreadTables::SpreadTables(const MapImage& map) {
    constexpr std::size_t kSide = 512;
    std::vector<float> u(kSide), v(kSide), footprint(kSide, 0.0f);
    std::array<std::vector<float>, 4> all;
    for (auto& numbers : all) numbers.resize(kSide * kSide);
    const std::vector<int> tiles = map.tiles();
    const int first = tiles.empty() ? 1001 : tiles.front();
    const auto left = static_cast<float>((first - 1001) % 10),
               bottom = static_cast<float>((first - 1001) / 10);
    // At the middles of texels, where numbers are as the file has them.
    const auto place = [](std::size_t i, int size) {
        const double texel = std::floor((static_cast<double>(i) + 0.5) / kSide * size);
        return static_cast<float>((texel + 0.5) / size);
    };
    for (std::size_t row = 0; row < kSide; ++row) {
        for (std::size_t i = 0; i < kSide; ++i)
            u[i] = left + place(i, map.width()), v[i] = bottom + place(row, map.height());
        float* const out[4]{&all[0][row * kSide], &all[1][row * kSide], &all[2][row * kSide],
                            &all[3][row * kSide]};
        map.sample({u.data(), v.data(), footprint.data(), kSide}, 15, out);
    }
    for (std::size_t c = 0; c < 4; ++c) {
        std::sort(all[c].begin(), all[c].end());
        fill(m_components[c], all[c]);
    }
}

void SpreadTables::toNormal(std::size_t component, float* numbers, std::size_t count) const {
    const Component& c = m_components[component];
    throughTable(c.there.data(), kSteps, c.low, c.scale, numbers, count);
}

void SpreadTables::fromNormal(std::size_t component, float* numbers, std::size_t count) const {
    throughTable(m_components[component].back.data(), kSteps, 0, kSteps, numbers, count);
}

void SpreadTables::fill(Component& component, const std::vector<float>& sorted) {
    const auto count = static_cast<double>(sorted.size());
    component.low = sorted.front();
    const double range = static_cast<double>(sorted.back() - sorted.front());
    component.scale = range > 0 ? static_cast<float>(kSteps / range) : 0.0f;
    for (std::size_t i = 0; i <= kSteps; ++i) {
        const auto x =
            static_cast<float>(static_cast<double>(component.low) + range * static_cast<double>(i) / kSteps);
        // Of equal numbers, the middle of their places; no number is rarer than half a place.
        const auto low = std::lower_bound(sorted.begin(), sorted.end(), x) - sorted.begin(),
                   high = std::upper_bound(sorted.begin(), sorted.end(), x) - sorted.begin();
        const double share =
            std::clamp(static_cast<double>(low + high) / 2 / count, 0.5 / count, 1 - 0.5 / count);
        component.there[i] = static_cast<float>(0.5 + deviationsOf(share) / 6);
        const double deviations = (static_cast<double>(i) / kSteps - 0.5) * 6;
        const double below = 0.5 * std::erfc(-deviations / std::numbers::sqrt2);
        const auto place = static_cast<std::size_t>(std::clamp(below * count, 0.0, count - 1));
        component.back[i] = sorted[place];
    }
    component.there[kSteps + 1] = component.there[kSteps];
    component.back[kSteps + 1] = component.back[kSteps];
}

}  // namespace kettle
