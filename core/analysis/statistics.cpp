#include "core/analysis/statistics.h"

#include <algorithm>
#include <cmath>

#include "core/analysis/or_zero.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

/// Nearest rank: the smallest value that at least `percent` of the sorted values do not exceed.
template <class T>
T percentileOf(const std::vector<T>& sorted, double percent) {
    const auto rank = static_cast<std::size_t>(std::ceil(percent / 100 * static_cast<double>(sorted.size())));
    return sorted[std::clamp<std::size_t>(rank, 1, sorted.size()) - 1];
}

}  // namespace

ComponentFigures figuresOf(const float* values, std::size_t count) {
    ComponentFigures f;
    if (count == 0) return f;
    std::vector<float> sorted(count);
    double sum = 0, squares = 0;
    for (std::size_t i = 0; i < count; ++i) {
        sorted[i] = orZero(values[i]);
        sum += sorted[i];
    }
    const double mean = sum / static_cast<double>(count);
    for (const float x : sorted) squares += (x - mean) * (x - mean);
    std::sort(sorted.begin(), sorted.end());
    f.mean = static_cast<float>(mean);
    f.deviation = static_cast<float>(std::sqrt(squares / static_cast<double>(count)));
    f.minimum = sorted.front();
    f.maximum = sorted.back();
    for (std::size_t i = 0; i < f.percentiles.size(); ++i)
        f.percentiles[i] = percentileOf(sorted, ComponentFigures::kPercents[i]);
    return f;
}

Difference differenceOf(const std::array<const float*, 3>& a, const std::array<const float*, 3>& b,
                        std::size_t count, bool isScalar) {
    Difference d;
    if (count == 0) return d;
    std::vector<double> distances(count);
    const auto at = [&](const std::array<const float*, 3>& p, std::size_t i) {
        const float x = orZero(p[0][i]);
        if (isScalar) return Vec3{x, x, x};
        return Vec3{x, orZero(p[1][i]), orZero(p[2][i])};
    };
    const auto light = [&](Vec3 v) {
        if (!isScalar) return v;
        const float y = srgbToLinear(v.x);
        return Vec3{y, y, y};
    };
    for (std::size_t i = 0; i < count; ++i) {
        const Vec3 x = at(a, i), y = at(b, i);
        const double plain = std::max({std::fabs(x.x - y.x), std::fabs(x.y - y.y), std::fabs(x.z - y.z)});
        d.plainMean += plain;
        d.plainMaximum = std::max(d.plainMaximum, plain);
        if (plain > 0) d.changedShare += 1;
        distances[i] = plain > 0 ? ciede2000(cieLabOf(light(x)), cieLabOf(light(y))) : 0.0;
        d.mean += distances[i];
    }
    const auto n = static_cast<double>(count);
    d.mean /= n;
    d.plainMean /= n;
    d.changedShare /= n;
    std::sort(distances.begin(), distances.end());
    d.percentile95 = percentileOf(distances, 95);
    d.maximum = distances.back();
    return d;
}

Coverage coverageOf(const float* mask, std::size_t count) {
    Coverage c;
    if (count == 0) return c;
    for (std::size_t i = 0; i < count; ++i) {
        const float x = orZero(mask[i]);
        (x <= 0 ? c.black : x >= 1 ? c.white : c.between) += 1;
        c.mean += std::clamp(x, 0.0f, 1.0f);
    }
    const auto n = static_cast<double>(count);
    return {c.black / n, c.white / n, c.between / n, c.mean / n};
}

LabFigures oklabFigures(const std::array<const float*, 3>& linear, std::size_t count) {
    LabFigures f;
    if (count == 0) return f;
    double sum[3]{}, squares[3]{};
    std::vector<Vec3> labs(count);
    for (std::size_t i = 0; i < count; ++i) {
        labs[i] = oklabOf({orZero(linear[0][i]), orZero(linear[1][i]), orZero(linear[2][i])});
        sum[0] += labs[i].x, sum[1] += labs[i].y, sum[2] += labs[i].z;
    }
    const auto n = static_cast<double>(count);
    for (double& s : sum) s /= n;
    for (const Vec3& lab : labs) {
        squares[0] += (lab.x - sum[0]) * (lab.x - sum[0]);
        squares[1] += (lab.y - sum[1]) * (lab.y - sum[1]);
        squares[2] += (lab.z - sum[2]) * (lab.z - sum[2]);
    }
    f.mean = {static_cast<float>(sum[0]), static_cast<float>(sum[1]), static_cast<float>(sum[2])};
    f.deviation = {static_cast<float>(std::sqrt(squares[0] / n)),
                   static_cast<float>(std::sqrt(squares[1] / n)),
                   static_cast<float>(std::sqrt(squares[2] / n))};
    return f;
}

}  // namespace kettle
