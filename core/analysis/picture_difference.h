// How far two pictures lie apart to the eye, pixel by pixel: CIEDE2000 (Sharma, Wu, Dalal 2005) of what a
// display shows, as figures and as a heat picture.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

namespace kettle {

struct PictureDifference {
    std::vector<std::uint32_t> heat;  ///< 0xFFRRGGBB by heatColour(); as many as there are pixels
    double mean = 0, percentile95 = 0, largest = 0;
    std::size_t largestAt = 0;  ///< row * width + column
    std::size_t counted = 0;    ///< pixels that the figures are of
};

/// Display pixels 0xAARRGGBB (sRGB). `covered`: which pixels count for the figures, one each; null: all. The
/// figures are 0 if none does. 95 %: within 0.03. Threads: uses all.
PictureDifference differenceOfPictures(const std::uint32_t* a, const std::uint32_t* b, std::size_t count,
                                       const std::uint8_t* covered = nullptr);

/// The heat picture's scale ends here; what is farther apart has its last colour.
inline constexpr double kHeatEnd = 10;
/// Pale for no difference, then green, amber and at kHeatEnd dark red.
std::uint32_t heatColour(double difference);

/// CIEDE2000 of each pair of CIE Lab values (planes of `count`, a multiple of 16 floats may be read and
/// written). Accuracy against ciede2000(): 2e-3. Threads: safe.
void ciede2000Of(const float* const lab1[3], const float* const lab2[3], std::size_t count, float* out);

}  // namespace kettle
