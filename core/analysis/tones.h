// What the eye compares: the spread of values (histograms), the spread of hues, and tone ribbons.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/vec.h"
#include "core/document/project.h"
#include "core/steps/reading.h"

namespace kettle {

/// Histogram of values on 0..1 (values outside count at the ends). Each component's bins sum to 1, or are all
/// 0 without any points. Scalars have one component, the others three. Colours count in the reading's
/// numbers: display-encoded where nothing else is said.
struct Spread {
    static constexpr std::size_t kBins = 64;
    std::vector<std::array<float, kBins>> components;
    /// The same of the component that is read: the luminance, or a scalar's value.
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

/// `planes`: one for a scalar, three for others, each `count` floats as a program gives them (linear Rec.709,
/// raw, or vectors). `alpha`: `count` floats for a reading of alpha; null: 1 everywhere.
Spread spreadOf(Kind kind, const std::array<const float*, 3>& planes, std::size_t count,
                const Reading& reading = {}, const float* alpha = nullptr);
/// The three numbers that a reading counts of a linear Rec.709 colour; hues as 0..1 of a turn.
Vec3 numbersRead(Vec3 linear, const Reading& reading);
/// The number that a reading takes of one value (as the planes above); a scalar's own value, 0 of a normal.
float numberRead(Kind kind, Vec3 value, const Reading& reading, float alpha = 1);

/// The painted line: `rows` display colours (0xAARRGGBB) from light (first) to dark, each the mean of its
/// share of the points sorted by luminance. Normals are sorted by how far they lean.
std::vector<std::uint32_t> toneRibbonOf(Kind kind, const std::array<const float*, 3>& planes,
                                        std::size_t count, int rows);

/// A value as it is shown: colours and greys encoded for the display, normals as 0..1 colours. 0xAARRGGBB.
std::uint32_t shownPixel(Kind kind, float r, float g, float b);

}  // namespace kettle
