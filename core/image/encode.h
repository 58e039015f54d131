// A picture as the bytes of a file, in memory: what fails, fails before a file is touched.
#pragma once

#include <string>

#include "core/image/image.h"

namespace kettle {

/// The whole file. `pixels` as storageOf(format) says, one to four components. Uses all cores. `tag`: the
/// encoding that the file names itself; only sRGB is named. `name` is for the sentences.
/// Errors: Write (what the format cannot hold), NoMemory, Library.
Result<std::string> encodeImage(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                                const std::string& tag, const std::string& name);

// One a format, in a file each; they throw what they cannot do.
/// 1 to 4 components of 8 or 16 bits. `namesSrgb`: the file says that its colours are sRGB.
std::string encodePng(const PixelBuffer& pixels, Compression compression, bool namesSrgb);
std::string encodeTiff(const PixelBuffer& pixels, Compression compression, bool namesSrgb);

}  // namespace kettle
