// What a picture file says of its own colours: a profile, primaries, a curve. For the readers of this folder.
#pragma once

#include <OpenImageIO/imageio.h>

#include <filesystem>
#include <memory>
#include <string>

#include "core/image/image.h"

namespace kettle {

struct FileColourTag {
    std::string encoding;  ///< a name that colour management knows, kOwnColours, or empty: nothing is said
    std::string told;      ///< for people
    std::shared_ptr<const FileColours> colours;  ///< null without a tag
};

/// PNG: cICP before iCCP before sRGB before gAMA and cHRM (PNG, third edition, 4.3). EXR: its chromaticities.
/// Others: their profile. Errors: none; what cannot be understood is as if it were not there, and `told` says
/// so. Throws std::bad_alloc.
FileColourTag colourTagOf(const std::filesystem::path& file, const OIIO::ImageSpec& spec);

}  // namespace kettle
