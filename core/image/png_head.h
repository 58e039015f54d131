// What a PNG file says before its pixels. For the readers of this folder.
#pragma once

#include <array>
#include <cstdint>
#include <filesystem>
#include <optional>

#include "core/image/image.h"

namespace kettle {

/// Source: ISO/IEC 15948 (PNG, third edition), 11.2 and 11.3.
struct PngHead {
    int width = 0, height = 0;
    int channels = 0;  ///< 1 grey, 2 grey and alpha, 3, 4 with alpha; 0: a palette, or what makes no sense
    Depth depth = Depth::U8;
    /// Eight or sixteen bits a component, rows from the top, no transparent colour, no profile and nothing
    /// that turns it: what its chunks below say is all.
    bool isPlain = false;
    bool srgb = false;
    std::optional<double> gamma;                       ///< as stored: the exponent of encoding
    std::optional<std::array<double, 8>> primaries;    ///< x and y of red, green, blue and white
    std::optional<std::array<std::uint8_t, 4>> codes;  ///< cICP: primaries, transfer, matrix, full range
};

/// Nothing for a file that is no PNG, or ends before its pixels. Reads a few hundred bytes.
std::optional<PngHead> pngHeadOf(const std::filesystem::path& file);

}  // namespace kettle
