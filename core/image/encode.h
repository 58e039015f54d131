// A picture as the bytes of a file, in memory: what fails, fails before a file is touched.
#pragma once

#include <string>

#include "core/image/image.h"

namespace kettle {

/// The whole file. `pixels` as storageOf(format) says, one to four components. Uses all cores. `tag`: the
/// encoding that the file names itself: PNG names sRGB, linear Rec.709, Display P3 and ACEScg, EXR the
/// primaries of ACEScg, JPEG sRGB, TIFF none. `name` is for the sentences.
/// Errors: Write (what the format cannot hold), NoMemory, Library.
Result<std::string> encodeImage(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                                const std::string& tag, const std::string& name);

// One a format, in a file each; they throw what they cannot do.
/// 1 to 4 components of 8 or 16 bits. `tag`: the encoding that the file names.
std::string encodePng(const PixelBuffer& pixels, Compression compression, const std::string& tag);
std::string encodeTiff(const PixelBuffer& pixels, Compression compression);

}  // namespace kettle
