// What a picture file says of its own colours: a profile, primaries, a curve. For the readers of this folder.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/image/image.h"
#include "core/image/png_head.h"

namespace kettle {

struct FileColourTag {
    std::string encoding;  ///< a name that colour management knows, kOwnColours, or empty: nothing is said
    std::string told;      ///< for people
    std::shared_ptr<const FileColours> colours;  ///< null without a tag
};

// Errors: none; what cannot be understood is as if it were not there, and `told` says so. Throw
// std::bad_alloc.

/// PNG: cICP before iCCP before sRGB before gAMA and cHRM (PNG, third edition, 4.3). `profile`: iCCP's, which
/// a plain one does not have.
FileColourTag colourTagOf(const PngHead& head, const std::vector<std::uint8_t>& profile = {});
/// An ICC profile.
FileColourTag colourTagOfProfile(const std::vector<std::uint8_t>& profile);
/// EXR's: x and y of red, green, blue and white, of linear light.
FileColourTag colourTagOfChromaticities(const std::array<double, 8>& xy);

}  // namespace kettle
