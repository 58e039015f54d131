// What the eye compares: the spread of values (histograms), the spread of hues, and tone ribbons.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/vec.h"
#include "core/document/project.h"

namespace kettle {

/// Histogram of values on 0..1 (what lies outside counts at the ends). Each component's bins sum to 1, or are
/// all 0 without any points. Scalars have one component, the others three. Colours count display-encoded, as
/// they look.
struct Spread {
    static constexpr std::size_t kBins = 64;
    std::vector<std::array<float, kBins>> components;
    /// The same of the luminance (of a scalar: its value), display-encoded for colours: what a ramp reads.
    std::array<float, kBins> brightness{};
    static constexpr std::size_t kHues = 72;
    /// Share of each 5 degrees of hue, weighted by saturation times value so that greys do not count; sums to
    /// at most 1.
    std::array<float, kHues> hues{};
    bool operator==(const Spread&) const = default;
};

/// The number below which `share` (0..1) of a spread's numbers lie, taken as even within a bin. 0 for an
/// empty spread.
float percentileOf(const std::array<float, Spread::kBins>& bins, float share);

/// `planes`: one for a scalar, three for others, each `count` floats as a program gives them (linear, raw, or
/// vectors).
Spread spreadOf(Kind kind, const std::array<const float*, 3>& planes, std::size_t count);

/// The painted line: `rows` display colours (0xAARRGGBB) from light (first) to dark, each the mean of its
/// share of the points sorted by luminance. Normals are sorted by how far they lean.
std::vector<std::uint32_t> toneRibbonOf(Kind kind, const std::array<const float*, 3>& planes,
                                        std::size_t count, int rows);

/// A value as it is shown: colours and greys encoded for the display, normals as 0..1 colours. 0xAARRGGBB.
std::uint32_t shownPixel(Kind kind, float r, float g, float b);

}  // namespace kettle
