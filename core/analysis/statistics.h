// Figures of a result: means, percentiles, the difference of two, the coverage of a mask.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

#include "core/base/vec.h"

namespace kettle {

/// Of one component over some points; what is not finite counts as 0. All 0 without points.
struct ComponentFigures {
    float mean = 0, deviation = 0, minimum = 0, maximum = 0;
    /// The values below which 1, 5, 25, 50, 75, 95 and 99 % of the points lie (nearest rank).
    std::array<float, 7> percentiles{};
    static constexpr std::array<int, 7> kPercents{1, 5, 25, 50, 75, 95, 99};
};
/// Of `count` numbers in any order, any range. Takes a copy of them to sort.
ComponentFigures figuresOf(const float* values, std::size_t count);

/// How far two results are apart, over the same points.
struct Difference {
    double mean = 0, percentile95 = 0, maximum = 0;  ///< CIEDE2000 of the colours as light
    double plainMean = 0, plainMaximum = 0;          ///< the largest component's |a - b|
    double changedShare = 0;                         ///< share of points where any component differs
};
/// Three planes each, scene-linear colours; for a scalar the same plane three times, which counts as a grey
/// of a display. `isScalar` says so.
Difference differenceOf(const std::array<const float*, 3>& a, const std::array<const float*, 3>& b,
                        std::size_t count, bool isScalar);

/// Shares of a mask's points: black (0 or less), white (1 or more), between; and its mean within 0..1.
struct Coverage {
    double black = 0, white = 0, between = 0, mean = 0;
};
/// `mask`: `count` numbers, 0 black and 1 white; what lies beyond counts as these. All 0 without points.
Coverage coverageOf(const float* mask, std::size_t count);

/// Mean and standard deviation of colours in OKLab, as Colour match measures them.
struct LabFigures {
    Vec3 mean, deviation;
};
/// `linear`: three planes of `count` scene-linear Rec.709 numbers. Lightness 0..1, a and b about -0.4..0.4;
/// all 0 without points.
LabFigures oklabFigures(const std::array<const float*, 3>& linear, std::size_t count);

}  // namespace kettle
